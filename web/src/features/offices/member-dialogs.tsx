/** A member invited, placed, or leaving: what the broker is asked for each. */
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { client, got, once, type Member, type MemberRole, type Members } from '../../api/client';
import { membersQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { stands } from '../../api/stands';
import { notify } from '../../primitives/notices';
import { some } from '../../primitives/format';
import { Asked } from './asked';

interface ChoiceProps {
  label: string;
  value: string;
  set: (value: string) => void;
  children: ReactNode;
}

function Choice({ label, value, set, children }: ChoiceProps) {
  return (
    <label className="block text-sm">
      {label}
      <select className="field mt-1 block w-full" value={value} onChange={(e) => set(e.target.value)}>
        {children}
      </select>
    </label>
  );
}

const roles = (all: Members) => all.roles.map((role) => <option key={role}>{role}</option>);
const offices = (all: Members) =>
  all.offices.map((o) => (
    <option key={o.id} value={o.id}>
      {o.name}
    </option>
  ));

/** Puts what the server said of all members. */
function usePut() {
  const queries = useQueryClient();
  return (all: Members) => stands(queries, membersQuery.queryKey, all);
}

export function Invite({ all, onClose }: { all: Members; onClose: () => void }) {
  const none = { email: '', name: '', role: 'agent' as MemberRole, office: all.offices[0]?.id ?? '' };
  const { typed: said, set, settle } = useKept('invitation', none);
  const put = usePut();
  const invite = useAction({
    mutationFn: (_: void, key: string) => got(client.POST('/api/members/invitations', { headers: once(key), body: said })),
    onSuccess: (now) => {
      settle(none);
      put(now);
      notify(`An invitation is on its way to ${said.email}.`);
      onClose();
    },
  });
  return (
    <Asked
      title="Invite a member"
      act="Send the invitation"
      ready={Boolean(said.email && said.name)}
      action={invite}
      onClose={onClose}
    >
      <label className="block text-sm">
        E-mail
        <input
          type="email"
          className="field mt-1 block w-full"
          autoFocus
          value={said.email}
          onChange={(e) => set({ ...said, email: e.target.value })}
        />
      </label>
      <label className="block text-sm">
        Name as forms print it
        <input className="field mt-1 block w-full" value={said.name} onChange={(e) => set({ ...said, name: e.target.value })} />
      </label>
      <Choice label="Role" value={said.role} set={(role) => set({ ...said, role: role as MemberRole })}>
        {roles(all)}
      </Choice>
      <Choice label="Branch" value={said.office} set={(office) => set({ ...said, office })}>
        {offices(all)}
      </Choice>
      <p className="text-xs text-ink-2">They get an e-mail with a link, good for three days, and set their own password.</p>
    </Asked>
  );
}

export function Place({ all, member, onClose }: { all: Members; member: Member; onClose: () => void }) {
  const [role, setRole] = useState(member.role);
  const [office, setOffice] = useState(member.office_id);
  const put = usePut();
  const place = useAction({
    mutationFn: () =>
      got(
        client.POST('/api/members/{member}', {
          params: { path: { member: member.id } },
          body: { op: 'place', name: '', licence: '', role, office },
        }),
      ),
    onSuccess: (now) => {
      put(now);
      onClose();
    },
  });
  return (
    <Asked title={`Role and branch of ${member.name}`} act="Save" ready action={place} onClose={onClose}>
      <Choice label="Role" value={role} set={(r) => setRole(r as MemberRole)}>
        {roles(all)}
      </Choice>
      <Choice label="Branch" value={office} set={setOffice}>
        {offices(all)}
      </Choice>
      <p className="text-xs text-ink-2">Deals that are under way stay with the branch that they were begun in.</p>
    </Asked>
  );
}

export function Leave({ all, member, onClose }: { all: Members; member: Member; onClose: () => void }) {
  const heirs = all.members.filter((m) => m.active && m.id !== member.id);
  const [to, setTo] = useState('');
  const queries = useQueryClient();
  const leave = useAction({
    mutationFn: (_: void, key: string) =>
      got(
        client.POST('/api/members/{member}/leave', {
          params: { path: { member: member.id } },
          headers: once(key),
          body: { to: to || null },
        }),
      ),
    onSuccess: ({ passed }) => {
      for (const queryKey of [['members'], ['deals'], ['dues'], ['deal']]) void queries.invalidateQueries({ queryKey });
      notify(`${member.name}’s access has ended.${passed ? ` ${some(passed, 'deal')} passed on.` : ''}`);
      onClose();
    },
  });
  return (
    <Asked title={`End ${member.name}’s access`} act="End access" ready warn action={leave} onClose={onClose}>
      <p className="text-sm">
        They are signed out at once. Reassign their deals, contacts and templates; forms will print the new name.
      </p>
      <Choice label="Reassign to" value={to} set={setTo}>
        <option value="">no one: nothing to reassign</option>
        {heirs.map((m) => (
          <option key={m.id} value={m.id}>
            {m.name}, {m.role}
          </option>
        ))}
      </Choice>
    </Asked>
  );
}
