/** Tasks in groups: by day as the core says, by progress, by person. */
import { expect, test } from 'vitest';
import { byDay, byPerson, byProgress, nameOf, type Due } from '../../web/src/features/tasks/dues';

const due = (code: string, more: Partial<Due> = {}): Due => ({
  code,
  what: code,
  who: '',
  named: '',
  day: null,
  why: '',
  note: '',
  progress: 'to do',
  urgency: 'no day set',
  ...more,
});

test('groups by day are those of the core, in their order, without empty ones', () => {
  const groups = byDay([
    due('later', { urgency: 'later' }),
    due('done', { urgency: 'settled', progress: 'done' }),
    due('late', { urgency: 'late' }),
    due('late too', { urgency: 'late' }),
  ]);
  expect(groups.map((g) => [g.title, g.rows.map((d) => d.code)])).toEqual([
    ['Late', ['late', 'late too']],
    ['Later', ['later']],
    ['Settled', ['done']],
  ]);
  expect(groups.map((g) => g.pressing)).toEqual([true, false, false]);
});

test('a task is in one group by progress and in one by person', () => {
  const dues = [
    due('a', { progress: 'waiting', who: 'lender' }),
    due('b', { progress: 'done', who: 'buyer', named: 'Ana Ruiz' }),
    due('c', { who: 'buyer', named: 'Ana Ruiz' }),
    due('d'),
  ];
  for (const groups of [byProgress(dues), byPerson(dues)]) {
    expect(groups.flatMap((g) => g.rows.map((d) => d.code)).sort()).toEqual(['a', 'b', 'c', 'd']);
  }
  expect(byPerson(dues).map((g) => g.title)).toEqual(['Ana Ruiz, buyer', 'Lender', 'Nobody named']);
});

test('two deals’ tasks of one code have different names', () => {
  expect(nameOf(due('a', { deal: '1' }))).not.toBe(nameOf(due('a', { deal: '2' })));
});
