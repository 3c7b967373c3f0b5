/** The owners that the roll names for a group of parties: suggested, never assumed, and named by one action. */
import { useWorkspace, type Held } from '../workspace/workspace';
import { partyKey } from '../../api/keys';

/** What one of the group is called, in the midst of a sentence. */
export const oneOf = (held: Held, group: string) => held.catalog.ones.get(group)?.toLowerCase() ?? 'party';

export function useRecorded(group: string) {
  const { held, edit } = useWorkspace();
  const owners = held.suggested.filter((s) => s.group === group);
  const named = owners.filter((s) => s.name);
  const confirm = () => {
    const ids = named.map(() => crypto.randomUUID().slice(0, 8));
    edit(
      ...ids.map((party) => ({ op: 'party_add' as const, key: group, party })),
      ...named.flatMap((owner, n) =>
        Object.entries(owner.fields).map(([field, text]) => ({ op: 'type' as const, key: partyKey(group, n + 1, field), text })),
      ),
    );
  };
  const one = oneOf(held, group);
  const doing = named.length === 1 ? `Name as ${one}` : `Name all as ${group}`;
  return { owners, named, one, doing, confirm };
}
