/** Words of a page chosen to be struck out. */
import { expect, test } from 'vitest';
import type { Words } from '../../web/src/api/whole';
import type { Page } from '../../web/src/features/assembly/pages';
import { changeOf, chosenWords, wordAt, wordBeside, wordNearest, type Chosen } from '../../web/src/features/write/chosen-words';

const word = (left: number, bottom: number, text: string): Words[number][number] => [left, bottom, left + 40, bottom + 10, text];
const WORDS: Words[number] = [
  word(100, 700, 'Seller'),
  word(145, 700, 'pays'),
  word(190, 700, 'the'),
  word(100, 686, 'survey'),
  word(145, 686, 'fee'),
];
const page = { number: 2, size: { width: 612, height: 792 } } as Page;
const chosen = (from: number, to: number, at: Chosen['at'] = null): Chosen => ({
  page,
  from,
  to,
  at,
});

test('a word is meant by a point on it or close to it', () => {
  expect(wordAt(WORDS, 150, 705)).toBe(1);
  expect(wordAt(WORDS, 142.5, 705)).toBe(0);
  expect(wordAt(WORDS, 400, 705)).toBe(-1);
  expect(wordNearest(WORDS, 400, 687)).toBe(4);
  expect(wordNearest([], 1, 1)).toBe(-1);
});

test('arrows go along a line, and to the word below or above', () => {
  expect(wordBeside(WORDS, 1, 'ArrowRight')).toBe(2);
  expect(wordBeside(WORDS, 0, 'ArrowLeft')).toBe(0);
  expect(wordBeside(WORDS, 4, 'ArrowRight')).toBe(4);
  expect(wordBeside(WORDS, 1, 'ArrowDown')).toBe(4);
  expect(wordBeside(WORDS, 3, 'ArrowUp')).toBe(0);
  expect(wordBeside(WORDS, 3, 'ArrowDown')).toBe(3);
});

test('words over two lines are struck out by a box on each, from wherever they were chosen', () => {
  for (const way of [chosen(1, 3), chosen(3, 1)]) {
    const made = changeOf(way, WORDS, '', true);
    expect(made.words).toBe('pays the survey');
    expect(made.struck).toEqual([
      [145, 700, 230, 710],
      [100, 686, 140, 696],
    ]);
    expect(made.at).toBeNull();
  }
});

test('what is written stands above the words, at the place, and never beyond the page', () => {
  expect(changeOf(chosen(0, 0), WORDS, 'Buyer', true).at).toEqual([100, 719.5]);
  expect(changeOf(chosen(0, 0), WORDS, 'Buyer', false).struck).toEqual([]);
  expect(changeOf(chosen(-1, -1, [300, 200]), WORDS, 'Buyer', false)).toMatchObject({ at: [300, 200], words: '', page: 2 });
  expect(changeOf(chosen(0, 0), [word(100, 785, 'High')], 'x', true).at).toEqual([100, 792]);
  expect(chosenWords(WORDS, chosen(-1, -1))).toEqual([]);
});
