/** Signing: a deal's rounds, and the one that is at hand. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { Link, useSearch } from '@tanstack/react-router';
import type { Round } from '../../api/client';
import { roundQuery, roundsQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { moment } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { DeliveredPapers } from '../delivering/delivered';
import { useBeginRound } from './begin-round';
import { Following } from './following';
import { Making } from './making';
import { howItStands, stateOf } from './standing';

export function SigningScreen() {
  const { round } = useSearch({ from: '/deals/$deal/signing' });
  return (
    <div className="h-full overflow-auto px-6 pb-12 pt-5 max-[620px]:px-3" id="work" tabIndex={-1}>
      <div className="mx-auto max-w-[1080px]">
        {round ? (
          <OneRound id={round} key={round} />
        ) : (
          <>
            <Rounds />
            <DeliveredPapers />
          </>
        )}
      </div>
    </div>
  );
}

function Rounds() {
  const { id } = useDeal();
  const { data: rows, error } = useQuery(roundsQuery(id));
  const begin = useBeginRound();
  if (error) return <p className="text-wax">Couldn’t load signing. Nothing was lost. Try again.</p>;
  if (!rows) return <p className="text-ink-2">Reading …</p>;
  const start = (
    <Button look="act" disabled={begin.isPending} onClick={() => begin.mutate({})}>
      Send for signature
    </Button>
  );
  if (rows.length === 0)
    return (
      <div className="border border-hair bg-sheet px-8 py-14 text-center max-[620px]:px-4">
        <p className="mx-auto mb-4 max-w-[460px] text-ink-2">
          Nothing was sent for signature yet. Choose papers and signers, preview what each of them will see, and send.
        </p>
        {start}
      </div>
    );
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h2 className="flex-1 font-serif text-[1.125rem] font-semibold">Rounds</h2>
        {start}
      </div>
      <ul className="border border-hair bg-paper">
        {rows.map((row) => (
          <RoundRow key={row.id} row={row} />
        ))}
      </ul>
    </>
  );
}

function RoundRow({ row }: { row: Round }) {
  const { id } = useDeal();
  const state = stateOf(row);
  return (
    <li className="moves group relative flex flex-wrap items-baseline gap-x-4 gap-y-0.5 border-b border-hair px-3 py-2.5 last:border-0 hover:bg-sheet">
      <span className={`w-[92px] shrink-0 text-sm font-medium ${state.ink}`}>{state.said}</span>
      <span className="min-w-0 flex-1 basis-[260px]">
        <Link
          to="/deals/$deal/signing"
          params={{ deal: id }}
          search={(s) => ({ ...s, round: row.id })}
          className="font-semibold wrap-anywhere after:absolute after:inset-0 group-hover:text-green-2"
        >
          {row.subject}
        </Link>
        <span className="block text-xs text-ink-2">{howItStands(row)}</span>
      </span>
      <span className="text-xs text-ink-2">{row.sent ? `sent ${moment(row.sent)}` : `begun ${moment(row.made)}`}</span>
    </li>
  );
}

/** Rounds that are out move on by themselves. */
const LOOKS_EVERY = 8_000;

function OneRound({ id }: { id: string }) {
  const { id: deal, deal: held } = useDeal();
  const queries = useQueryClient();
  const { data: row, error } = useQuery({
    ...roundQuery(id),
    refetchInterval: (query) => {
      const state = query.state.data;
      return state && (state.state === 'out' || (state.state === 'finished' && !state.sealed && !state.doubt))
        ? LOOKS_EVERY
        : false;
    },
  });
  // What a round in the making consists of follows the deal.
  const isMade = row?.state === 'making';
  const { seq } = held.head;
  useEffect(() => {
    if (isMade) void queries.invalidateQueries({ queryKey: roundQuery(id).queryKey });
  }, [queries, id, isMade, seq]);
  const back = (
    <Link
      to="/deals/$deal/signing"
      params={{ deal }}
      search={(s) => ({ ...s, round: undefined })}
      className="text-sm font-medium text-green-2 hover:underline"
    >
      All rounds
    </Link>
  );
  if (error)
    return (
      <p className="text-wax">
        {error.message} {back}
      </p>
    );
  if (!row) return <p className="text-ink-2">Loading …</p>;
  return (
    <>
      <p className="mb-2">{back}</p>
      {row.state === 'making' ? <Making row={row} /> : <Following row={row} />}
    </>
  );
}
