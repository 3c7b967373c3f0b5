/** The brokerage's members, for its broker: invited, placed, licenses confirmed, who saves papers, second steps, access. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got, type Member } from '../../api/client';
import { membersQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { MenuItem, MoreMenu } from '../../primitives/menu';
import { sayProblem } from '../../primitives/notices';
import { moment } from '../../primitives/format';
import { Letters } from './letters';
import { Invite, Leave, Place } from './member-dialogs';

type Op =
  | 'confirm'
  | 'let_save_papers'
  | 'stop_saving_papers'
  | 'reset_second_step'
  | 'give_access'
  | 'invite_again'
  | 'take_back_invitation';
/** What is being asked: of a new member, or of one there is. */
type Asking = { what: 'invite' } | { what: 'place' | 'leave'; of: Member } | null;

export function Members() {
  const { data } = useQuery(membersQuery);
  const [asking, setAsking] = useState<Asking>(null);
  const close = () => setAsking(null);
  const queries = useQueryClient();
  const put = {
    onSuccess: (all: NonNullable<typeof data>) => stands(queries, membersQuery.queryKey, all),
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
        <h2 className="font-serif text-[1rem] font-semibold">Members</h2>
        <Button onClick={() => setAsking({ what: 'invite' })}>Invite a member</Button>
        <label className="ml-auto flex items-center gap-1.5 text-sm">
          <input
            type="checkbox"
            checked={require.doing.at(-1) ?? data.two_steps}
            onChange={(e) => require.mutate(e.target.checked)}
          />
          Require a second step from everyone
        </label>
      </div>
      <p className="mb-2 text-xs text-ink-2">
        We ask an association’s registry only about the name and license that you confirmed.
      </p>
      <ul className="border border-hair bg-paper text-sm">
        {data.members.map((m) => (
          <li
            key={m.id}
            className="grid grid-cols-[minmax(0,5fr)_minmax(0,4fr)_auto] items-center gap-x-4 border-b border-hair px-3 py-1.5 last:border-0"
          >
            <span className={`min-w-0 ${m.active ? '' : 'text-ink-3'}`}>
              <span className="block truncate font-medium">{m.name}</span>
              <span className="block truncate text-xs text-ink-2">{[m.role, m.office, m.email].join(', ')}</span>
              <Standing member={m} />
            </span>
            <span className="min-w-0 text-xs text-ink-2">
              <span className="block">
                {m.licence || 'no license typed'}
                {m.confirmed ? ', confirmed' : ''}
                {m.second_step ? ', second step' : ''}
              </span>
              {(m.saves_papers || m.role === 'broker') && <span className="block">can approve office papers</span>}
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
              <More member={m} see={(op) => see.mutate({ id: m.id, op })} ask={(what) => setAsking({ what, of: m })} />
            </span>
          </li>
        ))}
      </ul>
      <Letters />
      {asking?.what === 'invite' && <Invite all={data} onClose={close} />}
      {asking?.what === 'place' && <Place all={data} member={asking.of} onClose={close} />}
      {asking?.what === 'leave' && <Leave all={data} member={asking.of} onClose={close} />}
    </section>
  );
}

/** Whether somebody is on the way in, or out. */
function Standing({ member: m }: { member: Member }) {
  if (m.active) return null;
  return (
    <span className="block text-xs font-medium text-ochre">
      {m.invited ? `Invited ${moment(m.invited)}, not accepted yet` : 'Access ended'}
    </span>
  );
}

interface MoreProps {
  member: Member;
  see: (op: Op) => void;
  ask: (what: 'place' | 'leave') => void;
}

function More({ member: m, see, ask }: MoreProps) {
  if (m.invited)
    return (
      <MoreMenu label={`More for ${m.name}`} width={270}>
        <MenuItem run={() => see('invite_again')}>Send the invitation again</MenuItem>
        <MenuItem run={() => see('take_back_invitation')} note="the link in the e-mail stops working">
          Take the invitation back
        </MenuItem>
      </MoreMenu>
    );
  return (
    <MoreMenu label={`More for ${m.name}`} width={270}>
      {m.role !== 'broker' && (
        <MenuItem run={() => see(m.saves_papers ? 'stop_saving_papers' : 'let_save_papers')}>
          {m.saves_papers ? 'Allow only to propose office papers' : 'Allow to approve office papers'}
        </MenuItem>
      )}
      {m.second_step && (
        <MenuItem run={() => see('reset_second_step')} note="for a lost phone; it can be set up anew">
          Reset the second step
        </MenuItem>
      )}
      <MenuItem run={() => ask('place')}>Role and branch</MenuItem>
      {!m.me && m.active && (
        <MenuItem run={() => ask('leave')} note="reassigns their deals">
          End access
        </MenuItem>
      )}
      {!m.me && !m.active && <MenuItem run={() => see('give_access')}>Give access again</MenuItem>}
    </MoreMenu>
  );
}
