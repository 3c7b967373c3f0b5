/** Places for those who sign a paper: their kinds and usual sizes, where one is free, and for whom comes next. */
import type { HandSpot } from '../../api/client';
import { collide, moved, type Rect, type Size } from '../forms/placing';

export type What = HandSpot['what'];

/** Each kind with its key, and its usual size in points: what a hand needs, and what type of 10 points does. */
export const KINDS: readonly { what: What; name: string; key: string; size: readonly [number, number] }[] = [
  { what: 'signature', name: 'Signature', key: 's', size: [160, 22] },
  { what: 'initials', name: 'Initials', key: 'i', size: [34, 18] },
  { what: 'date', name: 'Date signed', key: 'd', size: [74, 16] },
  { what: 'name', name: 'Printed name', key: 'n', size: [160, 16] },
  { what: 'text', name: 'Text', key: 't', size: [160, 16] },
  { what: 'check', name: 'Box', key: 'b', size: [12, 12] },
];

export const kindOf = (what: What) => KINDS.find((k) => k.what === what)!;
export const isFilledIn = (what: What) => what === 'text' || what === 'check';
export const rectOf = (spot: Pick<HandSpot, 'rect'>) => spot.rect as Rect;

/** Kinds that may get their date beside them. */
export const DATED = ['signature', 'initials'] as const;
export type Dated = Record<(typeof DATED)[number], boolean>;
export const mayBeDated = (what: What): what is (typeof DATED)[number] => what === 'signature' || what === 'initials';

const BESIDE = 8;

/** Whether a date stands where the date of a place stands: on its line, right beside it. */
export const isBeside = (date: HandSpot, of: HandSpot) => {
  const [left, bottom] = rectOf(date);
  const near = Math.abs(left - (rectOf(of)[2] + BESIDE)) < 1 && Math.abs(bottom - rectOf(of)[1]) < 1;
  return date.what === 'date' && date.who === of.who && date.page === of.page && near;
};

/** The usual size of a kind with its middle at a point, on the page. */
export function around(what: What, [x, y]: readonly [number, number], page: Size): Rect {
  const [w, h] = kindOf(what).size;
  return moved([0, 0, w, h], x - w / 2, y - h / 2, page);
}

export const isFree = (rect: Rect, taken: Rect[], page: Size) =>
  rect[0] >= 0 && rect[1] >= 0 && rect[2] <= page.width && rect[3] <= page.height && !taken.some((o) => collide(o, rect));

/** The free place nearest below or above a wanted one; null where the page has none. */
export function freeNear(wanted: Rect, taken: Rect[], page: Size): Rect | null {
  const [l, b, r, t] = wanted;
  for (let off = 0; off <= page.height; off += 6)
    for (const dy of [-off, off]) {
      const rect: Rect = [l, b + dy, r, t + dy];
      if (isFree(rect, taken, page)) return rect;
    }
  return null;
}

/** Where the date of a signature stands: on its line, to the right of it; null where that is taken. */
export function dateBeside(rect: Rect, taken: Rect[], page: Size): Rect | null {
  const [w, h] = kindOf('date').size;
  const left = rect[2] + BESIDE;
  const found: Rect = [left, rect[1], left + w, rect[1] + h];
  return isFree(found, [...taken, rect], page) ? found : null;
}

/** Pages as people write them ("2–5, 9", "all"), of so many; what is no page of the paper is left out. */
export function pagesFrom(text: string, most: number): number[] {
  if (/^\s*(all|every)\b/i.test(text)) return Array.from({ length: most }, (_, n) => n + 1);
  const found = new Set<number>();
  for (const part of text.split(/[\s,;]+/)) {
    const [, from, to] = part.match(/^(\d{1,4})(?:[-–](\d{1,4}))?$/) ?? [];
    if (!from) continue;
    for (let n = Number(from); n <= Math.min(Number(to ?? from), most); n++) if (n >= 1) found.add(n);
  }
  return [...found].sort((a, b) => a - b);
}

/** The next of the same group (“buyers.2” after “buyers.1”), else the next at all; null after the last. */
export function nextOf(who: string, people: readonly { key: string }[]): string | null {
  const at = people.findIndex((p) => p.key === who);
  return at < 0 ? null : (people[at + 1]?.key ?? null);
}

/** In reading order: by page, from above, from the left. */
export const inOrder = (a: HandSpot, b: HandSpot) =>
  a.page - b.page || (b.rect[3] ?? 0) - (a.rect[3] ?? 0) || (a.rect[0] ?? 0) - (b.rect[0] ?? 0);
