/** Clauses named while typing. */
import { expect, test } from 'vitest';
import type { Clause } from '../../web/src/api/client';
import { nameBefore, ranked } from '../../web/src/features/write/clause-names';

const clause = (name: string, more: Partial<Clause> = {}) =>
  ({
    id: name,
    name,
    wording: `${name} wording`,
    approved_by: '',
    used: 0,
    ...more,
  }) as Clause;
const CLAUSES = [
  clause('Radon test'),
  clause('As it stands', { approved_by: 'Rosalind' }),
  clause('Appraisal gap', { used: 3 }),
  clause('Septic inspection'),
];

test('the last words before the cursor name a clause, and are what it takes the place of', () => {
  expect(nameBefore(CLAUSES, 'Seller stays. as it st')).toEqual({
    fitting: [CLAUSES[1]],
    length: 8,
  });
  expect(nameBefore(CLAUSES, 'one\nRAD')).toEqual({
    fitting: [CLAUSES[0]],
    length: 3,
  });
  expect(nameBefore(CLAUSES, 'ra')).toEqual({ fitting: [], length: 0 });
  expect(nameBefore(CLAUSES, 'the radon')).toEqual({
    fitting: [CLAUSES[0]],
    length: 5,
  });
  expect(nameBefore(CLAUSES, 'radon\n')).toEqual({ fitting: [], length: 0 });
  expect(nameBefore(CLAUSES, '')).toEqual({ fitting: [], length: 0 });
});

test('named ones stand first, then approved ones, then those that are used most', () => {
  const names = (find: string, fitting: Clause[] = []) => ranked(CLAUSES, find, { fitting }).map((c) => c.name);
  expect(names('')).toEqual(['As it stands', 'Appraisal gap', 'Radon test', 'Septic inspection']);
  expect(names('', [CLAUSES[3]!])[0]).toBe('Septic inspection');
  expect(names('wording radon')).toEqual(['Radon test']);
  expect(names('nothing')).toEqual([]);
});
