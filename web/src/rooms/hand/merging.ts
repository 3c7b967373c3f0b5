/** Putting a delta into the what that is at hand. */
import type { Delta } from '../../api/client';
import type { Held } from './hand';

const replaced = <T>(old: T[], moved: T[], id: (one: T) => string): T[] => {
  const fresh = new Map(moved.map((one) => [id(one), one]));
  const kept = old.map((one) => fresh.get(id(one)) ?? one);
  const known = new Set(old.map(id));
  return [...kept, ...moved.filter((one) => !known.has(id(one)))];
};

/** The what after a delta. An older delta than what is at hand only adds what it knows; it never takes the header back. */
export function merged<T extends Held>(held: T, delta: Delta): T {
  const head = delta.head.seq >= held.head.seq ? delta.head : held.head;
  if (delta.whole)
    return {
      ...held,
      head,
      documents: delta.documents,
      parties: delta.parties,
      suggested: delta.suggested,
      facts: delta.facts,
      blanks: delta.blanks,
    };
  const gone = goneParties(held, delta);
  const facts = replaced(held.facts, delta.facts, (f) => f.key).filter((f) => !gone(f.key));
  return {
    ...held,
    head,
    documents: delta.documents,
    parties: delta.parties,
    suggested: delta.suggested,
    facts,
    blanks: replaced(held.blanks, delta.blanks, (b) => `${b.document}/${b.field}`),
  };
}

/** Whether a key speaks of a party position that no longer exists. */
function goneParties(held: Held, delta: Delta): (key: string) => boolean {
  return (key) => {
    const [group = '', position = ''] = key.split('.');
    const now = delta.parties[group];
    return now !== undefined && /^\d+$/.test(position) && group in held.parties && Number(position) > now.length;
  };
}
