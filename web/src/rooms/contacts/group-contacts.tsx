/** Contacts for a group of facts of the deal at hand: filled from one, or kept as one. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got, once, type Contact } from '../../api/client';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { useDeal } from '../deals/use-deal';
import { ContactFinder } from './contact-finder';
import type { Kind } from './kinds';

/** Which contacts a group is filled from, and which facts of it are which of a contact's fields. */
const COMPANY = { company: 'company', officer: 'name', email: 'email', phone: 'phone', address: 'address' };
const AGENT = {
  name: 'name',
  licence: 'licence',
  code: 'code',
  email: 'email',
  phone: 'phone',
  firm: 'company',
  firm_address: 'address',
};
const PARTY = {
  given: 'given',
  middle: 'middle',
  family: 'family',
  suffix: 'suffix',
  entity_name: 'company',
  entity_kind: 'entity_kind',
  signer: 'signer',
  email: 'email',
  phone: 'phone',
  mailing_address: 'address',
};
const GROUPS: Record<string, { kind: Kind; facts: Record<string, string> }> = {
  title: { kind: 'title', facts: COMPANY },
  lender: { kind: 'lender', facts: COMPANY },
  inspector: { kind: 'inspector', facts: COMPANY },
  attorney: { kind: 'attorney', facts: COMPANY },
  warranty: { kind: 'warranty', facts: COMPANY },
  association_manager: { kind: 'association_manager', facts: COMPANY },
  listing_agent: { kind: 'agent', facts: AGENT },
  buyer_agent: { kind: 'agent', facts: AGENT },
};
for (const group of ['buyers', 'sellers', 'landlords', 'tenants']) GROUPS[group] = { kind: 'client', facts: PARTY };

export const hasContacts = (group: string) => group in GROUPS;

/** `at` is where the facts stand: the group, or one party of it ("buyers.2"), which is `party`. */
export function GroupContacts({ group, at = group, party = '' }: { group: string; at?: string; party?: string }) {
  const { deal, facts, params, take } = useDeal();
  const [finding, setFinding] = useState(false);
  const queries = useQueryClient();
  const known = GROUPS[group];
  const use = useAction({
    mutationFn: (contact: Contact, key: string) =>
      got(
        client.POST('/api/deals/{deal}/contacts', {
          params,
          body: { change: key, contact: contact.id, group, party },
        }),
      ),
    onSuccess: (delta) => {
      setFinding(false);
      take(delta, delta.said);
    },
    onError: sayProblem,
  });
  const typed = known
    ? Object.entries(known.facts).flatMap(([name, field]): [string, string][] => {
        const text = facts.get(`${at}.${name}`)?.edit ?? '';
        if (!text || text === 'None') return [];
        if (field !== 'name') return [[field, text]];
        const words = text.split(' ');
        return [
          ['given', words.slice(0, -1).join(' ')],
          ['family', words.at(-1) ?? ''],
        ];
      })
    : [];
  const keep = useAction({
    mutationFn: (_: void, key: string) =>
      got(
        client.POST('/api/contacts', {
          headers: once(key),
          body: { kind: known?.kind ?? 'other', fields_said: Object.fromEntries(typed), shared: false, unless_known: true },
        }),
      ),
    onSuccess: (contact) => {
      void queries.invalidateQueries({ queryKey: ['contacts'] });
      if (party && deal.head.client_group === group)
        use.mutate(contact); // the deal stands on the client's record from now on
      else notify(`${contact.name} is among your contacts.`);
    },
    onError: sayProblem,
  });
  if (!known) return null;
  return (
    <span className="flex items-center gap-2">
      {finding ? (
        <span className="w-[260px]">
          <ContactFinder label="Contact" kind={known.kind} autoFocus onPick={(c) => use.mutate(c)} />
        </span>
      ) : (
        <Button look="words" className="py-0!" onClick={() => setFinding(true)}>
          From contacts
        </Button>
      )}
      {typed.length > 1 && !finding && (
        <Button look="words" className="py-0!" disabled={keep.isPending} onClick={() => keep.mutate()}>
          Keep as contact
        </Button>
      )}
    </span>
  );
}
