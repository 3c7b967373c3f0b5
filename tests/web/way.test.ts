// @vitest-environment jsdom
/** The way through what is open: the order, what is passed over, and coming back. */
import { beforeEach, expect, test } from 'vitest';
import type { Blank, PackageItem } from '../../web/src/api/client';
import { blank } from './blanks';
import { idOf, inReadingOrder, isOpen, keepPlace, openBeside, wayOf } from '../../web/src/features/workspace/way';

const document = (id: string, more: Partial<PackageItem> = {}) =>
  ({ id, edition: 'e', set_aside: false, ...more }) as PackageItem;
const next = (blanks: Blank[], inHand: string | null, back = false) => openBeside(blanks, inHand && `d1/${inHand}`, back)?.field;

test('blanks come as one reads the package: by document, by page, without signatures and what is set aside', () => {
  const blanks = [
    blank('late', { page: 2 }),
    blank('elsewhere', { document: 'd2' }),
    blank('aside', { document: 'd3' }),
    blank('early'),
    blank('signature', { shape: 'sign' }),
    blank('waits', { document: 'd4' }),
  ];
  const documents = [document('d2'), document('d1'), document('d3', { set_aside: true }), document('d4', { edition: '' })];
  expect(inReadingOrder({ documents, blanks }).map((b) => b.field)).toEqual(['elsewhere', 'early', 'late']);
});

test('the next open one comes after the one in hand, round the package, and back', () => {
  const blanks = [blank('a'), blank('b', { state: 'filled' }), blank('c'), blank('d')];
  expect(next(blanks, null)).toBe('a');
  expect(next(blanks, 'a')).toBe('c');
  expect(next(blanks, 'd')).toBe('a');
  expect(next(blanks, 'c', true)).toBe('a');
  expect(next(blanks, 'a', true)).toBe('d');
});

test('what an open blank fills is passed over; what waits for something that no blank asks is not', () => {
  const blanks = [
    blank('balance', { waits_for: ['f.price'] }),
    blank('closing', { waits_for: ['f.acceptance'] }),
    blank('price'),
    blank('sellers', { editable: false, waits_for: ['sellers'] }),
  ];
  expect(next(blanks, null)).toBe('closing');
  expect(next(blanks, 'closing')).toBe('price');
  expect(next(blanks, 'price')).toBe('sellers');
});

test('two that wait for each other are come to all the same', () => {
  const blanks = [blank('amount', { waits_for: ['f.percent'] }), blank('percent', { waits_for: ['f.amount'] })];
  expect(next(blanks, null)).toBe('amount');
});

test('a filled one is stopped at only where it waits for somebody; where nothing is open there is no way', () => {
  const unread = blank('unread', {
    state: 'filled',
    draft: { text: 'x', message: '', mend: '' } as Blank['draft'],
  });
  expect(isOpen(unread)).toBe(true);
  expect(next([blank('a', { state: 'filled' }), unread], 'a')).toBe('unread');
  expect(next([blank('a', { state: 'filled' })], 'a')).toBeUndefined();
  expect(next([blank('only')], 'only')).toBe('only');
});

beforeEach(() => sessionStorage.clear());

test('the place is kept for coming back, in this window', () => {
  keepPlace('one', { blank: idOf(blank('a')) });
  keepPlace('one', { page: 'd1-3' });
  expect(wayOf('one')).toMatchObject({ blank: 'd1/a', page: 'd1-3' });
  expect(sessionStorage.getItem('quill-way-one')).toBe('d1/a\nd1-3');
  sessionStorage.setItem('quill-way-two', 'd1/b\nd1-2');
  expect(wayOf('two')).toMatchObject({ blank: 'd1/b', page: 'd1-2' });
  expect(wayOf('three')).toMatchObject({ blank: null, page: '' });
});

test('what waits for itself, for what is answered, or for what nobody may write in is come to in its turn', () => {
  const after = blank('after');
  expect(next([blank('own', { waits_for: ['f.own'] }), after], null)).toBe('own');
  const waits = blank('waits', { waits_for: ['f.other'] });
  for (const other of [{ state: 'filled' as const }, { editable: false }])
    expect(next([waits, blank('other', other), after], null)).toBe('waits');
});

test('the one in hand is come to again where it is the only open one', () => {
  expect(next([blank('a', { state: 'filled' }), blank('b')], 'b')).toBe('b');
  expect(next([blank('a'), blank('b', { state: 'filled' })], 'b')).toBe('a');
});

test('the way of a hand is one, whoever asks for it', () => {
  expect(wayOf('same')).toBe(wayOf('same'));
});
