/** Papers made of the pages of files that came. */
import { expect, test } from 'vitest';
import type { FoundPaper, Incoming } from '../../web/src/api/client';
import {
  foundAs,
  joined,
  moved,
  ordered,
  reconciled,
  split,
  takenOut,
  turned,
  type Paper,
} from '../../web/src/features/deals/arranging';

const found = (first: number, last: number, more: Partial<FoundPaper> = {}) =>
  ({
    first,
    last,
    title: `pages ${first}`,
    number: '',
    place: '',
    section: 'From others',
    audience: ['client', 'other side'],
    answers: [],
    open: [],
    ...more,
  }) as FoundPaper;
const row = (id: string, pages: number, ...parts: FoundPaper[]) =>
  ({
    id,
    name: `${id}.pdf`,
    pages: Array.from({ length: pages }, () => ({
      width: 612,
      height: 792,
      scan: false,
    })),
    found: parts,
  }) as unknown as Incoming;
const answers = [
  { key: 'a', label: 'A', text: '1', ours: '', may: true, same: false },
  { key: 'b', label: 'B', text: '2', ours: '3', may: true, same: false },
  { key: '', label: 'C', text: 'x', ours: '', may: false, same: false },
];
const ROWS = [row('one', 3, found(1, 2, { answers, number: '503' }), found(3, 3))];
const papers = () => reconciled([], ROWS, new Set());
const sheets = (all: Paper[]) => all.map((p) => p.pages.map((s) => s.page));

test('each paper is as it was found, and takes over only what the deal does not say', () => {
  expect(sheets(papers())).toEqual([[1, 2], [3]]);
  expect(papers()[0]!.take).toEqual(['a']);
  expect(foundAs(papers()[0]!, ROWS)?.number).toBe('503');
});

test('what was arranged stays, without pages that are gone and with what has come since', () => {
  const kept = [{ ...papers()[0]!, title: 'Mine' }];
  const later = reconciled(kept, [...ROWS, row('two', 1, found(1, 1))], new Set(['one']), 'place');
  expect(later.map((p) => p.title)).toEqual(['Mine', 'pages 1']);
  expect(later[1]!.place).toBe('place');
  expect(reconciled(kept, [], new Set(['one']))).toEqual([]);
});

test('pages are turned, moved, taken out, parted and joined', () => {
  expect(turned(papers(), 0, 1)[0]!.pages[1]!.turn).toBe(90);
  expect([1, 2, 3, 4].reduce((all) => turned(all, 0, 0), papers())[0]!.pages[0]!.turn).toBe(0);
  expect(sheets(moved(papers(), 0, 0, 1))).toEqual([[2, 1], [3]]);
  expect(sheets(takenOut(papers(), 0, 0))).toEqual([[2], [3]]);
  expect(sheets(takenOut(papers(), 1, 0))).toEqual([[1, 2]]);
  const parted = split(papers(), 0, 1);
  expect(sheets(parted)).toEqual([[1], [2], [3]]);
  expect(new Set(parted.map((p) => p.id)).size).toBe(3);
  expect(foundAs(parted[0]!, ROWS)).toBeUndefined();
  expect(split(papers(), 0, 0)).toEqual(papers());
  expect(sheets(joined(papers(), 1))).toEqual([[1, 2, 3]]);
  expect(sheets(joined(papers(), 0))).toEqual([[1, 2], [3]]);
  expect(sheets(ordered(papers(), 1, -1))).toEqual([[3], [1, 2]]);
});

test('no page is lost or doubled whatever is done', () => {
  const all = (of: Paper[]) => sheets(of).flat().sort();
  for (const done of [split(papers(), 0, 1), joined(papers(), 1), moved(papers(), 0, 1, -1), ordered(papers(), 0, 1)])
    expect(all(done)).toEqual([1, 2, 3]);
});
