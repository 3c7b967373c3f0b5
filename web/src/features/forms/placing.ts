/** Where blanks lie on a page while they are drawn, moved and resized: points from the lower left corner, as in the form. */

export type Rect = [left: number, bottom: number, right: number, top: number];
export interface Size {
  width: number;
  height: number;
}

const SNAP = 4;
/** Points that a place takes at least, as the core has it (`pdf/rects.py`). */
export const LEAST = 8;
const TOUCH = 1;

/** Whether two blanks lie on each other; they may touch. */
export const collide = (a: Rect, b: Rect): boolean =>
  Math.min(a[2], b[2]) - Math.max(a[0], b[0]) > 2 * TOUCH && Math.min(a[3], b[3]) - Math.max(a[1], b[1]) > 2 * TOUCH;

/** The rectangle moved, no further than the page's edges. */
export function moved([l, b, r, t]: Rect, dx: number, dy: number, page: Size): Rect {
  const x = Math.max(-l, Math.min(dx, page.width - r));
  const y = Math.max(-b, Math.min(dy, page.height - t));
  return [l + x, b + y, r + x, t + y];
}

/** The rectangle with its right lower corner dragged, never smaller than can be seen. */
export const resized = ([l, b, r, t]: Rect, dx: number, dy: number, page: Size): Rect => [
  l,
  Math.max(0, Math.min(t - LEAST, b + dy)),
  Math.min(page.width, Math.max(l + LEAST, r + dx)),
  t,
];

/** The rectangle drawn from one point to another. */
export const drawn = (from: [number, number], to: [number, number], page: Size): Rect => {
  const [x1 = 0, x2 = 0] = [from[0], to[0]].sort((a, b) => a - b).map((x) => Math.max(0, Math.min(page.width, x)));
  const [y1 = 0, y2 = 0] = [from[1], to[1]].sort((a, b) => a - b).map((y) => Math.max(0, Math.min(page.height, y)));
  return [x1, y1, Math.max(x2, x1 + LEAST), Math.max(y2, y1 + LEAST)];
};

const nearest = (value: number, lines: number[]): number =>
  lines.reduce((best, line) => (Math.abs(line - value) < Math.abs(best) ? line - value : best), SNAP + 0.001);

/** Shifts that bring edges into line with those of others nearby; 0 where none is near. */
export function snapping(rect: Rect, others: Rect[]): { dx: number; dy: number } {
  const xs = others.flatMap((o) => [o[0], o[2]]);
  const ys = others.flatMap((o) => [o[1], o[3]]);
  const dx = [nearest(rect[0], xs), nearest(rect[2], xs)].reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a));
  const dy = [nearest(rect[1], ys), nearest(rect[3], ys)].reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a));
  return { dx: Math.abs(dx) <= SNAP ? dx : 0, dy: Math.abs(dy) <= SNAP ? dy : 0 };
}

/** Moved and brought into line; where that would lie on another blank, without being brought into line; else not at all. */
export function settle(rect: Rect, others: Rect[], page: Size, before: Rect): Rect {
  const { dx, dy } = snapping(rect, others);
  const snapped = moved(rect, dx, dy, page);
  const free = (r: Rect) => !others.some((o) => collide(r, o));
  return free(snapped) ? snapped : free(rect) ? rect : before;
}

/** A free place for a copy: below, else right of, else above the first; null where the page is full. */
export function placeForCopy(rect: Rect, others: Rect[], page: Size): Rect | null {
  const [w, h] = [rect[2] - rect[0], rect[3] - rect[1]];
  for (let step = 1; step < 40; step++)
    for (const [x, y] of [
      [0, -step * (h + 4)],
      [step * (w + 6), 0],
      [0, step * (h + 4)],
    ] as const) {
      const next: Rect = [rect[0] + x, rect[1] + y, rect[2] + x, rect[3] + y];
      if (
        next[0] >= 0 &&
        next[1] >= 0 &&
        next[2] <= page.width &&
        next[3] <= page.height &&
        !others.some((o) => collide(next, o))
      )
        return next;
    }
  return null;
}

/** A name that no other blank has: "blank-3". */
export function freeId(base: string, taken: Iterable<string>): string {
  const known = new Set(taken);
  if (!known.has(base)) return base;
  let n = 2;
  while (known.has(`${base}-${n}`)) n++;
  return `${base}-${n}`;
}

/** What changes when another fact is meant than the suggested one, which then stands ready in its place. */
export const instead = (p: { fact: string; others: string[] }, fact: string) => ({
  fact,
  kind: '',
  others: [p.fact, ...p.others.filter((o) => o !== fact)].filter(Boolean),
});
