/** What is remarked on something that holds: what is wrong with it or should be looked at, and what to do. */
import type { Finding } from '../../api/client';

const LOOKS: Record<Finding['weight'], string> = { wrong: 'text-wax', look: 'text-ochre', note: 'text-ink-2' };
/** Remarks that say nothing new are left out. */
const distinct = (all: Finding[]) => [...new Map(all.map((f) => [f.message, f])).values()];

export function Findings({ of, inLine = false }: { of: Finding[]; inLine?: boolean }) {
  return distinct(of).map((f) => {
    const said = `${f.message} ${f.mend}`.trim();
    return inLine ? (
      <span key={f.message} className={LOOKS[f.weight]}>
        {' '}
        · {said}
      </span>
    ) : (
      <p key={f.message} role="note" className={`mt-1 text-xs ${LOOKS[f.weight]}`}>
        {said}
      </p>
    );
  });
}
