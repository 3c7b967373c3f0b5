/** Putting a delta into the what that is at hand. */
import { partyOf } from '../../api/keys';
import type { Delta } from '../../api/client';
import type { Held } from './workspace';

const replaced = <T>(old: T[], moved: T[], id: (one: T) => string): T[] => {
  const fresh = new Map(moved.map((one) => [id(one), one]));
  const kept = old.map((one) => fresh.get(id(one)) ?? one);
  const known = new Set(old.map(id));
  return [...kept, ...moved.filter((one) => !known.has(id(one)))];
};

/**
 * The what after a delta. An answer that newer ones have overtaken is not taken in: its values are of yesterday. One that
 * speaks of a step behind others' steps is, but those are still to be asked for: `seen` stays before them.
 */
export function merged<T extends Held>(held: T, delta: Delta): T {
  const { head } = delta;
  if (head.seq < held.head.seq) return held;
  const followsOn = delta.after <= held.seen;
  const seen = followsOn ? Math.max(held.seen, delta.until) : held.seen;
  if (delta.whole)
    return {
      ...held,
      head,
      seen,
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
    seen,
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
    const { group, position } = partyOf(key);
    const now = delta.parties[group];
    return now !== undefined && group in held.parties && position > now.length;
  };
}
