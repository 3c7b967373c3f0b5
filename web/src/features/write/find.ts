/** Finding text in a package: what is printed on its pages, and what stands in its blanks. */
import type { Blank } from '../../api/client';
import type { Words } from '../../api/whole';
import type { Page } from '../assembly/pages';

/** Left, bottom, right and top, in points from a page's lower left. */
export type Box = [left: number, bottom: number, right: number, top: number];

export interface Hit {
  /** The place of its page in the package. */
  at: number;
  boxes: Box[];
  /** The blank that it stands in. */
  blank?: Blank;
}

/** Fewer characters than that stand on every line. */
export const FEWEST = 2;
/** More than that nobody goes through one by one. */
export const MOST_HITS = 1_000;
/** How wide a letter is in sizes of its print, about: of continuation pages only the beginning of a line is known. */
const LETTER = 0.5;

/** As it is compared: small letters, plain quotes, no accents, single blanks. */
export const plain = (text: string) =>
  text.normalize('NFKD').replace(/\p{M}/gu, '').replace(/[’‘]/g, "'").replace(/[“”]/g, '"').replace(/\s+/g, ' ').toLowerCase();

interface Text {
  text: string;
  /** Where each of the words begins in it. */
  begins: number[];
}

const joinedOf = new WeakMap<Words[number], Text>();

function joined(words: Words[number]): Text {
  const known = joinedOf.get(words);
  if (known) return known;
  const begins: number[] = [];
  let text = '';
  for (const word of words) {
    begins.push(text.length);
    text += `${plain(word[4]).trim()} `;
  }
  const made = { text, begins };
  joinedOf.set(words, made);
  return made;
}

/** Where the text stands in another, each place once. */
function* places(text: string, wanted: string): Generator<number> {
  for (let at = text.indexOf(wanted); at >= 0; at = text.indexOf(wanted, at + wanted.length)) yield at;
}

/** Boxes beside each other on a line are one. */
export function byLine(boxes: Iterable<Box>): Box[] {
  const lines: Box[] = [];
  for (const box of boxes) {
    const last = lines.at(-1);
    const isOnItsLine = last && Math.abs(last[1] - box[1]) < 4 && box[0] >= last[0];
    if (isOnItsLine) lines[lines.length - 1] = [last[0], Math.min(last[1], box[1]), box[2], Math.max(last[3], box[3])];
    else lines.push(box);
  }
  return lines;
}

/** The boxes of some characters, one for each line that they are on; of words that are found in part, that part. */
function boxesOf(words: Words[number], { begins, text }: Text, begin: number, end: number): Box[] {
  const boxes: Box[] = [];
  const first = begins.findLastIndex((b) => b <= begin);
  for (let n = first; n < words.length && (begins[n] ?? 0) < end; n++) {
    const [left, bottom, right, top] = words[n] ?? [0, 0, 0, 0, ''];
    const from = begins[n] ?? 0;
    const long = Math.max(1, (begins[n + 1] ?? text.length) - 1 - from);
    const share = (character: number) => left + ((right - left) * Math.min(long, Math.max(0, character - from))) / long;
    boxes.push([share(begin), bottom, share(end), top]);
  }
  return byLine(boxes);
}

const printed = (at: number, words: Words[number], wanted: string): Hit[] => {
  const text = joined(words);
  return [...places(text.text, wanted)].map((begin) => ({ at, boxes: boxesOf(words, text, begin, begin + wanted.length) }));
};

const filled = (at: number, blanks: Blank[], wanted: string): Hit[] =>
  blanks
    .filter((b) => b.shape === 'text' && b.text !== '' && plain(b.text).includes(wanted))
    .map((blank) => ({ at, boxes: [blank.rect as Box], blank }));

const continued = (at: number, page: NonNullable<Page['continuation']>, wanted: string): Hit[] =>
  page.lines
    .map(([x, y, size, text]) => ({ x: Number(x), y: Number(y), size: Number(size), text: String(text) }))
    .filter(({ text }) => plain(text).includes(wanted))
    .map(({ x, y, size, text }) => ({ at, boxes: [[x, y - size * 0.3, x + text.length * size * LETTER, y + size] as Box] }));

/** From the top down, and from the left. */
const reading = (a: Hit, b: Hit) =>
  (b.boxes[0]?.[3] ?? 0) - (a.boxes[0]?.[3] ?? 0) || (a.boxes[0]?.[0] ?? 0) - (b.boxes[0]?.[0] ?? 0);

/** Where a text stands in the package, in reading order: at most MOST_HITS. `words` are those of the editions read so far. */
export function hitsOf(pages: Page[], words: ReadonlyMap<string, Words>, text: string): Hit[] {
  const wanted = plain(text).trim();
  const hits: Hit[] = [];
  if (wanted.length < FEWEST) return hits;
  for (const [at, page] of pages.entries()) {
    const on = page.continuation
      ? continued(at, page.continuation, wanted)
      : [
          ...printed(at, words.get(page.document.edition ?? '')?.[page.number - 1] ?? [], wanted),
          ...filled(at, page.blanks, wanted),
        ];
    hits.push(...on.sort(reading));
    if (hits.length >= MOST_HITS) return hits.slice(0, MOST_HITS);
  }
  return hits;
}
