/** What a package asks: each question once, in the order of the work. */
import { expect, test } from 'vitest';
import type { Blank, Catalog, PackageItem } from '../../web/src/api/client';
import { asked, formsOf, openQuestions, questionBeside, questionsOf } from '../../web/src/features/write/questions';

const facts = [
  {
    key: 'property.one_line',
    section: 'property',
    ask: 'What is the full address?',
    states_parts: true,
  },
  { key: 'property.city', section: 'property', ask: 'What city is it in?' },
  { key: 'terms.price', section: 'money', ask: 'What is the price?' },
  { key: 'terms.balance', section: 'money', ask: 'What is left to pay?' },
  { key: 'terms.words', section: '', ask: 'Which further terms?' },
];
const catalog = {
  sections: [
    { name: 'parties', title: 'Parties' },
    { name: 'property', title: 'Property' },
    { name: 'money', title: 'Price and money' },
  ],
  facts,
  byKey: new Map(facts.map((f) => [f.key, f])),
} as unknown as Catalog;
const documents = [
  {
    id: 'd1',
    number: '301',
    title: 'Agreement',
    edition: 'e',
    set_aside: false,
  },
  {
    id: 'd2',
    number: '401',
    title: 'Addendum',
    edition: 'e',
    set_aside: false,
  },
] as unknown as PackageItem[];
const parties = { sellers: [], buyers: [] };

const blank = (fact: string, more: Partial<Blank> = {}) => {
  const document = more.document ?? 'd1';
  const own = `doc.${document}.${more.field ?? 'own'}`;
  return {
    document,
    field: fact || 'own',
    fact,
    key: fact || own,
    own_key: own,
    page: 1,
    shape: 'text',
    state: 'open',
    editable: true,
    only_here: false,
    draft: null,
    clashes: [],
    waits_for: [],
    label: 'Own',
    ask: '',
    ...more,
  } as unknown as Blank;
};
const none = new Set<string>();
const held = (...blanks: Blank[]) => ({ catalog, documents, parties, blanks });
const keys = (...blanks: Blank[]) => {
  const at = held(...blanks);
  return openQuestions(at, questionsOf(at, none), none).map((q) => q.key);
};

test('each is asked once however many blanks it fills, and says in how many forms', () => {
  const parts = questionsOf(
    held(blank('terms.price'), blank('terms.price', { page: 2 }), blank('terms.price', { document: 'd2' })),
    none,
  );
  const [question] = parts[0]!.questions;
  expect(parts).toHaveLength(1);
  expect(question!.blanks).toHaveLength(3);
  expect(formsOf(question!)).toBe(2);
  expect(asked(catalog, question!)).toBe('What is the price?');
});

test('the order is the work’s: parties, property, money, and what belongs nowhere form by form', () => {
  const blanks = [
    blank('', { field: 'own', ask: 'Own: how much?' }),
    blank('terms.words'),
    blank('terms.price'),
    blank('property.city'),
    blank('sellers.names', { editable: false }),
    blank('', { document: 'd2', field: 'other' }),
  ];
  const parts = questionsOf(held(...blanks), none);
  expect(parts.map((p) => p.title)).toEqual(['Parties', 'Property', 'Price and money', '301 Agreement', '401 Addendum']);
  expect(parts[3]!.questions.map((q) => asked(catalog, q))).toEqual(['Own: how much?', 'Which further terms?']);
});

test('a group of parties is one question, whichever of their particulars a blank shows', () => {
  const parts = questionsOf(
    held(blank('sellers.names', { editable: false }), blank('sellers.1.email'), blank('buyers.1.phone')),
    none,
  );
  expect(parts[0]!.questions.map((q) => [q.key, q.blanks.length, asked(catalog, q)])).toEqual([
    ['sellers', 2, 'Who are the sellers?'],
    ['buyers', 1, 'Who are the buyers?'],
  ]);
});

test('what only a party may answer, and places to be signed, are nobody’s questions here', () => {
  expect(keys(blank('terms.price', { editable: false, state: 'theirs' }), blank('', { shape: 'sign' as never }))).toEqual([]);
});

test('an answer that differs at one place is a question of its own', () => {
  const alone = blank('terms.price', {
    only_here: true,
    own_key: 'doc.d1.price',
  });
  expect(
    questionsOf(held(blank('terms.price', { document: 'd2' }), alone), none)
      .flatMap((p) => p.questions)
      .map((q) => q.key),
  ).toEqual(['terms.price', 'doc.d1.price']);
});

test('what another open one answers is passed over, but not what states it', () => {
  const balance = blank('terms.balance', { waits_for: ['terms.price'] });
  const line = blank('property.one_line', { waits_for: ['property.city'] });
  expect(keys(balance, blank('terms.price'), line, blank('property.city'))).toEqual([
    'property.one_line',
    'property.city',
    'terms.price',
  ]);
  expect(keys(balance)).toEqual(['terms.balance']);
});

test('what was answered a moment ago is not asked again before the server has said so; what can’t be read is', () => {
  const at = held(blank('terms.price'), blank('property.city', { state: 'filled', draft: { text: 'x' } as never }));
  const parts = questionsOf(at, none);
  expect(openQuestions(at, parts, new Set(['terms.price'])).map((q) => q.key)).toEqual(['property.city']);
});

test('only some forms can be run through', () => {
  const at = held(blank('terms.price'), blank('', { document: 'd2', field: 'other' }));
  expect(
    questionsOf(at, new Set(['d2']))
      .flatMap((p) => p.questions)
      .map((q) => q.key),
  ).toEqual(['doc.d2.other']);
});

test('the way goes on and back round what is open, and ends where nothing is', () => {
  const at = held(
    blank('property.city'),
    blank('terms.price', { state: 'filled' }),
    blank('terms.balance'),
    blank('terms.words'),
  );
  const all = questionsOf(at, none).flatMap((p) => p.questions);
  const open = openQuestions(at, questionsOf(at, none), none);
  expect(questionBeside(all, open, 'property.city')?.key).toBe('terms.balance');
  expect(questionBeside(all, open, 'terms.words')?.key).toBe('property.city');
  expect(questionBeside(all, open, 'property.city', true)?.key).toBe('terms.words');
  expect(questionBeside(all, open, 'terms.price')?.key).toBe('terms.balance');
  expect(questionBeside(all, open.slice(0, 1), 'property.city')).toBeUndefined();
});
