/** A delta put into the deal at hand. */
import { expect, test } from 'vitest';
import type { Deal, Delta } from '../../web/src/api/client';
import { readTicks } from '../../web/src/primitives/package-map';
import { merged } from '../../web/src/features/workspace/merging';

const fact = (key: string, shown: string) => ({ key, shown }) as Deal['facts'][0];
const blank = (field: string, text: string) => ({ document: 'd', field, text }) as Deal['blanks'][0];
const deal = {
  head: { seq: 5 },
  seen: 5,
  documents: [],
  groups: {},
  parties: {
    buyers: [
      { id: 'a', name: 'A' },
      { id: 'b', name: 'B' },
    ],
  },
  facts: [fact('x', '1'), fact('y', '2'), fact('buyers.1.name', 'A'), fact('buyers.2.name', 'B')],
  blanks: [blank('x', '1'), blank('y', '2')],
} as unknown as Deal;
const delta = (more: object) =>
  ({
    head: { seq: 6 },
    after: 5,
    until: 6,
    documents: [],
    suggested: [],
    parties: deal.parties,
    facts: [],
    blanks: [],
    whole: false,
    ...more,
  }) as unknown as Delta;

test('only what moved is replaced, in its place', () => {
  const next = merged(deal, delta({ facts: [fact('y', '9')], blanks: [blank('y', '9')] }));
  expect(next.facts.map((f) => f.shown)).toEqual(['1', '9', 'A', 'B']);
  expect(next.blanks[0]).toBe(deal.blanks[0]);
  expect(next.head.seq).toBe(6);
});

test('a party that was removed takes its facts along', () => {
  const next = merged(
    deal,
    delta({
      parties: { buyers: [{ id: 'b', name: 'B' }] },
      facts: [fact('buyers.1.name', 'B')],
    }),
  );
  expect(next.facts.map((f) => f.key)).toEqual(['x', 'y', 'buyers.1.name']);
});

test('an answer that newer ones have overtaken takes nothing back', () => {
  const late = { facts: [fact('x', 'old')], documents: [{}] };
  expect(merged(deal, delta({ head: { seq: 3 }, ...late }))).toBe(deal);
  expect(merged(deal, delta({ head: { seq: 3 }, whole: true }))).toBe(deal);
});

test('what lies between is still to be asked for', () => {
  const seen = (after: number, until: number) => merged(deal, delta({ head: { seq: 9 }, after, until })).seen;
  expect(seen(5, 9)).toBe(9);
  expect(seen(2, 9)).toBe(9);
  expect(seen(8, 9)).toBe(5);
  // A step that was sent twice is told once more, as it then was.
  expect(seen(3, 4)).toBe(5);
  expect(merged(deal, delta({ whole: true, after: 8 })).seen).toBe(5);
});

test('a whole delta replaces everything', () => {
  expect(merged(deal, delta({ whole: true, facts: [fact('z', '1')] })).facts).toHaveLength(1);
});

test('the stored map is read as it was written', () => {
  expect(readTicks('0i9oz00f')).toEqual([
    { x: 0, y: 0.5, w: 0.25, open: true },
    { x: 35 / 36, y: 0, w: 0, open: false },
  ]);
});

test('what is new is added once, behind what was there', () => {
  const next = merged(
    deal,
    delta({
      facts: [fact('z', '3'), fact('x', '4')],
      blanks: [blank('z', '3')],
    }),
  );
  expect(next.facts.map((f) => [f.key, f.shown])).toEqual([
    ['x', '4'],
    ['y', '2'],
    ['buyers.1.name', 'A'],
    ['buyers.2.name', 'B'],
    ['z', '3'],
  ]);
  expect(next.blanks.map((b) => b.field)).toEqual(['x', 'y', 'z']);
});

test('of two deltas with the same step the later one’s header counts; an older one’s never', () => {
  const head = (seq: number, name: string) => delta({ head: { seq, name } });
  expect(merged(deal, head(5, 'same')).head).toMatchObject({ name: 'same' });
  expect(merged(deal, head(4, 'older')).head).toEqual({ seq: 5 });
});

test('only positions of parties that are gone take their facts along', () => {
  const many = Array.from({ length: 12 }, (_, n) => ({
    id: `p${n}`,
    name: '',
  }));
  const facts = [
    'buyers.12.name',
    'buyers.11.name',
    'buyers.names',
    'buyers.x2.name',
    'buyers.2x.name',
    'buyers',
    'terms.13.x',
    'doc.3.y',
  ];
  const held = {
    ...deal,
    parties: { buyers: many },
    facts: facts.map((key) => fact(key, '')),
  } as unknown as Deal;
  const now = { parties: { buyers: many.slice(0, 11), terms: [] } };
  expect(merged(held, delta(now)).facts.map((f) => f.key)).toEqual(facts.slice(1));
  expect(merged(held, delta({ parties: {} })).facts).toHaveLength(facts.length);
});
