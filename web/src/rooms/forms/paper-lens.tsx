/** Beside the pages of a paper: what it is called, what is still to be confirmed, and the blank in hand. */
import type { ReactNode } from 'react';
import type { CatalogFact, PaperInWork, Placed } from '../../api/client';
import { Button } from '../../primitives/button';
import { Mark } from '../../primitives/mark';
import { some } from '../../primitives/words';
import { instead } from './placing';

const SIDES = ['buying', 'listing', 'leasing out', 'renting'] as const;
const KINDS = [
  'text',
  'long_text',
  'name',
  'money',
  'percent',
  'integer',
  'number',
  'date',
  'time',
  'year',
  'phone',
  'email',
  'address',
  'area',
];
const ROLES = [
  'client.1',
  'client.2',
  'buyer.1',
  'buyer.2',
  'seller.1',
  'seller.2',
  'landlord.1',
  'landlord.2',
  'tenant.1',
  'tenant.2',
  'own_agent',
  'buyer_agent',
  'listing_agent',
  'own_broker',
  'buyer_broker',
  'listing_broker',
];
const plain = (text: string) => text.replace(/[._]/g, ' ');

interface Props {
  paper: PaperInWork;
  said: PaperInWork['paper'];
  setSaid: (what: Partial<PaperInWork['paper']>) => void;
  placed: Placed[];
  faults: PaperInWork['faults'];
  chosen: Placed | null;
  catalog: CatalogFact[];
  choose: (id: string | null) => void;
  change: (id: string, what: Partial<Placed>) => void;
  confirm: (p: Placed, what?: Partial<Placed>) => void;
  confirmAll: (ids: string[]) => void;
  copy: (p: Placed) => void;
  onEveryPage: (p: Placed) => void;
  remove: (p: Placed) => void;
}

export function PaperLens(props: Props) {
  const { paper, said, setSaid, chosen } = props;
  return (
    <aside aria-label="Lens" className="flex min-h-0 flex-col overflow-auto border-l border-blotter-3 bg-sheet text-sm">
      <div className="space-y-2 border-b border-hair px-4 py-3">
        <div className="grid grid-cols-[84px_1fr] gap-2">
          <Labelled label="Number">
            <input
              className="field w-full"
              value={said.number}
              onChange={(e) => setSaid({ number: e.target.value })}
              placeholder="951"
            />
          </Labelled>
          <Labelled label="Title">
            <input className="field w-full" value={said.title} onChange={(e) => setSaid({ title: e.target.value })} />
          </Labelled>
        </div>
        <Labelled label="What it is for">
          <input className="field w-full" value={said.purpose ?? ''} onChange={(e) => setSaid({ purpose: e.target.value })} />
        </Labelled>
        <fieldset className="flex flex-wrap gap-x-3 gap-y-1">
          <legend className="sr-only">Used when</legend>
          {SIDES.map((side) => (
            <label key={side} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={said.sides?.includes(side) ?? true}
                onChange={(e) =>
                  setSaid({
                    sides: SIDES.filter((s) => (s === side ? e.target.checked : (said.sides ?? [...SIDES]).includes(s))),
                  })
                }
              />
              {side}
            </label>
          ))}
        </fieldset>
        {paper.removed.length > 0 && <p className="text-xs text-ochre">Left out for safety: {paper.removed.join(', ')}.</p>}
        {paper.told && (
          <p className="text-xs text-ink-2">
            Against the edition before: {paper.told.new.length} new, {paper.told.gone.length} gone, {paper.told.moved.length}{' '}
            moved.
          </p>
        )}
      </div>
      {chosen ? <InHand key={chosen.id} {...props} p={chosen} /> : <Groups {...props} />}
    </aside>
  );
}

const Labelled = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="block">
    <span className="mb-0.5 block text-xs text-ink-2">{label}</span>
    {children}
  </label>
);

function InHand({ p, catalog, change, confirm, copy, onEveryPage, remove, choose, paper, faults }: Props & { p: Placed }) {
  const fact = catalog.find((f) => f.key === p.fact);
  const nameOf = (key: string) => catalog.find((f) => f.key === key)?.label ?? key;
  const wrong = faults.filter((f) => f.place === p.id);
  return (
    <div className="space-y-3 px-4 py-3">
      <div className="flex items-start gap-2">
        <h2 className="min-w-0 flex-1 font-serif text-base font-semibold leading-tight">{p.label || p.id}</h2>
        <Button look="words" onClick={() => choose(null)} className="py-0!">
          All blanks
        </Button>
      </div>
      {wrong.map((f, n) => (
        <p key={n} className="border border-wax bg-wax-wash px-2 py-1 text-xs text-wax">
          {f.message} {f.mend}
        </p>
      ))}
      {p.shape === 'sign' ? (
        <div className="grid grid-cols-2 gap-2">
          <Labelled label="Who signs">
            <select
              className="field w-full"
              value={p.role}
              onChange={(e) => change(p.id, { role: e.target.value, confirmed: true })}
            >
              <option value="">Choose</option>
              {ROLES.map((r) => (
                <option key={r} value={r}>
                  {plain(r)}
                </option>
              ))}
            </select>
          </Labelled>
          <Labelled label="What">
            <select className="field w-full" value={p.sign} onChange={(e) => change(p.id, { sign: e.target.value })}>
              {['signature', 'initials', 'date'].map((s) => (
                <option key={s}>{s}</option>
              ))}
            </select>
          </Labelled>
        </div>
      ) : (
        <>
          <Labelled label="Asks for">
            <input
              className="field w-full"
              list="facts-of-the-catalog"
              key={`${p.fact} ${catalog.length}`}
              defaultValue={p.fact ? nameOf(p.fact) : ''}
              placeholder="Only this form’s own"
              onChange={(e) => {
                const found = catalog.find((f) => f.label === e.target.value || f.key === e.target.value);
                if (found) change(p.id, { fact: found.key, kind: '', group: '', confirmed: true });
                else if (!e.target.value)
                  change(p.id, {
                    fact: '',
                    kind: p.shape === 'text' ? 'text' : '',
                    group: p.shape === 'box' ? p.group || p.id : '',
                    confirmed: true,
                  });
              }}
            />
          </Labelled>
          <datalist id="facts-of-the-catalog">
            {catalog.map((f) => (
              <option key={f.key} value={f.label}>
                {f.group}
              </option>
            ))}
          </datalist>
          {!p.confirmed && p.fact && (
            <p className="text-xs text-ochre">Suggested, {Math.round(p.confidence * 100)} % sure. Enter confirms it.</p>
          )}
          {p.others.length > 0 && (
            <ol className="space-y-1">
              {p.others.slice(0, 4).map((key, n) => (
                <li key={key}>
                  <Button className="w-full justify-start! px-2! py-1!" onClick={() => confirm(p, instead(p, key))}>
                    <kbd className="font-sans text-xs text-ink-3">{n + 1}</kbd> {nameOf(key)}
                  </Button>
                </li>
              ))}
            </ol>
          )}
          {!p.fact && p.shape === 'text' && (
            <Labelled label="Takes">
              <select className="field w-full" value={p.kind || 'text'} onChange={(e) => change(p.id, { kind: e.target.value })}>
                {KINDS.map((k) => (
                  <option key={k} value={k}>
                    {plain(k)}
                  </option>
                ))}
              </select>
            </Labelled>
          )}
          {p.shape === 'box' && (
            <div className="grid grid-cols-2 gap-2">
              {!p.fact && (
                <Labelled label="Group">
                  <input className="field w-full" value={p.group} onChange={(e) => change(p.id, { group: e.target.value })} />
                </Labelled>
              )}
              <Labelled label="Stands for">
                {fact && fact.options.length > 0 ? (
                  <select className="field w-full" value={p.value} onChange={(e) => change(p.id, { value: e.target.value })}>
                    <option value="">Choose</option>
                    {fact.options.map((o) => (
                      <option key={o}>{o}</option>
                    ))}
                  </select>
                ) : (
                  <input
                    className="field w-full"
                    value={p.value}
                    placeholder="Yes, when marked"
                    onChange={(e) => change(p.id, { value: e.target.value })}
                  />
                )}
              </Labelled>
            </div>
          )}
          <Labelled label="Called">
            <input className="field w-full" value={p.label} onChange={(e) => change(p.id, { label: e.target.value })} />
          </Labelled>
          <div className="grid grid-cols-2 gap-2">
            <Labelled label="Lines">
              <input
                className="field w-full"
                type="number"
                min={1}
                max={60}
                disabled={p.shape !== 'text'}
                value={p.lines}
                onChange={(e) => change(p.id, { lines: Math.max(1, Math.min(60, Number(e.target.value) || 1)) })}
              />
            </Labelled>
            <Labelled label="Only answered by">
              <select className="field w-full" value={p.who} onChange={(e) => change(p.id, { who: e.target.value })}>
                <option value="">the agent too</option>
                {ROLES.slice(0, 10).map((r) => (
                  <option key={r} value={r}>
                    {plain(r)}
                  </option>
                ))}
              </select>
            </Labelled>
          </div>
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={p.required} onChange={(e) => change(p.id, { required: e.target.checked })} /> Has to
            be answered
          </label>
        </>
      )}
      <div className="flex flex-wrap gap-1.5 border-t border-hair pt-3">
        <Button look="act" onClick={() => confirm(p)}>
          {p.confirmed ? 'Next' : 'Confirm'}
        </Button>
        <Button title="Ctrl D" onClick={() => copy(p)}>
          Copy
        </Button>
        {paper.pages > 1 && <Button onClick={() => onEveryPage(p)}>On every page</Button>}
        <Button look="warn" onClick={() => remove(p)}>
          Remove
        </Button>
      </div>
    </div>
  );
}

/** Blanks by what they ask for; a whole group is confirmed at once. */
function Groups({ placed, catalog, confirmAll, choose, faults }: Props) {
  const groupOf = (p: Placed) =>
    p.shape === 'sign'
      ? 'Sign spots'
      : p.fact
        ? (catalog.find((f) => f.key === p.fact)?.group ?? 'Facts')
        : p.shape === 'box'
          ? 'Boxes of its own'
          : 'Only this form’s own';
  const groups = new Map<string, Placed[]>();
  for (const p of placed) groups.set(groupOf(p), [...(groups.get(groupOf(p)) ?? []), p]);
  const nameOf = (p: Placed) =>
    p.shape === 'sign'
      ? `${plain(p.role) || 'nobody yet'}, ${p.sign}`
      : p.fact
        ? (catalog.find((f) => f.key === p.fact)?.label ?? p.fact)
        : p.label || p.id;
  return (
    <div className="space-y-4 px-4 py-3">
      {placed.length === 0 && (
        <p className="text-ink-2">
          This paper has no fields. Choose Text, Box or Sign spot above and draw where something belongs; what is placed once
          serves everyone.
        </p>
      )}
      {faults
        .filter((f) => !placed.some((p) => p.id === f.place))
        .map((f, n) => (
          <p key={n} className="text-xs text-ink-2">
            {f.message} {f.mend}
          </p>
        ))}
      {[...groups].map(([name, blanks]) => {
        const left = blanks.filter((p) => !p.confirmed);
        return (
          <section key={name}>
            <h2 className="mb-1 flex items-center gap-2 text-sm font-semibold">
              {name}
              {left.length > 0 && (
                <Button className="ml-auto px-2! py-0.5! text-xs!" onClick={() => confirmAll(left.map((p) => p.id))}>
                  Confirm {some(left.length, 'blank')}
                </Button>
              )}
            </h2>
            <ul className="border border-hair bg-paper">
              {blanks.map((p) => (
                <li key={p.id} className="border-b border-hair last:border-0">
                  <button
                    type="button"
                    onClick={() => choose(p.id)}
                    className="flex w-full items-baseline gap-2 px-2 py-1 text-left hover:bg-sheet"
                  >
                    <span className="min-w-0 flex-1">
                      {nameOf(p)}
                      {p.fact && p.label && <span className="block truncate text-xs text-ink-2">{p.label}</span>}
                    </span>
                    {!p.confirmed && (
                      <span className="whitespace-nowrap text-xs text-ochre">
                        <Mark name="open" quiet size={9} /> {p.confidence ? `${Math.round(p.confidence * 100)} %` : 'look'}
                      </span>
                    )}
                  </button>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}
