/** Finding text in a package. */
import { expect, test } from 'vitest';
import type { Words } from '../../web/src/api/whole';
import type { Page } from '../../web/src/features/assembly/pages';
import { hitsOf, MOST_HITS, plain } from '../../web/src/features/write/find';

const word = (left: number, bottom: number, text: string): Words[number][number] => [
  left,
  bottom,
  left + 10 * text.length,
  bottom + 10,
  text,
];
const page = (edition: string, more: Partial<Page> = {}) =>
  ({
    document: { edition },
    number: 1,
    blanks: [],
    size: { width: 612, height: 792 },
    ...more,
  }) as unknown as Page;
const PRINT: Words = [[word(100, 700, 'Earnest'), word(180, 700, 'money'), word(100, 680, 'is'), word(130, 680, 'Seller’s')]];
const words = new Map([['a', PRINT]]);

test('words over a line end are one place with a box on each line', () => {
  const [hit, ...more] = hitsOf([page('a')], words, 'MONEY  is');
  expect(more).toEqual([]);
  expect(hit!.boxes).toEqual([
    [180, 700, 230, 710],
    [100, 680, 120, 690],
  ]);
});

test('of a word that is found in part, that part is marked', () => {
  expect(hitsOf([page('a')], words, 'nest')[0]!.boxes).toEqual([[130, 700, 170, 710]]);
  expect(hitsOf([page('a')], words, 'nest mo')[0]!.boxes).toEqual([[130, 700, 200, 710]]);
});

test('plain quotes, accents and capitals are no hindrance', () => {
  expect(hitsOf([page('a')], words, "seller's")).toHaveLength(1);
  expect(plain('Inês  O’Neil')).toBe("ines o'neil");
});

test('what stands in blanks is found too, in the order of reading, and named by its blank', () => {
  const blank = {
    shape: 'text',
    text: 'Money down',
    rect: [100, 690, 300, 702],
    document: 'd',
    field: 'f',
  };
  const box = { shape: 'box', text: 'money', rect: [100, 720, 110, 730] };
  const hits = hitsOf([page('a', { blanks: [blank, box] as never })], words, 'money');
  expect(hits.map((h) => h.blank?.field)).toEqual([undefined, 'f']);
  expect(hits[1]!.boxes).toEqual([blank.rect]);
});

test('the second copy of a form, a continuation page and a form that is not read yet', () => {
  const behind = page('a', {
    continuation: { lines: [[72, 700, 10, 'more money']] } as never,
  });
  const hits = hitsOf([page('a'), page('b'), page('a'), behind], words, 'money');
  expect(hits.map((h) => h.at)).toEqual([0, 2, 3]);
});

test('one letter is not looked for, and what stands everywhere is not counted to the end', () => {
  expect(hitsOf([page('a')], words, 'm')).toEqual([]);
  const many: Words = [Array.from({ length: 800 }, () => word(0, 0, 'aa'))];
  const found = hitsOf([page('c'), page('c'), page('c')], new Map([['c', many]]), 'aa');
  expect(found).toHaveLength(MOST_HITS);
});
