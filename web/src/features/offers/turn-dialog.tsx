/** One side puts terms otherwise: each beside how it stands. What our client says gets its paper, filled with just that. */
import { useState } from 'react';
import type { Turns } from '../../api/client';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { some, today } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import type { TurnSaid } from './use-turns';

interface Kept {
  turns: number;
  /** What is typed, by key. */
  terms: Record<string, string>;
}

type Term = Turns['terms'][number];

interface Props {
  turns: Turns;
  /** The group of parties that makes the turn. */
  maker: string;
  offer: string;
  busy: boolean;
  take: (said: TurnSaid) => void;
  onClose: () => void;
}

export function TurnDialog({ turns, maker, offer, busy, take, onClose }: Props) {
  const { id, deal } = useDeal();
  const isOurs = maker === turns.sides[0];
  // Typed over these turns: once there is another, it is done with.
  const untouched: Kept = { turns: turns.turns.length, terms: {} };
  const { typed: kept, set } = useKept<Kept>(`turn ${id} ${deal.head.offer} ${maker}`, untouched);
  const typed = kept.terms;
  const [day, setDay] = useState(today);
  const [paper, setPaper] = useState('');
  const [whole, setWhole] = useState(false);
  const shown = turns.terms.filter((t) => whole || t.usual || typed[t.key]);
  const said = Object.entries(typed).filter(([, text]) => text.trim() !== '');
  const type = (key: string, text: string) => {
    const others = Object.entries(typed).filter(([name]) => name !== key);
    set({ ...untouched, terms: Object.fromEntries(text === '' ? others : [...others, [key, text]]) });
  };
  const what = turns.binding ? 'amendment' : 'counter-offer';
  const title = isOurs ? `${turns.binding ? 'Amend' : 'Counter'} ${offer}` : `Their changes to ${offer}`;
  return (
    <Dialog open onOpenChange={onClose} title={title} width={680}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          take({ maker, day, paper, terms: said.map(([key, text]) => ({ key, text })) });
        }}
      >
        <p className="mb-3 text-sm text-ink-2">
          {isOurs
            ? `Enter the terms to change. Empty ones stay the same. The ${what} is put into the package, filled with just these changes, and the deal’s own terms stay until both have agreed.`
            : 'Enter what they changed, as their paper says it. The deal’s terms stay the same until both sides agree.'}
        </p>
        <TermTable terms={shown} typed={typed} type={type} />
        {!whole && shown.length < turns.terms.length && (
          <Button look="words" className="mt-1.5" onClick={() => setWhole(true)}>
            All {turns.terms.length} terms
          </Button>
        )}
        <div className="mt-4 flex flex-wrap items-end gap-x-4 gap-y-3">
          <label className="text-sm">
            {isOurs ? 'Made on' : 'Dated'}
            <input className="field mt-1 block" type="date" required value={day} onChange={(e) => setDay(e.target.value)} />
          </label>
          {!isOurs && turns.papers.length > 0 && (
            <label className="min-w-0 flex-1 text-sm">
              Paper to use
              <select className="field mt-1 block w-full" value={paper} onChange={(e) => setPaper(e.target.value)}>
                <option value="">No paper in the package</option>
                {turns.papers.map((p) => (
                  <option key={p.code} value={p.code}>
                    {p.title}
                  </option>
                ))}
              </select>
            </label>
          )}
        </div>
        <div className="mt-4 flex items-center gap-2">
          <Button look="act" type="submit" disabled={busy || said.length === 0}>
            {isOurs ? `Make the ${what}` : 'Save their changes'}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
          <span className="text-sm text-ink-2">{said.length > 0 && `${some(said.length, 'change')} typed`}</span>
        </div>
      </form>
    </Dialog>
  );
}

interface TableProps {
  terms: Term[];
  /** What is typed, by key. */
  typed: Record<string, string>;
  type: (key: string, text: string) => void;
}

function TermTable({ terms, typed, type }: TableProps) {
  return (
    <table className="w-full border-collapse text-sm">
      <thead>
        <tr className="border-b border-hair text-left text-xs text-ink-2">
          <th scope="col" className="py-1 pr-3 font-normal">
            Term
          </th>
          <th scope="col" className="w-[26%] py-1 pr-3 font-normal">
            As it stands
          </th>
          <th scope="col" className="w-[34%] py-1 font-normal">
            To be
          </th>
        </tr>
      </thead>
      <tbody>
        {terms.map((term) => (
          <TermLine key={term.key} term={term} text={typed[term.key] ?? ''} onText={(text) => type(term.key, text)} />
        ))}
      </tbody>
    </table>
  );
}

interface LineProps {
  term: Term;
  text: string;
  onText: (text: string) => void;
}

const YES_NO = ['yes', 'no'];

function TermLine({ term, text, onText }: LineProps) {
  const options = term.kind === 'yes_no' ? YES_NO : term.options;
  const label = `${term.label}, to be`;
  return (
    <tr className="border-b border-hair last:border-0">
      <th scope="row" className="py-1 pr-3 text-left font-normal">
        {term.label}
      </th>
      <td className="py-1 pr-3 text-ink-2 wrap-break-word">{term.now.replace(/\.00$/, '') || 'nothing stated'}</td>
      <td className="py-1">
        {options.length > 0 ? (
          <select aria-label={label} className="field block w-full" value={text} onChange={(e) => onText(e.target.value)}>
            <option value="">stays</option>
            {options.map((o) => (
              <option key={o} value={o}>
                {o}
              </option>
            ))}
          </select>
        ) : (
          <input
            aria-label={label}
            className="field block w-full"
            value={text}
            placeholder="stays"
            maxLength={10_000}
            onChange={(e) => onText(e.target.value)}
          />
        )}
      </td>
    </tr>
  );
}
