/** How a person's places in a paper are told. */
import { expect, test } from 'vitest';
import { placesIn, spans } from '../../web/src/features/signing/places';

test('pages that follow each other are one span', () => {
  expect(spans([1, 2, 3, 7, 9, 10])).toBe('1–3, 7, 9–10');
  expect(spans([4])).toBe('4');
  expect(spans([])).toBe('');
});

test('places are counted by what is put there', () => {
  const paper = { document: 'd', number: '301', title: 'Offer' };
  const told = (more: object) => placesIn({ ...paper, signatures: 0, initials: 0, dates: 0, pages: [2], ...more });
  expect(told({ signatures: 1, initials: 8, dates: 1, pages: [1, 2] })).toBe(
    '1 signature, 8 sets of initials, 1 date, on pages 1–2',
  );
  expect(told({ initials: 1 })).toBe('1 set of initials, on page 2');
});
