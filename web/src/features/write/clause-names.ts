/** Which clauses are meant by what is typed. */
import type { Clause } from '../../api/client';

export type Field = HTMLInputElement | HTMLTextAreaElement;

const MOST_WORDS = 5;
/** Fewer letters than that begin any name. */
const FEWEST = 3;

/** Clauses whose names begin like the last words before the cursor, and how many characters these are. */
export function nameBefore(clauses: Clause[], before: string): { fitting: Clause[]; length: number } {
  const line = before.slice(before.lastIndexOf('\n') + 1);
  const starts = [...line.matchAll(/\S+/g)].map((m) => m.index).slice(-MOST_WORDS);
  for (const start of starts) {
    const typed = line.slice(start).toLowerCase();
    if (typed.trim().length < FEWEST) continue;
    const fitting = clauses.filter((c) => c.name.toLowerCase().startsWith(typed));
    if (fitting.length > 0) return { fitting, length: typed.length };
  }
  return { fitting: [], length: 0 };
}

/** Those that are looked for; without that all, those first that are being named, then approved ones. */
export function ranked(clauses: Clause[], find: string, named: { fitting: Clause[] }): Clause[] {
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const fitting = clauses.filter((c) => words.every((w) => `${c.name} ${c.wording}`.toLowerCase().includes(w)));
  const rank = (c: Clause) => (named.fitting.includes(c) ? 0 : c.approved_by ? 1 : 2);
  return fitting.toSorted((a, b) => rank(a) - rank(b) || b.used - a.used);
}
