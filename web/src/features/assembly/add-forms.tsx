/** Forms by number, title, purpose or words of their text, and templates, added to the package at hand. */
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useSide } from '../../api/choices';
import type { FormChoice, PackageOp } from '../../api/client';
import { formsQuery, templatesQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { useEarlyEnter } from '../../primitives/early-enter';
import { sayProblem } from '../../primitives/notices';
import { some } from '../../primitives/format';
import { useWorkspace } from '../workspace/workspace';
import type { Act } from '../workspace/use-pack';

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  act: Act;
  /** What is being done. */
  doing: PackageOp[];
}

/** The numbers typed one after the other, "101 301, 503 510"; none where anything else is typed. */
const numbersIn = (text: string) => (/^\d+([\s,;]+\d+)+[\s,;]*$/.test(text) ? text.split(/[\s,;]+/).filter(Boolean) : []);

/** Forms that are usual for this side and kind of property first; what was looked for stays in the order that it was found in. */
function useUsualFirst(found: FormChoice[]): FormChoice[] {
  const { held, facts } = useWorkspace();
  const kind = facts.get('property.category')?.shown ?? '';
  const isUsual = (f: FormChoice) =>
    f.sides.includes(held.head.side) && (!kind || f.kinds.length === 0 || f.kinds.includes(kind));
  return [...found].sort((a, b) => Number(isUsual(b)) - Number(isUsual(a)));
}

export function AddForms({ open, onOpenChange, act, doing }: Props) {
  const [find, setFind] = useState('');
  const sought = useDeferredValue(find.trim());
  const { data, isPlaceholderData } = useQuery({ ...formsQuery({ find: sought, side: '', kind: '' }), enabled: open });
  const found = useUsualFirst(data ?? []);
  const isFresh = data !== undefined && !isPlaceholderData && sought === find.trim();
  const numbers = numbersIn(find.trim());
  const isAdding = (f: FormChoice) => doing.some((op) => op.edition === f.edition);
  const add = (f: FormChoice) => !isAdding(f) && act({ op: 'add', number: f.number, edition: f.edition });
  const addAll = () => {
    act({ op: 'add', numbers }, () => setFind((now) => (now === find ? '' : now)));
  };
  /** Enter adds the numbers that are typed, or the one form that was found. */
  const { enter } = useEarlyEnter(find, numbers.length > 0 || isFresh, () => {
    const [only, another] = found;
    const isNamed = only?.number === find.trim();
    if (numbers.length) addAll();
    else if (only && (isNamed || (!another && sought))) add(only);
  });
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Add to the package" width={620}>
      <input
        className="field mb-3 w-full"
        aria-label="Find a form"
        placeholder="Number, title, purpose or words in the text"
        autoFocus
        value={find}
        onChange={(e) => setFind(e.target.value)}
        onKeyDown={(e) => e.key === 'Enter' && enter()}
      />
      {numbers.length > 0 && (
        <Button look="act" className="mb-3" onClick={addAll}>
          Add {numbers.join(', ')}
        </Button>
      )}
      <ul aria-busy={!isFresh} className="outdated mb-4 max-h-[300px] overflow-auto border border-hair bg-paper">
        {found.map((f) => (
          <FoundForm key={f.edition} form={f} isAdding={isAdding(f)} add={() => add(f)} />
        ))}
        {!data && <li className="late px-3 py-4 text-sm text-ink-2">Loading forms …</li>}
        {found.length === 0 && isFresh && <li className="px-3 py-4 text-sm text-ink-2">No matching forms.</li>}
      </ul>
      <Expect act={act} />
      <Templates open={open} act={act} onDone={() => onOpenChange(false)} />
    </Dialog>
  );
}

/** A paper that somebody else brings: its place in the package is kept. */
function Expect({ act }: { act: Act }) {
  const { held } = useWorkspace();
  const { brings } = useSide(held.head.side);
  const [expected, setExpected] = useState('');
  const [chosen, setFrom] = useState('');
  const from = chosen || brings[0];
  return (
    <form
      className="mb-4"
      onSubmit={(e) => {
        e.preventDefault();
        act({ op: 'expect', expected, expected_from: from }, () => setExpected((now) => (now === expected ? '' : now)));
      }}
    >
      <h3 className="mb-1 text-sm font-semibold text-ink-2">Add an expected document</h3>
      <div className="flex flex-wrap gap-2">
        <input
          className="field min-w-[180px] flex-1"
          aria-label="Expected paper"
          placeholder="Proof of funds"
          maxLength={200}
          value={expected}
          onChange={(e) => setExpected(e.target.value)}
        />
        <select className="field" aria-label="From whom" value={from} onChange={(e) => setFrom(e.target.value)}>
          {brings.map((who) => (
            <option key={who}>{who}</option>
          ))}
        </select>
        <Button type="submit" disabled={!expected.trim()}>
          Expect it
        </Button>
      </div>
    </form>
  );
}

function FoundForm({ form: f, isAdding, add }: { form: FormChoice; isAdding: boolean; add: () => void }) {
  const { held } = useWorkspace();
  const isThere = held.documents.some((d) => d.number === f.number);
  return (
    <li className="flex items-center gap-3 border-b border-hair px-3 py-2 last:border-0">
      <span className="w-10 text-sm font-semibold">{f.number}</span>
      <span className="min-w-0 flex-1 text-sm">
        {f.title}
        <span className="block text-xs text-ink-2">
          {f.topic}, {some(f.pages, 'page')}
          {!f.sides.includes(held.head.side) && `, not usual when ${held.head.side}`}
          {f.found && <span className="block italic">{f.found}</span>}
          {isThere && ', in the package'}
        </span>
      </span>
      <Button onClick={add} aria-label={`${isThere ? 'Add again' : 'Add'} ${f.number} ${f.title}`}>
        {isAdding ? 'Adding …' : isThere ? 'Add again' : 'Add'}
      </Button>
    </li>
  );
}

/** Single forms of a template, without its answers. */
function SomeForms({ numbers, act }: { numbers: string[]; act: Act }) {
  const { held } = useWorkspace();
  const there = new Set(held.documents.map((d) => d.number));
  const [chosen, setChosen] = useState<string[]>([]);
  return (
    <div className="mt-1.5 flex flex-wrap items-center gap-x-4 gap-y-1">
      {[...new Set(numbers)].map((n) => (
        <label key={n} className="flex min-h-6 items-center gap-1.5">
          <input
            type="checkbox"

            disabled={there.has(n)}
            checked={chosen.includes(n)}
            onChange={(e) => setChosen(e.target.checked ? [...chosen, n] : chosen.filter((c) => c !== n))}
          />
          {n}
          {there.has(n) && <span className="text-xs text-ink-2">is there</span>}
        </label>
      ))}
      <Button
        disabled={chosen.length === 0}
        onClick={() => {
          act({ op: 'add', numbers: numbers.filter((n) => chosen.includes(n)) }, () => setChosen([]));
        }}
      >
        Add {some(chosen.length, 'form')}
      </Button>
    </div>
  );
}

function Templates({ open, act, onDone }: { open: boolean; act: Act; onDone: () => void }) {
  const [parted, setParted] = useState('');
  const { held, calls, take } = useWorkspace();
  const { data } = useQuery({ ...templatesQuery(), enabled: open });
  const templates = data?.filter((t) => t.side === held.head.side) ?? [];
  const apply = useAction({
    mutationFn: (template: string, key: string) => calls.applyTemplate(key, template),
    onSuccess: (delta) => {
      take(delta, delta.said);
      onDone();
    },
    onError: sayProblem,
  });
  return (
    <>
      <h3 className="mb-1 text-sm font-semibold text-ink-2">Apply a template</h3>
      <ul className="border border-hair bg-paper">
        {!data && <li className="late px-3 py-2 text-sm text-ink-2">Loading templates …</li>}
        {data && templates.length === 0 && (
          <li className="px-3 py-2 text-sm text-ink-2">No template for {held.head.side} yet.</li>
        )}
        {templates.map((t) => (
          <li key={t.id} className="border-b border-hair px-3 py-2 text-sm last:border-0">
            <div className="flex items-center gap-3">
              <span className="min-w-0 flex-1">
                {t.name}
                <span className="block text-xs text-ink-2">{t.about}</span>
              </span>
              {t.forms.length > 1 && (
                <Button
                  look="words"
                  aria-expanded={parted === t.id}
                  aria-label={`Some forms of ${t.name}`}
                  onClick={() => setParted(parted === t.id ? '' : t.id)}
                >
                  Some forms
                </Button>
              )}
              <Button disabled={apply.isPending} onClick={() => apply.mutate(t.id)} aria-label={`Apply ${t.name}`}>
                Apply
              </Button>
            </div>
            {parted === t.id && <SomeForms numbers={t.forms} act={act} />}
          </li>
        ))}
      </ul>
    </>
  );
}
