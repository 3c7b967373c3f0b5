// @vitest-environment node
/** The outbox keeps what was typed until the server has it. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { DealOutbox } from '../../web/src/rooms/deals/outbox';

const delta = (version: number) => ({
  head: { seq: version },
  facts: [{ key: 'terms.purchase_price', version }],
  blanks: [],
  documents: [],
  parties: {},
  whole: false,
  left: [],
  change: null,
  said: 'Purchase price',
});
const answer = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } });

let sent: { change: string; edits: { text: string; based_on: number | null }[] }[];
let replies: (() => Response | Promise<Response>)[];
const kept = new Map<string, string>();
const store = {
  getItem: (k: string) => kept.get(k) ?? null,
  setItem: (k: string, v: string) => void kept.set(k, v),
  removeItem: (k: string) => void kept.delete(k),
};

beforeEach(() => {
  sent = [];
  replies = [];
  kept.clear();
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  vi.stubGlobal('document', { cookie: '' });
  vi.stubGlobal('fetch', async (request: Request) => {
    sent.push(JSON.parse(await request.text()));
    const reply = replies.shift();
    if (!reply) throw new TypeError('offline');
    return reply();
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const box = (more: Partial<ConstructorParameters<typeof DealOutbox>[1]> = {}) =>
  new DealOutbox(
    'd',
    'u',
    { merge: () => {}, versionOf: () => 7, refused: () => {}, signedOut: () => {}, offerAtHand: () => 1, ...more },
    undefined,
    store,
  );
const price = (text: string) => ({ op: 'type' as const, key: 'terms.purchase_price', text });
const settle = async () => {
  for (let n = 0; n < 20; n++) await new Promise((resolve) => setImmediate(resolve));
};
const later = async (ms: number) => {
  await vi.advanceTimersByTimeAsync(ms);
  await settle();
};

test('an edit is shown at once and confirmed by the answer', async () => {
  replies.push(() => answer(200, delta(8)));
  const merge = vi.fn();
  const outbox = box({ merge });
  outbox.edit([price('400k')]);
  expect(outbox.look().echo.get('terms.purchase_price')).toBe('400k');
  expect(outbox.look().state).toBe('saving');
  await settle();
  expect(merge).toHaveBeenCalledOnce();
  expect(outbox.look()).toMatchObject({ state: 'saved', done: [{ said: 'Purchase price' }] });
  expect(outbox.look().echo.size).toBe(0);
  expect(sent[0]!.edits[0]!.based_on).toBe(7);
});

test('offline it is kept in the browser and sent again under the same change id', async () => {
  const outbox = box();
  outbox.edit([price('400k')]);
  await settle();
  expect(outbox.look().state).toBe('offline');
  expect(kept.size).toBe(1);
  replies.push(() => answer(200, delta(8)));
  await later(3000);
  expect(outbox.look().state).toBe('saved');
  expect(sent[0]!.change).toBe(sent[1]!.change);
  expect(kept.size).toBe(0);
});

test('a new sitting sends what an earlier one had left', async () => {
  box().edit([price('400k')]);
  await settle();
  replies.push(() => answer(200, delta(8)));
  const next = box();
  expect(next.look().echo.get('terms.purchase_price')).toBe('400k');
  await settle();
  expect(next.look().state).toBe('saved');
});

test('edits made while one is under way are sent after it, based on what it became', async () => {
  let release = (_: Response) => {};
  replies.push(
    () => new Promise<Response>((resolve) => (release = resolve)),
    () => answer(200, delta(9)),
  );
  const outbox = box();
  outbox.edit([price('400k')]);
  await settle();
  outbox.edit([price('410k')]);
  expect(sent).toHaveLength(1);
  release(answer(200, delta(8)));
  await settle();
  expect(sent[1]!.edits[0]).toMatchObject({ text: '410k', based_on: 8 });
  expect(outbox.look().state).toBe('saved');
});

test('what the server refuses is told, not retried for ever', async () => {
  replies.push(() => answer(403, { detail: 'It is locked.', mend: 'Ask the broker.' }));
  const refused = vi.fn();
  const outbox = box({ refused });
  outbox.edit([price('400k')]);
  await settle();
  expect(refused.mock.calls[0]![0]).toMatchObject({ message: 'It is locked.', mend: 'Ask the broker.', status: 403 });
  expect(outbox.look().state).toBe('saved');
});

test('while the server is in trouble the edit waits', async () => {
  replies.push(
    () => answer(503, { detail: 'The database can’t be reached.' }),
    () => answer(200, delta(8)),
  );
  const outbox = box();
  outbox.edit([price('400k')]);
  await settle();
  expect(outbox.look().state).toBe('offline');
  await later(3000);
  expect(outbox.look().state).toBe('saved');
});

test('after the session has ended it asks to sign in and keeps what was typed', async () => {
  replies.push(
    () => answer(401, { detail: 'Signed out.' }),
    () => answer(200, delta(8)),
  );
  const signedOut = vi.fn();
  const outbox = box({ signedOut });
  outbox.edit([price('400k')]);
  await settle();
  expect(signedOut).toHaveBeenCalledOnce();
  expect(outbox.look()).toMatchObject({ state: 'offline' });
  expect([...kept.keys()]).toEqual(['quill-outbox-u-d']);
  await later(3000);
  expect(outbox.look().state).toBe('saved');
});
