/** The blank in hand: what it asks for, who signs or answers, and what can be done with it. */
import { useChoices } from '../../api/choices';
import type { Choices, Placed } from '../../api/client';
import { Button } from '../../primitives/button';
import type { Props } from './paper-lens';
import { Labelled, plain } from './paper-words';
import { instead } from './placing';

type InHand = Pick<Props, 'catalog' | 'placing'> & { p: Placed };

export function PlacedInHand({ p, catalog, placing, paper, faults }: Props & { p: Placed }) {
  const wrong = faults.filter((f) => f.place === p.id);
  return (
    <div className="space-y-3 px-4 py-3">
      <div className="flex items-start gap-2">
        <h2 className="min-w-0 flex-1 font-serif text-base font-semibold leading-tight">{p.label || p.id}</h2>
        <Button look="words" onClick={() => placing.show(null)} className="py-0!">
          All blanks
        </Button>
      </div>
      {wrong.map((f, n) => (
        <p key={n} className="border border-wax bg-wax-wash px-2 py-1 text-xs text-wax">
          {f.message} {f.mend}
        </p>
      ))}
      {p.shape === 'sign' ? (
        <WhoSigns p={p} placing={placing} />
      ) : (
        <>
          <AsksFor p={p} catalog={catalog} placing={placing} />
          {!p.fact && p.shape === 'text' && <Takes p={p} placing={placing} />}
          {p.shape === 'box' && <StandsFor p={p} catalog={catalog} placing={placing} />}
          <HowItIs p={p} placing={placing} />
        </>
      )}
      <div className="flex flex-wrap gap-1.5 border-t border-hair pt-3">
        <Button look="act" onClick={() => placing.confirm(p)}>
          {p.confirmed ? 'Next' : 'Confirm'}
        </Button>
        <Button title="Ctrl D" onClick={() => placing.copy(p)}>
          Copy
        </Button>
        {paper.pages > 1 && <Button onClick={() => placing.onEveryPage(p)}>On every page</Button>}
        <Button look="warn" onClick={() => placing.remove(p)}>
          Remove
        </Button>
      </div>
    </div>
  );
}

function WhoSigns({ p, placing: { change } }: Omit<InHand, 'catalog'>) {
  const { signer_roles, sign_kinds } = useChoices();
  return (
    <div className="grid grid-cols-2 gap-2">
      <Labelled label="Who signs">
        <select className="field w-full" value={p.role} onChange={(e) => change(p.id, { role: e.target.value, confirmed: true })}>
          <option value="">Choose</option>
          <Roles of={signer_roles} />
        </select>
      </Labelled>
      <Labelled label="Kind">
        <select className="field w-full" value={p.sign} onChange={(e) => change(p.id, { sign: e.target.value })}>
          {sign_kinds.map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
      </Labelled>
    </div>
  );
}

const Roles = ({ of }: { of: Choices['signer_roles'] }) =>
  of.map(({ role, label }) => (
    <option key={role} value={role}>
      {label}
    </option>
  ));

/** The fact that it is bound to, the one suggested, and what else it may be. */
function AsksFor({ p, catalog, placing: { change, confirm } }: InHand) {
  const nameOf = (key: string) => catalog.find((f) => f.key === key)?.label ?? key;
  const say = (text: string) => {
    const found = catalog.find((f) => f.label === text || f.key === text);
    const own = { kind: p.shape === 'text' ? 'text' : '', group: p.shape === 'box' ? p.group || p.id : '' };
    if (found) change(p.id, { fact: found.key, kind: '', group: '', confirmed: true });
    else if (!text) change(p.id, { fact: '', ...own, confirmed: true });
  };
  return (
    <>
      <Labelled label="Asks for">
        <input
          className="field w-full"
          list="facts-of-the-catalog"
          key={`${p.fact} ${catalog.length}`}
          defaultValue={p.fact ? nameOf(p.fact) : ''}
          placeholder="Only this form’s own"
          onChange={(e) => say(e.target.value)}
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
    </>
  );
}

function Takes({ p, placing: { change } }: Omit<InHand, 'catalog'>) {
  const { value_kinds } = useChoices();
  return (
    <Labelled label="Takes">
      <select className="field w-full" value={p.kind || 'text'} onChange={(e) => change(p.id, { kind: e.target.value })}>
        {value_kinds.map((k) => (
          <option key={k} value={k}>
            {plain(k)}
          </option>
        ))}
      </select>
    </Labelled>
  );
}

function StandsFor({ p, catalog, placing: { change } }: InHand) {
  const options = catalog.find((f) => f.key === p.fact)?.options ?? [];
  const say = (value: string) => change(p.id, { value });
  return (
    <div className="grid grid-cols-2 gap-2">
      {!p.fact && (
        <Labelled label="Group">
          <input className="field w-full" value={p.group} onChange={(e) => change(p.id, { group: e.target.value })} />
        </Labelled>
      )}
      <Labelled label="Stands for">
        {options.length > 0 ? (
          <select className="field w-full" value={p.value} onChange={(e) => say(e.target.value)}>
            <option value="">Choose</option>
            {options.map((o) => (
              <option key={o}>{o}</option>
            ))}
          </select>
        ) : (
          <input className="field w-full" value={p.value} placeholder="Yes, when marked" onChange={(e) => say(e.target.value)} />
        )}
      </Labelled>
    </div>
  );
}

/** What it is called, how many lines it has, who answers it, and whether it has to be answered. */
function HowItIs({ p, placing: { change } }: Omit<InHand, 'catalog'>) {
  const { signer_roles } = useChoices();
  const setLines = (text: string) => change(p.id, { lines: Math.max(1, Math.min(60, Number(text) || 1)) });
  return (
    <>
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
            onChange={(e) => setLines(e.target.value)}
          />
        </Labelled>
        <Labelled label="Only answered by">
          <select className="field w-full" value={p.who} onChange={(e) => change(p.id, { who: e.target.value })}>
            <option value="">the agent too</option>
            <Roles of={signer_roles.filter((r) => r.is_party)} />
          </select>
        </Labelled>
      </div>
      <label className="flex items-center gap-1.5">
        <input type="checkbox" checked={p.required} onChange={(e) => change(p.id, { required: e.target.checked })} /> Required
      </label>
    </>
  );
}
