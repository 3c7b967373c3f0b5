/** Putting a delta into the deal that is at hand. */
import type { Deal, Delta } from '../../api/client';

const replaced = <T>(old: T[], moved: T[], id: (one: T) => string): T[] => {
  const fresh = new Map(moved.map((one) => [id(one), one]));
  const kept = old.map((one) => fresh.get(id(one)) ?? one);
  const known = new Set(old.map(id));
  return [...kept, ...moved.filter((one) => !known.has(id(one)))];
};

/** The deal after a delta. An older delta than what is at hand only adds what it knows; it never takes the header back. */
export function merged(deal: Deal, delta: Delta): Deal {
  const head = delta.head.seq >= deal.head.seq ? delta.head : deal.head;
  if (delta.whole)
    return {
      ...deal,
      head,
      documents: delta.documents,
      parties: delta.parties,
      suggested: delta.suggested,
      facts: delta.facts,
      blanks: delta.blanks,
    };
  const gone = goneParties(deal, delta);
  const facts = replaced(deal.facts, delta.facts, (f) => f.key).filter((f) => !gone(f.key));
  return {
    ...deal,
    head,
    documents: delta.documents,
    parties: delta.parties,
    suggested: delta.suggested,
    facts,
    blanks: replaced(deal.blanks, delta.blanks, (b) => `${b.document}/${b.field}`),
  };
}

/** Whether a key speaks of a party position that no longer exists. */
function goneParties(deal: Deal, delta: Delta): (key: string) => boolean {
  return (key) => {
    const [group = '', position = ''] = key.split('.');
    const now = delta.parties[group];
    return now !== undefined && /^\d+$/.test(position) && group in deal.parties && Number(position) > now.length;
  };
}
