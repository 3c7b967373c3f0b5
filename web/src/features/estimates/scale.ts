/** Where a sum's money goes, to scale: each line begins where the one before it ended. */
import type { Reckoned } from '../../api/client';
import type { Cell } from './use-reckoned';

/** A line's place on the scale, in parts of the whole. */
export interface Step {
  from: number;
  width: number;
  /** Whether it adds to the sum. */
  adds: boolean;
}

type Cells = ReadonlyMap<string, Cell>;

/** How each line moves the sum, in dollars, and the most that it comes to on the way: the whole of the scale. */
function runsOf({ lines }: Pick<Reckoned, 'lines'>, cells: Cells) {
  const runs: { key: string; from: number; to: number }[] = [];
  let at = 0;
  let most = 0;
  for (const line of lines) {
    if (line.is_sum) continue;
    const to = at + Number(cells.get(line.key)?.amount ?? 0) * line.sign;
    if (to !== at) runs.push({ key: line.key, from: at, to });
    at = to;
    most = Math.max(most, Math.abs(to));
  }
  return { runs, whole: most || 1 };
}

/** By line its step; of lines that are sums of others none, since those stand below them. */
export function stepsOf(sheet: Pick<Reckoned, 'lines'>, cells: Cells): Map<string, Step> {
  const { runs, whole } = runsOf(sheet, cells);
  return new Map(
    runs.map(({ key, from, to }) => {
      const [low, high] = [Math.max(0, Math.min(from, to)), Math.max(0, from, to)];
      return [key, { from: low / whole, width: (high - low) / whole, adds: to > from }];
    }),
  );
}

/** The sum itself on the same scale. */
export function resultStep(sheet: Reckoned, cells: Cells): Step {
  const amount = Number(cells.get(sheet.result)?.amount ?? 0);
  const { runs, whole } = runsOf(sheet, cells);
  return { from: 0, width: runs.length ? Math.min(1, Math.max(0, amount / whole)) : 0, adds: true };
}
