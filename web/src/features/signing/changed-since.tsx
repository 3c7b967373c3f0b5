/** What the deal says otherwise now than the papers that were sent. */
import type { WholeRound } from '../../api/client';

const SHOWN = 8;

export function ChangedSince({ row }: { row: WholeRound }) {
  if (row.changed.length === 0) return null;
  return (
    <section aria-label="Changed since it was sent" className="mb-5 border border-ochre bg-ochre-wash px-4 py-3 text-sm">
      <h3 className="font-semibold">Changed since it was sent</h3>
      <p className="text-ink-2">
        The papers that you sent stay as they are.
        {row.state === 'out' &&
          ' To have the new ones signed, recall this round and send a new one like it: what is unchanged stays signed.'}
      </p>
      <ul className="mt-1.5 space-y-0.5">
        {row.changed.slice(0, SHOWN).map((c, n) => (
          <li key={n} className="wrap-anywhere">
            {c.paper.split(' ')[0]}, {c.label}: <s className="text-ink-2">{c.was || 'empty'}</s> {c.now || 'empty'}
          </li>
        ))}
        {row.changed.length > SHOWN && <li>and {row.changed.length - SHOWN} more</li>}
      </ul>
    </section>
  );
}
