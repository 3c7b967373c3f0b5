/** Words of a page chosen to be struck out, and the place where something is to be written in. */
import type { HandOp } from '../../api/client';
import type { Words } from '../../api/whole';
import type { Page } from '../assembly/pages';
import { byLine, type Box } from './find';

export interface Chosen {
  page: Page;
  /** The words from one to another, by their places on the page; where none are, a place alone. */
  from: number;
  to: number;
  at: [x: number, y: number] | null;
}

/** What is written above words begins so many points above them. */
const ABOVE = 9.5;
/** So far from a word, in points, it is meant all the same. */
const NEAR = 3;

export const boxOf = ([left, bottom, right, top]: Words[number][number]): Box => [left, bottom, right, top];

/** The word at a point, by its place; -1 where there is none. */
export const wordAt = (words: Words[number], x: number, y: number) =>
  words.findIndex(([left, bottom, right, top]) => x >= left - NEAR && x <= right + NEAR && y >= bottom - NEAR && y <= top + NEAR);

/** The word nearest to a point: on its line before all others. */
export function wordNearest(words: Words[number], x: number, y: number): number {
  const away = ([left, bottom, right, top]: Words[number][number]) =>
    Math.max(bottom - y, y - top, 0) * 10 + Math.max(left - x, x - right, 0);
  return words.reduce((best, w, n) => (best < 0 || away(w) < away(words[best] ?? w) ? n : best), -1);
}

/** The word that an arrow leads to. */
export function wordBeside(words: Words[number], at: number, key: string): number {
  if (key === 'ArrowRight') return Math.min(at + 1, words.length - 1);
  if (key === 'ArrowLeft') return Math.max(at - 1, 0);
  const here = words[at];
  if (!here) return 0;
  const below = key === 'ArrowDown';
  const isBeyond = (w: Words[number][number]) => (below ? w[3] < here[1] + 2 : w[1] > here[3] - 2);
  const away = (w: Words[number][number]) => Math.abs(w[1] - here[1]) * 4 + Math.abs(w[0] - here[0]);
  const beyond = words.map((w, n) => ({ n, w })).filter(({ w }) => isBeyond(w));
  return beyond.sort((a, b) => away(a.w) - away(b.w))[0]?.n ?? at;
}

export function chosenWords(words: Words[number], { from, to }: Chosen): Words[number] {
  return from < 0 ? [] : words.slice(Math.min(from, to), Math.max(from, to) + 1);
}

/** The change that is asked for: words struck out, with `text` written above them or at the place. */
export function changeOf(chosen: Chosen, words: Words[number], text: string, strike: boolean): HandOp {
  const taken = chosenWords(words, chosen);
  const boxes = byLine(taken.map(boxOf));
  const [first] = boxes;
  const above: [number, number] | null = first ? [first[0], Math.min(first[3] + ABOVE, chosen.page.size.height)] : null;
  return {
    op: 'add',
    id: crypto.randomUUID(),
    page: chosen.page.number,
    struck: strike ? boxes : [],
    words: taken.map((w) => w[4]).join(' '),
    text,
    at: text ? (chosen.at ?? above) : null,
  };
}
