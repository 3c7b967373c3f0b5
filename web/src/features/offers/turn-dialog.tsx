/** One side puts terms otherwise: each beside how it stands. What our client says gets its paper, filled with just that. */
import { useState } from 'react';
import type { Turns } from '../../api/client';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { some, today } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { PaperChoice } from './paper-choice';
import type { Turn, TurnSaid } from './use-turns';

interface Kept {
  /** The number of turns that it was typed over: once there is another, it is done with. */
  turns: number;
  /** What is typed, by key. */
  terms: Record<string, string>;
  dates: Dates;
}

/** When the turn is made, until when it may be accepted, and the paper that it came by. */
interface Dates {
  day: string;
  expires: string;
  hour: string;
  paper: string;
}

type Term = Turns['terms'][number];

interface Props {
  turns: Turns;
  /** The group of parties that makes the turn. */
  maker: string;
  /** The turn that is changed; none for another one. */
  changed: Turn | null;
  offer: string;
  busy: boolean;
  /** Save what is said, then do what comes after it. */
  save: (said: TurnSaid, done: () => void) => void;
  onClose: () => void;
}

/** What a turn that is changed says until now. */
const typedOf = (turn: Turn | null) => Object.fromEntries((turn?.said ?? []).map((t) => [t.key, t.text]));

const titleOf = (turns: Turns, isOurs: boolean, changed: Turn | null, offer: string) => {
  if (changed) return `Change ${changed.name}`;
  if (!isOurs) return `Their changes to ${offer}`;
  return `${turns.binding ? 'Amend' : 'Counter'} ${offer}`;
};

export function TurnDialog({ turns, maker, changed, offer, busy, save, onClose }: Props) {
  const { id, deal } = useDeal();
  const isOurs = maker === turns.sides[0];
  const dates: Dates = {
    day: changed?.day ?? today(),
    expires: changed?.expires ?? '',
    hour: changed?.expires_at ?? '',
    paper: changed && !isOurs ? changed.paper : '',
  };
  const untouched: Kept = { turns: turns.turns.length, terms: typedOf(changed), dates };
  const name = `turn ${id} ${deal.head.offer} ${maker} ${changed?.id ?? ''}`;
  const { typed: kept, set, settle } = useKept<Kept>(name, untouched);
  const typed = kept.terms;
  const [whole, setWhole] = useState(false);
  const shown = turns.terms.filter((t) => whole || t.usual || typed[t.key]);
  const said = Object.entries(typed).filter(([, text]) => text.trim() !== '');
  const type = (key: string, text: string) => {
    const others = Object.entries(typed).filter(([name]) => name !== key);
    set({ ...kept, terms: Object.fromEntries(text === '' ? others : [...others, [key, text]]) });
  };
  const what = turns.binding ? 'amendment' : 'counter-offer';
  const giveUp = () => {
    settle(untouched);
    onClose();
  };
  return (
    <Dialog open onOpenChange={onClose} title={titleOf(turns, isOurs, changed, offer)} width={680}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const terms = said.map(([key, text]) => ({ key, text }));
          const { day, expires, hour, paper } = kept.dates;
          save({ day, expires: expires || null, expires_at: hour || null, paper, terms }, () => settle(untouched));
        }}
      >
        <p className="mb-3 text-sm text-ink-2">
          {isOurs
            ? `Enter the terms to change. Empty ones stay the same. The ${what} is put into the package, filled with just these changes, and the deal’s own terms stay until both have agreed.`
            : 'Enter what they changed, as their paper says it. The deal’s terms stay the same until both sides agree.'}
        </p>
        <TermTable terms={shown} before={befores(changed)} typed={typed} type={type} />
        {!whole && shown.length < turns.terms.length && (
          <Button look="words" className="mt-1.5" onClick={() => setWhole(true)}>
            All {turns.terms.length} terms
          </Button>
        )}
        <DatesOfTurn
          dates={kept.dates}
          papers={isOurs ? [] : turns.papers}
          isOurs={isOurs}
          setDates={(some) => set({ ...kept, dates: { ...kept.dates, ...some } })}
        />
        <div className="mt-4 flex items-center gap-2">
          <Button look="act" type="submit" disabled={busy || said.length === 0}>
            {changed ? 'Save the changes' : isOurs ? `Make the ${what}` : 'Save their changes'}
          </Button>
          <Button onClick={giveUp}>Cancel</Button>
          <span className="text-sm text-ink-2">{said.length > 0 && `${some(said.length, 'change')} typed`}</span>
        </div>
      </form>
    </Dialog>
  );
}

interface DatesProps {
  dates: Dates;
  /** The papers by which it may have come. */
  papers: Turns['papers'];
  isOurs: boolean;
  setDates: (some: Partial<Dates>) => void;
}

function DatesOfTurn({ dates, papers, isOurs, setDates }: DatesProps) {
  return (
    <div className="mt-4 flex flex-wrap items-end gap-x-4 gap-y-3">
      <label className="text-sm">
        {isOurs ? 'Made on' : 'Dated'}
        <input
          className="field mt-1 block"
          type="date"
          required
          value={dates.day}
          onChange={(e) => setDates({ day: e.target.value })}
        />
      </label>
      <label className="text-sm">
        Expires on
        <input
          className="field mt-1 block"
          type="date"
          min={dates.day}
          value={dates.expires}
          onChange={(e) => setDates({ expires: e.target.value })}
        />
      </label>
      <label className="text-sm">
        At
        <input
          className="field mt-1 block"
          type="time"
          disabled={!dates.expires}
          value={dates.expires ? dates.hour : ''}
          onChange={(e) => setDates({ hour: e.target.value })}
        />
      </label>
      {papers.length > 0 && (
        <PaperChoice
          label="Paper to use"
          papers={papers}
          value={dates.paper}
          none="No paper in the package"
          onPaper={(paper) => setDates({ paper })}
        />
      )}
    </div>
  );
}

/** How the terms stood before a turn that is changed, by key. */
const befores = (changed: Turn | null) => Object.fromEntries((changed?.said ?? []).map((t) => [t.key, t.before]));

interface TableProps {
  terms: Term[];
  /** How terms stood before the turn that is changed, by key. */
  before: Record<string, string>;
  /** What is typed, by key. */
  typed: Record<string, string>;
  type: (key: string, text: string) => void;
}

function TermTable({ terms, before, typed, type }: TableProps) {
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
          <TermLine
            key={term.key}
            term={term}
            now={before[term.key] ?? term.now}
            text={typed[term.key] ?? ''}
            onText={(text) => type(term.key, text)}
          />
        ))}
      </tbody>
    </table>
  );
}

interface LineProps {
  term: Term;
  /** How it stands without the turn. */
  now: string;
  text: string;
  onText: (text: string) => void;
}

const YES_NO = ['yes', 'no'];

function TermLine({ term, now, text, onText }: LineProps) {
  const options = term.kind === 'yes_no' ? YES_NO : term.options;
  const label = `${term.label}, to be`;
  return (
    <tr className="border-b border-hair last:border-0">
      <th scope="row" className="py-1 pr-3 text-left font-normal">
        {term.label}
      </th>
      <td className="py-1 pr-3 text-ink-2 wrap-break-word">{now.replace(/\.00$/, '') || 'nothing stated'}</td>
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
