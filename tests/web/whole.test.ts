/** What a deal says and what its forms and the catalog fix, put together. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';

const asked: string[] = [];
let answers: (path: string) => Response | Promise<Response>;
const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), {
    status,
    headers: { 'content-type': 'application/json' },
  });

const LAYOUT = [
  {
    field: 'price',
    page: 1,
    size: 10,
    fact: 'terms.price',
    own: 'price',
    options: [],
  },
  { field: 'notes', page: 1, size: 9, fact: '', own: 'notes', options: ['a'] },
  { field: 'sign', page: 2, size: 10, fact: '', own: 'sign', options: [] },
];
const CATALOG = {
  groups: { terms: 'Terms' },
  facts: [
    {
      key: 'terms.price',
      group: 'terms',
      label: 'Price',
      kind: 'money',
      options: [],
      example: '400k',
      help: 'All of it',
      worked_out: false,
      reads: ['terms.loan'],
    },
  ],
  party_groups: [{ group: 'buyers', one: 'Buyer' }],
  party_fields: [
    {
      field: 'email',
      label: 'e-mail',
      kind: 'email',
      options: [],
      example: 'a@b.example',
      worked_out: false,
    },
  ],
};
const item = (id: string, states: string, more: object = {}) => ({
  id,
  edition: 'e1',
  mapping: 'm1',
  prefix: `doc.${id}.`,
  states,
  ...more,
});
let n = 0;
const wire = (more: object = {}) =>
  ({
    head: { catalog: `digest${n}`, side: 'leasing out' },
    documents: [item('d1', 'OFs', { edition: `e${n}` })],
    blanks: [],
    facts: [],
    whole: false,
    ...more,
  }) as never;

let wholeDeal: (typeof import('../../web/src/api/whole'))['wholeDeal'];
let wholeDelta: (typeof import('../../web/src/api/whole'))['wholeDelta'];

beforeEach(async () => {
  n += 1;
  asked.length = 0;
  vi.resetModules();
  answers = (path) => json(path.includes('/catalog/') ? CATALOG : LAYOUT);
  vi.stubGlobal('document', { cookie: '' });
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname;
    asked.push(path);
    return answers(path);
  });
  ({ wholeDeal, wholeDelta } = await import('../../web/src/api/whole'));
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test('a blank that says nothing of itself stands as its letter says', async () => {
  const deal = await wholeDeal(wire());
  expect(deal.blanks.map((b) => [b.field, b.state, b.key, b.own_key])).toEqual([
    ['price', 'open', 'terms.price', 'doc.d1.price'],
    ['notes', 'filled', 'doc.d1.notes', 'doc.d1.notes'],
    ['sign', 'sign', 'doc.d1.sign', 'doc.d1.sign'],
  ]);
  expect(deal.blanks[0]).toMatchObject({
    document: 'd1',
    text: '',
    marked: false,
    source: null,
    only_here: false,
    overflow: false,
    version: 0,
    size: 10,
    set: [],
    waits_for: [],
    findings: [],
    draft: null,
    clashes: [],
    explained: {},
    options: [],
  });
  expect(asked.sort()).toEqual([`/api/catalog/digest${n}`, `/api/layouts/e${n}/m1/leasing-out`]);
});

test.each([
  ['o', 'open'],
  ['f', 'filled'],
  ['p', 'optional'],
  ['i', 'idle'],
  ['t', 'theirs'],
  ['s', 'sign'],
  ['W', 'optional'],
  ['', 'optional'],
])('the letter %j is %s', async (letter, state) => {
  const deal = await wholeDeal(wire({ documents: [item('d1', letter, { edition: `e${n}` })] }));
  expect(deal.blanks[0]!.state).toBe(state);
});

test('what a blank says goes before what its form fixes', async () => {
  const row = {
    document: 'd1',
    place: 1,
    state: 'filled',
    text: 'Oak',
    marked: true,
    source: 'typed',
    only_here: true,
    overflow: true,
    version: 4,
    size: 7,
    set: [
      [1, 2],
      [3, 4, 'second'],
    ],
    waits_for: ['x'],
    findings: [{ message: 'Look.' }],
    draft: { text: '?' },
    clashes: [{ by: 'Rosa' }],
    explained: { b: 'the second' },
  };
  const deal = await wholeDeal(wire({ blanks: [row] }));
  const { place: _, ...said } = row;
  expect(deal.blanks[1]).toMatchObject({
    ...said,
    options: ['b'],
    set: [
      [1, 2, 'Oak'],
      [3, 4, 'second'],
    ],
  });
  expect(deal.blanks[0]!.text).toBe('');
});

test('of a delta only the blanks it speaks of come, and only their forms are asked for', async () => {
  const documents = [
    item('d1', 'ooo', { edition: `e${n}` }),
    item('d2', 'ooo', { edition: `f${n}` }),
    item('d3', '', { edition: '' }),
  ];
  const blanks = [{ document: 'd2', place: 2, state: 'sign' }];
  const delta = await wholeDelta(wire({ documents, blanks }));
  expect(delta.blanks.map((b) => [b.document, b.field])).toEqual([['d2', 'sign']]);
  expect(asked.filter((p) => p.includes('layouts'))).toEqual([`/api/layouts/f${n}/m1/leasing-out`]);
  const all = await wholeDelta(wire({ documents, blanks, whole: true }));
  expect(all.blanks).toHaveLength(6);
});

test('what never changes is asked for once', async () => {
  await Promise.all([wholeDeal(wire()), wholeDeal(wire())]);
  await wholeDelta(wire({ whole: true }));
  expect(asked).toHaveLength(2);
});

test('what failed is tried again after the server’s wish, and asked for anew once it was given up', async () => {
  vi.useFakeTimers();
  let fails = 2;
  answers = (path) => {
    if (path.includes('/catalog/')) return json(CATALOG);
    return fails-- > 0 ? json({ detail: 'Busy.', again: true }, 429) : json(LAYOUT);
  };
  const deal = wholeDeal(wire());
  await vi.advanceTimersByTimeAsync(5_000);
  expect((await deal).blanks).toHaveLength(3);
  answers = () => json({ detail: 'Gone.', again: false }, 404);
  const lost = wire({ documents: [item('d1', '', { edition: 'lost' })] });
  await expect(wholeDeal(lost)).rejects.toThrow('Gone.');
  answers = () => json(LAYOUT);
  expect((await wholeDeal(lost)).blanks).toHaveLength(3);
});

test('it is not tried for ever', async () => {
  vi.useFakeTimers();
  answers = (path) => (path.includes('/catalog/') ? json(CATALOG) : json({ detail: 'Busy.', again: true }, 429));
  const deal = wholeDeal(wire());
  const told = expect(deal).rejects.toThrow('Busy.');
  await vi.advanceTimersByTimeAsync(20_000);
  await told;
  expect(asked.filter((p) => p.includes('layouts'))).toHaveLength(5);
});

test('a few are asked for at a time', async () => {
  const waiting: (() => void)[] = [];
  answers = (path) =>
    path.includes('/catalog/') ? json(CATALOG) : new Promise((free) => waiting.push(() => free(json(LAYOUT))));
  const documents = Array.from({ length: 7 }, (_, k) => item(`d${k}`, '', { edition: `x${n}-${k}` }));
  const settle = () => new Promise((done) => setTimeout(done, 20));
  const deal = wholeDeal(wire({ documents }));
  await settle();
  expect(waiting.length).toBeLessThanOrEqual(4);
  for (let turn = 0; turn < 7; turn++) {
    waiting.splice(0).forEach((free) => free());
    await settle();
    expect(waiting.length).toBeLessThanOrEqual(4);
  }
  expect((await deal).blanks).toHaveLength(21);
});

test('a fact has what the catalog says of it; what isn’t said is as usual', async () => {
  const deal = await wholeDeal(
    wire({
      facts: [
        { key: 'terms.price', shown: '$400,000' },
        {
          key: 'terms.price',
          shown: '$4',
          edit: '4',
          version: 3,
          places: 2,
          differs: true,
          locked: true,
          source: 'typed',
        },
      ],
    }),
  );
  expect(deal.facts[0]).toMatchObject({
    label: 'Price',
    help: 'All of it',
    reads: ['terms.loan'],
    shown: '$400,000',
    edit: '$400,000',
    source: null,
    version: 0,
    places: 0,
    missing: [],
    differs: false,
    locked: false,
    findings: [],
    beside: [],
    replaced: '',
    draft: null,
    clashes: [],
  });
  expect(deal.facts[1]).toMatchObject({
    edit: '4',
    version: 3,
    places: 2,
    differs: true,
    locked: true,
    source: 'typed',
  });
});

test('a party’s fact is made from its group and its field', async () => {
  const facts = ['buyers.2.email', 'buyers.1.shoe', 'others.1.email'].map((key) => ({ key }));
  const { facts: made, catalog } = await wholeDeal(wire({ facts }));
  expect(made.map((f) => [f.label, f.kind, f.group, f.example])).toEqual([
    ['Buyer 2 e-mail', 'email', 'buyers', 'a@b.example'],
    ['Buyer 1 shoe', 'text', 'buyers', ''],
    [' 1 e-mail', 'email', 'others', 'a@b.example'],
  ]);
  expect(made[1]).toMatchObject({
    options: [],
    worked_out: false,
    help: '',
    reads: [],
  });
  expect(catalog.ones.get('buyers')).toBe('Buyer');
});
