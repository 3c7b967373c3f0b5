/** How much a template answers, drawn to scale, and in words. */

/** Who or what answers, in the order of the drawing, each with the ink of its mark. */
const PARTS: [string, string, string][] = [
  ['you', 'by you', 'var(--color-src-template)'],
  ['listing and roll', 'listing and roll', 'var(--color-src-listing)'],
  ['profile', 'profile', 'var(--color-src-profile)'],
  ['contacts', 'contacts', 'var(--color-src-roll)'],
  ['worked out', 'worked out', 'var(--color-src-worked)'],
  ['parties', 'parties', 'var(--color-src-typed)'],
  ['client', 'the client', 'var(--color-src-signer)'],
];
const ASKED = 'asked';

type Counts = Record<string, number>;

export const sumOf = (counts: Counts) => Object.values(counts).reduce((a, b) => a + b, 0);
/** The share of blanks that are answered without asking anybody, in percent. */
export const answeredOf = (counts: Counts) => Math.round((100 * (sumOf(counts) - (counts[ASKED] ?? 0))) / (sumOf(counts) || 1));

export function CoverageBar({ counts, width = 150 }: { counts: Counts; width?: number | string }) {
  const all = sumOf(counts);
  if (all === 0) return <span className="text-xs text-ink-2">no blanks yet</span>;
  return (
    <span
      role="img"
      aria-label={`${answeredOf(counts)}% of blanks answered: ${inWords(counts)}`}
      title={inWords(counts)}
      className="flex h-2.5 overflow-hidden border border-blotter-3 bg-paper"
      style={{ width }}
    >
      {PARTS.map(([by, , ink]) => (
        <span key={by} style={{ width: `${(100 * (counts[by] ?? 0)) / all}%`, background: ink }} />
      ))}
    </span>
  );
}

export const inWords = (counts: Counts) =>
  [...PARTS.map(([by, words]) => (counts[by] ? `${counts[by]} ${words}` : '')), `${counts[ASKED] ?? 0} left to ask`]
    .filter(Boolean)
    .join(', ');

/** The same as a list with the inks beside it. */
export function CoverageLegend({ counts }: { counts: Counts }) {
  return (
    <ul className="flex flex-wrap gap-x-4 gap-y-1 text-xs text-ink-2">
      {PARTS.filter(([by]) => counts[by]).map(([by, words, ink]) => (
        <li key={by} className="flex items-center gap-1.5 whitespace-nowrap">
          <span className="inline-block h-2.5 w-2.5" style={{ background: ink }} /> {counts[by]} {words}
        </li>
      ))}
      <li className="flex items-center gap-1.5 whitespace-nowrap">
        <span className="inline-block h-2.5 w-2.5 border border-blotter-3 bg-paper" /> {counts[ASKED] ?? 0} left to ask
      </li>
    </ul>
  );
}
