/** The negotiation of the offer at hand: its terms turn by turn, what each turn comes to, and the next one. */
import { Link, useLocation } from '@tanstack/react-router';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { Turns as TurnsOf } from '../../api/client';
import { Button } from '../../primitives/button';
import { shortDate, some } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { useBeginRound } from '../signing/begin-round';
import { AgreeDialog } from './agree-dialog';
import { TurnDialog } from './turn-dialog';
import { useTurnActions, useTurns, type Turn } from './use-turns';

/** "buyers" or "the seller", as a sentence says it. */
const sideInWords = (group: string) => `the ${group.replace(/s$/, '')}`;

interface Props {
  /** What the offer at hand is called. */
  offer: string;
  /** Ask for the day on which it was accepted, with all of its turns. */
  onAccept: () => void;
}

export function Turns({ offer, onAccept }: Props) {
  const { deal } = useDeal();
  const { data, error } = useTurns();
  const [asked, setAsked] = useState<{ maker: string; changed: Turn | null } | null>(null);
  const [agreed, setAgreed] = useState<Turn | null>(null);
  const place = useRef<HTMLHeadingElement>(null);
  const { taking, changing, agreeing } = useTurnActions(() => {
    setAsked(null);
    setAgreed(null);
  });
  const wanted = useLocation({ select: (l) => l.hash }) === 'turns';
  const isHere = data !== undefined;
  useLayoutEffect(() => {
    if (!wanted || !isHere) return;
    place.current?.focus({ preventScroll: true });
    bringUp(place.current);
  }, [wanted, isHere]);
  // A turn that was just taken is looked at: it may stand below the window.
  const count = data?.turns.length ?? 0;
  const before = useRef(Infinity);
  useEffect(() => {
    if (count > before.current) bringUp(place.current);
    before.current = isHere ? count : Infinity;
  }, [count, isHere]);
  if (error) return <p className="mt-6 text-wax">Couldn’t load the negotiation. Nothing was lost. Try again.</p>;
  if (!data) return null;
  const [ours, theirs] = data.sides as [string, string];
  const last = data.turns.at(-1);
  return (
    <section aria-labelledby="turns-of-offer" className="mt-7">
      <div className="mb-2 flex flex-wrap items-baseline gap-x-4 gap-y-1.5">
        <h2 id="turns-of-offer" ref={place} tabIndex={-1} className="font-serif text-lg font-semibold outline-none">
          {data.binding ? 'Amendments to' : 'Turns of'} {offer}
        </h2>
        <p className="text-sm text-ink-2">{last ? some(data.turns.length, 'turn') : 'No changes yet.'}</p>
        <span className="ml-auto flex flex-wrap gap-2 max-[620px]:ml-0">
          <Button look="act" onClick={() => setAsked({ maker: ours, changed: null })}>
            {data.binding ? 'Amend' : 'Counter'}
          </Button>
          <Button onClick={() => setAsked({ maker: theirs, changed: null })}>
            {data.binding ? 'Enter their amendment' : 'They countered'}
          </Button>
        </span>
      </div>
      {last && (
        <TurnTable
          turns={data}
          agree={(turn) => (turn.amends ? setAgreed(turn) : onAccept())}
          change={(turn) => setAsked({ maker: turn.maker, changed: turn })}
        />
      )}
      {asked && (
        <TurnDialog
          turns={data}
          maker={asked.maker}
          changed={asked.changed}
          offer={offer}
          busy={taking.isPending || changing.isPending}
          save={(said, done) =>
            asked.changed
              ? changing.mutate({ turn: asked.changed.id, ...said }, done)
              : taking.mutate({ maker: asked.maker, ...said }, done)
          }
          onClose={() => setAsked(null)}
        />
      )}
      {agreed && (
        <AgreeDialog
          offer={deal.head.offer}
          title={`Both sides agreed on ${agreed.name}`}
          act="Record the agreement"
          rivals={[]}
          busy={agreeing.isPending}
          agree={(said) => agreeing.mutate({ turn: agreed.id, ...said })}
          onClose={() => setAgreed(null)}
        />
      )}
    </section>
  );
}

/** Scroll the screen to the turns; by hand, since the browser's own would move the whole frame. */
function bringUp(heading: HTMLElement | null) {
  const section = heading?.closest('section');
  const screen = section?.parentElement;
  if (section && screen) screen.scrollTo({ top: section.offsetTop - screen.offsetTop - 12 });
}

interface TableProps {
  turns: TurnsOf;
  agree: (turn: Turn) => void;
  change: (turn: Turn) => void;
}

function TurnTable({ turns: { turns, rows }, agree, change }: TableProps) {
  return (
    <div className="overflow-x-auto border border-hair bg-paper">
      <table className="border-collapse text-sm" style={{ minWidth: '100%' }}>
        <thead>
          <tr className="border-b border-hair align-top">
            <th
              scope="col"
              className="sticky left-0 z-10 w-[210px] min-w-[210px] bg-paper px-3 py-2 text-left font-normal max-[620px]:w-[130px] max-[620px]:min-w-[130px]"
            >
              <span className="sr-only">Term</span>
            </th>
            <th
              scope="col"
              className="min-w-[120px] border-l border-hair px-3 py-2 text-left font-serif text-[0.9375rem] font-semibold leading-snug"
            >
              As offered
            </th>
            {turns.map((turn) => (
              <TurnHead key={turn.id} turn={turn} agree={() => agree(turn)} change={() => change(turn)} />
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr
              key={row.key}
              className={`align-top ${row.is_result ? 'border-t-2 border-t-ink-3 font-medium' : 'border-b border-hair last:border-0'}`}
            >
              <th scope="row" className="sticky left-0 z-10 bg-paper px-3 py-1.5 text-left font-medium">
                {row.label}
              </th>
              {row.cells.map((cell, n) => (
                <TermCell key={n} row={row} cell={cell} before={n > 0 ? row.cells[n - 1]! : cell} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** A term as a turn leaves it; what the turn moved is set apart from what it left alone. */
function TermCell({ row, cell, before }: { row: TurnsOf['rows'][number]; cell: string; before: string }) {
  const hasMoved = cell !== before && cell !== '';
  return (
    <td className={`border-l border-hair px-3 py-1.5 wrap-break-word ${hasMoved ? 'bg-green-wash font-medium' : 'text-ink-2'}`}>
      {cell.replace(/\.00$/, '') || (row.is_result ? <NotYet /> : row.is_words ? '' : 'nothing stated')}
      {hasMoved && <span className="sr-only"> (moved)</span>}
    </td>
  );
}

/** What it comes to waits for something: the money sheet says what. */
function NotYet() {
  const { id } = useDeal();
  return (
    <Link className="font-normal text-green-2 hover:underline" to="/deals/$deal/money" params={{ deal: id }} search={(s) => s}>
      not known yet
    </Link>
  );
}

interface HeadProps {
  turn: Turn;
  agree: () => void;
  change: () => void;
}

function TurnHead({ turn, agree, change }: HeadProps) {
  const { deal } = useDeal();
  const begin = useBeginRound();
  return (
    <th scope="col" className="min-w-[190px] border-l border-hair px-3 py-2 text-left font-normal">
      <span className="block font-serif text-[0.9375rem] font-semibold leading-snug">{turn.name}</span>
      <span className="block text-xs leading-snug text-ink-2">
        by {sideInWords(turn.maker)}, {shortDate(turn.day)}
      </span>
      <span className={`mt-1 block text-xs ${turn.agreed ? 'font-semibold text-green-2' : 'text-ink-2'}`}>{turn.status}</span>
      {turn.paper && (
        <Link
          className="block text-xs font-medium text-green-2 hover:underline"
          to="/deals/$deal/write"
          params={{ deal: deal.head.id }}
          search={(s) => ({ ...s, by: 'paper', document: turn.paper })}
        >
          {turn.title}
        </Link>
      )}
      {(turn.may_change || turn.may_send || turn.may_agree) && (
        <span className="mt-1.5 flex flex-wrap items-center gap-1">
          {turn.may_send && (
            <Button
              look="words"
              className="py-0.5!"
              disabled={begin.isPending}
              aria-label={`Send ${turn.name} to be signed`}
              onClick={() => begin.mutate({ papers: [turn.paper] })}
            >
              Send to sign
            </Button>
          )}
          {turn.may_change && (
            <Button look="words" className="py-0.5!" aria-label={`Change ${turn.name}`} onClick={change}>
              Change
            </Button>
          )}
          {turn.may_agree && (
            <Button look="words" className="py-0.5!" aria-label={`Both agreed on ${turn.name}`} onClick={agree}>
              Both agreed
            </Button>
          )}
        </span>
      )}
    </th>
  );
}
