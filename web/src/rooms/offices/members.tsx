/** The brokerage's members, for its broker: licences confirmed, who saves papers, second steps, access. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { client, got } from '../../api/client';
import { membersQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { MenuItem } from '../../primitives/menu-item';
import { MoreMenu } from '../../primitives/more-menu';
import { sayProblem } from '../../primitives/notices';

type Op = 'confirm' | 'let_save_papers' | 'stop_saving_papers' | 'reset_second_step' | 'end_access' | 'give_access';

export function Members() {
  const { data } = useQuery(membersQuery);
  const queries = useQueryClient();
  const put = {
    onSuccess: (all: NonNullable<typeof data>) => queries.setQueryData(membersQuery.queryKey, all),
    onError: sayProblem,
  };
  const see = useAction({
    mutationFn: ({ id, ...body }: { id: string; op: Op; name?: string; licence?: string }) =>
      got(client.POST('/api/members/{member}', { params: { path: { member: id } }, body: { name: '', licence: '', ...body } })),
    ...put,
  });
  const require = useAction({
    mutationFn: (two_steps: boolean) => got(client.POST('/api/members', { body: { two_steps } })),
    ...put,
  });
  if (!data) return null;
  return (
    <section className="col-span-full border border-hair bg-sheet px-5 py-4">
      <div className="mb-2 flex flex-wrap items-baseline gap-x-4">
        <h2 className="font-serif text-[16px] font-semibold">Members</h2>
        <label className="ml-auto flex items-center gap-1.5 text-sm">
          <input
            type="checkbox"
            className="accent-green"
            checked={data.two_steps}
            onChange={(e) => require.mutate(e.target.checked)}
          />
          Everybody signs in with a second step
        </label>
      </div>
      <p className="mb-2 text-xs text-ink-2">
        An association’s registry is asked about the name and licence that you have confirmed, and about nothing else.
      </p>
      <ul className="border border-hair bg-paper text-sm">
        {data.members.map((m) => (
          <li
            key={m.id}
            className="grid grid-cols-[minmax(0,5fr)_minmax(0,4fr)_auto] items-center gap-x-4 border-b border-hair px-3 py-1.5 last:border-0"
          >
            <span className={`min-w-0 ${m.active ? '' : 'text-ink-3'}`}>
              <span className="block truncate font-medium">{m.name}</span>
              <span className="block truncate text-xs text-ink-2">
                {[m.role, m.office, m.email].join(', ')}
                {!m.active && ', access ended'}
              </span>
            </span>
            <span className="min-w-0 text-xs text-ink-2">
              <span className="block">
                {m.licence || 'no licence typed'}
                {m.confirmed ? ', confirmed' : ''}
                {m.second_step ? ', second step' : ''}
              </span>
              {(m.saves_papers || m.role === 'broker') && <span className="block">puts office papers to use</span>}
            </span>
            <span className="flex items-center gap-1">
              {!m.confirmed && m.licence && (
                <Button
                  className="py-0.5!"
                  onClick={() => see.mutate({ id: m.id, op: 'confirm', name: m.name, licence: m.licence })}
                >
                  Confirm
                </Button>
              )}
              <More member={m} see={(op) => see.mutate({ id: m.id, op })} />
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface MoreProps {
  member: { name: string; saves_papers: boolean; second_step: boolean; active: boolean; me: boolean; role: string };
  see: (op: Op) => void;
}

function More({ member: m, see }: MoreProps) {
  return (
    <MoreMenu label={`More for ${m.name}`} width={270}>
      {m.role !== 'broker' && (
        <MenuItem run={() => see(m.saves_papers ? 'stop_saving_papers' : 'let_save_papers')}>
          {m.saves_papers ? 'Propose office papers only' : 'May put office papers to use'}
        </MenuItem>
      )}
      {m.second_step && (
        <MenuItem run={() => see('reset_second_step')} note="for a lost phone; it can be set up anew">
          Reset the second step
        </MenuItem>
      )}
      {!m.me && (
        <MenuItem
          run={() => see(m.active ? 'end_access' : 'give_access')}
          note={m.active ? 'ends every session at once' : undefined}
        >
          {m.active ? 'End access' : 'Give access again'}
        </MenuItem>
      )}
      {m.me && m.role === 'broker' && !m.second_step && <p className="px-4 py-1.5 text-ink-2">Nothing else for yourself.</p>}
    </MoreMenu>
  );
}
