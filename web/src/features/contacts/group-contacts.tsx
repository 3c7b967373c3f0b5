/** Contacts for a group of facts of the deal at hand: filled from one, or kept as one. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { isOf } from '../../api/keys';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { useWorkspace } from '../workspace/workspace';
import { ContactFinder } from './contact-finder';

/** `position` is the party's, from 1, where the group is one of parties; `party` its id. */
interface Props {
  group: string;
  position?: number;
  party?: string;
}

export function GroupContacts({ group, position, party = '' }: Props) {
  const { held, facts, calls, take, isDeal } = useWorkspace();
  const [finding, setFinding] = useState(false);
  const queries = useQueryClient();
  const kind = held.catalog.contact_groups.find((g) => g.group === group)?.kind;
  const use = useAction({
    mutationFn: (contact: { id: string }, key: string) => calls.fillFrom(key, { contact: contact.id, group, party }),
    onSuccess: (delta) => {
      setFinding(false);
      take(delta, delta.said);
    },
    onError: sayProblem,
  });
  const isOne = Boolean(position) || !(group in held.parties);
  const typed = isOne ? [...facts.values()].filter((f) => isOf(f.key, group, position) && f.shown && !f.worked_out) : [];
  const keep = useAction({
    mutationFn: (_: void, key: string) => calls.keepAsContact(key, { group, position: position ?? null }),
    onSuccess: (contact) => {
      void queries.invalidateQueries({ queryKey: ['contacts'] });
      if (party && held.head.client_group === group)
        use.mutate(contact); // the deal stands on the client's record from now on
      else notify(`${contact.name} is already in your contacts.`);
    },
    onError: sayProblem,
  });
  if (!kind) return null;
  const whose = position ? `${held.catalog.ones.get(group) ?? ''} ${position}` : (held.catalog.groups[group] ?? group);
  return (
    <span className="flex items-center gap-2">
      {finding ? (
        <span className="w-[260px]">
          <ContactFinder label="Contact" kind={kind} autoFocus onPick={(c) => use.mutate(c)} />
        </span>
      ) : (
        <Button look="words" className="py-0!" aria-label={`From contacts: ${whose}`} onClick={() => setFinding(true)}>
          From contacts
        </Button>
      )}
      {typed.length > 1 && !finding && isDeal && (
        <Button
          look="words"
          className="py-0!"
          aria-label={`Save as contact: ${whose}`}
          disabled={keep.isPending}
          onClick={() => keep.mutate()}
        >
          Save as contact
        </Button>
      )}
    </span>
  );
}
