/** Today: the deals by what they need next, found while typing. */
import { useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from '@tanstack/react-router';
import { useDeferredValue, useState } from 'react';
import { client, got, type DealRow } from '../../api/client';
import { agentsQuery, dealPartsQuery, duesQuery, roundsOutQuery, thrownAwayQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { useEarlyEnter } from '../../primitives/early-enter';
import { sayProblem } from '../../primitives/notices';
import { PageTitle } from '../../primitives/page-title';
import { daysAfter, moment, today } from '../../primitives/format';
import { OneOfMany } from '../tasks/one-of-many';
import { howItStands } from '../signing/standing';
import { Cells, columnsFor } from './deal-columns';

const NEEDS: { title: string; fits: (d: DealRow) => boolean }[] = [
  { title: 'To fill in', fits: (d) => d.stage === 'filling' && (d.open > 0 || d.blanks === 0) },
  { title: 'All answered', fits: (d) => d.stage === 'filling' && d.open === 0 && d.blanks > 0 },
  { title: 'Closed', fits: (d) => d.stage === 'closed' },
  { title: 'Fell through', fits: (d) => d.stage === 'fell through' },
];

export function Today() {
  const [find, setFind] = useState('');
  const sought = useDeferredValue(find.trim());
  const { data: agents = [] } = useQuery(agentsQuery);
  const [agent, setAgent] = useState('');
  const { data, isPending, isPlaceholderData, error, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery(
    dealPartsQuery({ find: sought, agent: agent || undefined }),
  );
  const deals = data?.pages.flat();
  const navigate = useNavigate();
  const isFresh = data !== undefined && !isPlaceholderData && sought === find.trim();
  const { enter } = useEarlyEnter(find, isFresh, () => {
    const first = deals?.[0];
    if (first) void navigate({ to: '/deals/$deal/write', params: { deal: first.id } });
  });
  return (
    <div className="mx-auto w-full max-w-[1180px] px-6 pb-12 pt-6 max-[620px]:px-3">
      <div className="mb-5 flex flex-wrap items-center gap-x-4 gap-y-2">
        <PageTitle of="Today" />
        <h1 className="font-serif text-[1.375rem] font-semibold">Today</h1>
        <input
          type="search"
          className="field w-[420px] max-w-full min-[900px]:ml-2 max-[620px]:order-last"
          aria-label="Find a deal"
          placeholder="Find by address, surname, listing or parcel number"
          value={find}
          onChange={(e) => setFind(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && enter()}
        />
        {agents.length > 1 && (
          <select className="field max-w-[220px]" aria-label="Deals of" value={agent} onChange={(e) => setAgent(e.target.value)}>
            <option value="">Every agent</option>
            {agents.map((a) => (
              <option key={a.id} value={a.id}>
                {a.name}
              </option>
            ))}
          </select>
        )}
        <Button look="act" className="ml-auto" onClick={() => void navigate({ to: '/new' })}>
          Start a deal
        </Button>
      </div>
      {error && (
        <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">Couldn’t load deals. Nothing was lost. Try again.</p>
      )}
      {isPending && <p className="text-ink-2">Loading deals …</p>}
      {deals?.length === 0 && (
        <div className="border border-hair bg-sheet px-8 py-14 text-center">
          <p className="mb-4 text-ink-2">
            {sought || agent
              ? `No deal ${sought ? `has “${sought}” in its name, address, parties or numbers` : 'of this agent is here'}.`
              : 'See your deals by what they need next.'}
          </p>
          <Button look="act" onClick={() => void navigate({ to: '/new' })}>
            Start {sought ? 'a deal' : 'the first deal'}
          </Button>
        </div>
      )}
      {!sought && !agent && <OutForSignature />}
      {!sought && !agent && <DueSoon />}
      <div className="outdated" aria-busy={!isFresh}>
        {deals &&
          NEEDS.map(({ title, fits }) => {
            const rows = deals.filter(fits);
            return rows.length === 0 ? null : (
              <Section key={title} title={title} rows={rows} agents={new Set(deals.map((d) => d.agent)).size > 1} />
            );
          })}
      </div>
      {hasNextPage && (
        <Button className="mb-7" disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          {isFetchingNextPage ? 'Reading more …' : 'Show more deals'}
        </Button>
      )}
      <ThrownAway />
    </div>
  );
}

/** Rounds that are out, and whom they wait for. */
function OutForSignature() {
  const { data: rows = [] } = useQuery(roundsOutQuery);
  if (rows.length === 0) return null;
  return (
    <section className="mb-7" aria-label="Out for signature">
      <h2 className="mb-1.5 text-sm font-semibold text-ink-2">
        Out for signature <span className="font-normal">{rows.length}</span>
      </h2>
      <ul className="border border-hair bg-paper">
        {rows.map((row) => {
          const refused = row.signers.find((s) => s.refused);
          return (
            <li
              key={row.id}
              className="moves group relative flex flex-wrap items-baseline gap-x-4 border-b border-hair px-3 py-2 text-sm last:border-0 hover:bg-sheet"
            >
              <Link
                to="/deals/$deal/signing"
                params={{ deal: row.deal }}
                search={{ round: row.id }}
                className="min-w-0 flex-1 basis-[260px] font-medium wrap-anywhere after:absolute after:inset-0 group-hover:text-green-2"
              >
                {row.deal_name}
              </Link>
              <span className="text-ink-2">{howItStands(row)}</span>
              {refused && <span className="text-wax">a letter to {refused.name} was not taken</span>}
              {row.sent && <span className="text-xs text-ink-2">since {moment(row.sent)}</span>}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** As many tasks as Today shows before it points to the others. */
const MOST_DUE = 6;

/** What is late, and what is due within a week. */
function DueSoon() {
  const { data: dues = [] } = useQuery(duesQuery({ until: daysAfter(today(), 7), progress: 'to do' }));
  if (dues.length === 0) return null;
  const agents = new Set(dues.map((d) => d.agent)).size > 1;
  const late = dues.filter((d) => d.urgency === 'late').length;
  return (
    <section className="mb-7">
      <h2 className="mb-1.5 flex items-baseline gap-2 text-sm font-semibold text-ink-2">
        Due <span className="font-normal">{dues.length}</span>
        {late > 0 && <span className="font-medium text-wax">{late} late</span>}
        <Link to="/tasks" className="ml-auto font-medium text-green-2 hover:underline">
          All tasks
        </Link>
      </h2>
      <ul className="border border-hair bg-paper">
        {dues.slice(0, MOST_DUE).map((due) => (
          <li key={`${due.deal}/${due.code}`} className="border-b border-hair last:border-0">
            <OneOfMany due={due} agents={agents} compact />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Deals that were thrown away and can still be brought back. */
function ThrownAway() {
  const { data = [] } = useQuery(thrownAwayQuery);
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const back = useAction({
    mutationFn: (deal: string) => got(client.POST('/api/deals/{deal}', { params: { path: { deal } } })),
    onSuccess: (deal) => {
      void queries.invalidateQueries({ queryKey: ['deals'] });
      void navigate({ to: '/deals/$deal/write', params: { deal: deal.id } });
    },
    onError: sayProblem,
  });
  if (data.length === 0) return null;
  return (
    <section className="mb-7">
      <Button look="words" className="px-0!" aria-expanded={open} onClick={() => setOpen(!open)}>
        Deleted in the last 30 days: {data.length}
      </Button>
      {open && (
        <ul className="mt-1.5 border border-hair bg-paper">
          {data.map((d) => (
            <li key={d.id} className="flex items-center gap-3 border-b border-hair px-3 py-1.5 text-sm last:border-0">
              <span className="min-w-0 flex-1 truncate font-medium">{d.name}</span>
              <span className="text-xs text-ink-2">
                {d.side}, {d.agent}
              </span>
              <Button look="words" aria-label={`Bring back ${d.name}`} onClick={() => back.mutate(d.id)}>
                Restore
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** `agents` says whether the list has more than one agent's deals, so that theirs is worth a column. */
function Section({ title, rows, agents }: { title: string; rows: DealRow[]; agents: boolean }) {
  const columns = columnsFor(agents);
  return (
    <section className="mb-7">
      <h2 className="mb-1.5 flex items-baseline gap-2 text-sm font-semibold text-ink-2">
        {title} <span className="font-normal">{rows.length}</span>
      </h2>
      <table className="w-full table-fixed border-collapse border border-hair bg-paper max-[760px]:block">
        <colgroup>
          {columns.map((column) => (
            <col key={column.title} style={{ width: column.width }} />
          ))}
        </colgroup>
        <thead className="max-[760px]:sr-only">
          <tr className="border-b border-hair text-left text-xs text-ink-3">
            {columns.map(({ title, right }) => (
              <th key={title} scope="col" className={`px-3 py-1.5 font-medium ${right ? 'text-right' : ''}`}>
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="max-[760px]:block">
          {rows.map((deal) => (
            <tr
              key={deal.id}
              className="moves group relative border-b border-hair last:border-0 hover:bg-sheet max-[760px]:flex max-[760px]:flex-wrap max-[760px]:items-center max-[760px]:py-1"
            >
              <Cells deal={deal} columns={columns} />
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
