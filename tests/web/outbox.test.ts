/** The outbox keeps what was typed until the server has it. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { client, got } from '../../web/src/api/client';
import { EditOutbox } from '../../web/src/features/workspace/outbox';

const delta = (version: number, mine: { mine: boolean }[] = []) => ({
  head: { seq: version },
  facts: [{ key: 'terms.purchase_price', version, clashes: mine }],
  blanks: [],
  documents: [],
  parties: {},
  whole: false,
  left: [],
  late: [],
  change: null,
  said: 'Purchase price',
});
const answer = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), {
    status,
    headers: { 'content-type': 'application/json' },
  });

let sent: {
  change: string;
  edits: { text: string; based_on: number | null }[];
}[];
let replies: (() => Response | Promise<Response>)[];
const kept = new Map<string, string>();
const shelf = {
  all: (prefix: string) => [...kept].filter(([k]) => k.startsWith(prefix)),
  put: (k: string, v: string) => void kept.set(k, v),
  drop: (k: string) => void kept.delete(k),
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

const box = (more: Partial<ConstructorParameters<typeof EditOutbox>[1]> = {}) =>
  new EditOutbox(
    'u-d-0',
    {
      post: ({ change, edits, offer }, keepalive) =>
        got(
          client.POST('/api/deals/{deal}/changes', {
            params: { path: { deal: 'd' }, query: { offer } },
            body: { change, edits },
            keepalive,
          }),
        ),
      merge: async (answer) => answer as never,
      versionOf: () => 7,
      refused: () => {},
      signedOut: () => {},
      offerAtHand: () => 1,
      ...more,
    },
    shelf,
  );
const price = (text: string) => ({
  op: 'type' as const,
  key: 'terms.purchase_price',
  text,
});
declare function setImmediate(run: () => void): void; // Node's own, which fake timers leave alone
const settle = async () => {
  for (let n = 0; n < 20; n++) await new Promise<void>((resolve) => setImmediate(resolve));
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
  expect(outbox.look()).toMatchObject({ state: 'saved', stuck: [] });
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

test('what the server refuses is set apart with what was typed, and what waits behind it goes on', async () => {
  replies.push(
    () =>
      answer(403, {
        detail: 'It is locked.',
        mend: 'Ask the broker.',
        again: false,
      }),
    () => answer(200, delta(8)),
  );
  const refused = vi.fn();
  const outbox = box({ refused });
  outbox.edit([price('400k')]);
  outbox.edit([{ op: 'type', key: 'terms.rate_cap', text: '6' }]);
  await settle();
  expect(refused).toHaveBeenCalledOnce();
  expect(sent.map((s) => s.edits[0]!.text)).toEqual(['400k', '6']);
  expect(outbox.look().stuck).toMatchObject([{ message: 'It is locked.', mend: 'Ask the broker.', again: false }]);
  const reloaded = box();
  await settle();
  expect(sent).toHaveLength(2); // a reload doesn't send it again
  expect(reloaded.look().stuck).toMatchObject([{ edits: [{ text: '400k' }] }]);
  reloaded.letGo(reloaded.look().stuck[0]!.change);
  expect(kept.size).toBe(0);
});

test('a change that was sent with other content before is not tried for ever', async () => {
  replies.push(() => answer(409, { detail: 'No.', again: false }));
  const outbox = box();
  outbox.edit([price('400k')]);
  await settle();
  await later(120_000);
  expect(sent).toHaveLength(1);
  expect(outbox.look()).toMatchObject({
    state: 'saved',
    stuck: [{ message: 'No.' }],
  });
});

test('an error of the server’s is tried a few times, then told with a way to try again', async () => {
  for (let n = 0; n < 6; n++) replies.push(() => answer(500, { detail: 'It broke.' }));
  replies.push(
    () => answer(200, delta(8)),
    () => answer(200, delta(9)),
  );
  const outbox = box();
  outbox.edit([price('400k')]);
  outbox.edit([{ op: 'type', key: 'terms.rate_cap', text: '6' }]);
  for (let n = 0; n < 8; n++) await later(31_000);
  expect(sent.slice(0, 6).every((s) => s.change === sent[0]!.change)).toBe(true);
  expect(sent[6]!.edits[0]!.text).toBe('6');
  expect(outbox.look()).toMatchObject({
    state: 'saved',
    stuck: [{ message: 'It broke.', again: true }],
  });
  outbox.tryAgain(outbox.look().stuck[0]!.change);
  await settle();
  expect(sent[7]).toMatchObject({
    change: sent[0]!.change,
    edits: [{ text: '400k' }],
  });
  expect(outbox.look()).toMatchObject({ state: 'saved', stuck: [] });
  expect(kept.size).toBe(0);
});

test('whoever goes on typing while the server has trouble uses up none of its tries', async () => {
  const trouble = () => answer(500, { detail: 'It broke.' });
  for (let n = 0; n < 12; n++) replies.push(trouble);
  const outbox = box();
  for (let n = 0; n < 12; n++) {
    outbox.edit([price(String(n))]);
    await settle();
  }
  expect(sent).toHaveLength(12);
  expect(outbox.look()).toMatchObject({ state: 'offline', stuck: [] });
  for (let n = 0; n < 12; n++) replies.push(() => answer(200, delta(8)));
  await later(3_100);
  expect(outbox.look()).toMatchObject({ state: 'saved', stuck: [] });
  expect(sent.slice(12).map((s) => s.edits[0]!.text)).toEqual(Array.from({ length: 12 }, (_, n) => String(n)));
});

test('an hour without the database sets nothing apart', async () => {
  const down = () => answer(503, { detail: 'Down.', again: true });
  for (let n = 0; n < 130; n++) replies.push(down);
  const outbox = box();
  outbox.edit([price('400k')]);
  for (let n = 0; n < 120; n++) await later(30_000);
  expect(outbox.look()).toMatchObject({ state: 'offline', stuck: [] });
  replies = [() => answer(200, delta(8))];
  await later(31_000);
  expect(outbox.look()).toMatchObject({ state: 'saved', stuck: [] });
});

test('what is being typed is never called saved, and is queued before it is left', async () => {
  const outbox = box();
  outbox.type('terms.purchase_price', price('400k'));
  expect(outbox.look().state).toBe('saving');
  expect(outbox.look().echo.get('terms.purchase_price')).toBe('400k');
  replies.push(() => answer(200, delta(8)));
  outbox.flush('terms.purchase_price');
  await settle();
  expect(sent).toHaveLength(1);
  expect(sent[0]!.edits[0]).toMatchObject({
    op: 'type',
    text: '400k',
    based_on: 7,
  });
  expect(outbox.look().state).toBe('saved');
  outbox.flush();
  outbox.type('terms.purchase_price', null);
  await settle();
  expect(sent).toHaveLength(1);
  expect(kept.size).toBe(0);
});

test('what a window was typing when it went is sent by the next one', async () => {
  box().type('terms.purchase_price', price('400k')); // and the browser is closed in the middle of it
  replies.push(() => answer(200, delta(8)));
  const next = box();
  await settle();
  expect(sent[0]!.edits[0]!.text).toBe('400k');
  expect(next.look().state).toBe('saved');
});

test('two windows of one deal never write over what the other has not sent', async () => {
  const [one, other] = [box(), box()];
  one.edit([price('400k')]);
  other.edit([{ op: 'type', key: 'terms.rate_cap', text: '6' }]);
  await settle();
  const texts = [...kept.values()].map((v) => (JSON.parse(v) as { edits: { text: string }[] }).edits[0]!.text);
  expect(texts.sort()).toEqual(['400k', '6']);
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
  expect([...kept.keys()][0]).toMatch(/^quill-outbox-u-d-0-/);
  await later(3000);
  expect(outbox.look().state).toBe('saved');
});

const typing = (window: string, at: number, edits = [price('400k')]) =>
  kept.set(`quill-outbox-u-d-0-typing-${window}`, JSON.stringify({ change: 'c1', edits, offer: 1, at }));

test('what another window is typing right now is left to it; what it left behind is taken up', async () => {
  typing('other', Date.now() - 5_000);
  const young = box();
  await settle();
  expect(young.look().echo.size).toBe(0);
  expect(kept.size).toBe(1);
  typing('other', Date.now() - 20_000);
  const old = box();
  expect(old.look().echo.get('terms.purchase_price')).toBe('400k');
  expect([...kept.keys()]).toEqual(['quill-outbox-u-d-0-c1']);
});

test('a window that was left without anything typed leaves nothing', () => {
  typing('other', 0, []);
  const outbox = box();
  expect(kept.size).toBe(0);
  expect(outbox.look()).toEqual({ state: 'saved', echo: new Map(), stuck: [] });
});

test('what can’t be read in the browser’s store is thrown out, and the rest goes in the order it was queued', async () => {
  const batch = (change: string, text: string, at: number) =>
    kept.set(`quill-outbox-u-d-0-${change}`, JSON.stringify({ change, edits: [price(text)], offer: 1, at }));
  batch('a', 'third', 30);
  batch('b', 'first', 10);
  batch('c', 'second', 20);
  kept.set('quill-outbox-u-d-0-x', '{broken');
  kept.set('quill-outbox-u-d-0-y', JSON.stringify({ change: 'y' }));
  kept.set('quill-outbox-u-d-0-z', JSON.stringify({ edits: [] }));
  kept.set('quill-outbox-u-d2-0-q', JSON.stringify({ change: 'q', edits: [] }));
  for (let n = 0; n < 3; n++) replies.push(() => answer(200, delta(8 + n)));
  const outbox = box();
  expect(outbox.look().state).toBe('saving');
  await settle();
  expect(sent.map((s) => s.edits[0]!.text)).toEqual(['first', 'second', 'third']);
  expect([...kept.keys()]).toEqual(['quill-outbox-u-d2-0-q']);
});

test('with nothing left behind nothing is sent, and whoever listens is told of each change', async () => {
  const outbox = box();
  const told = vi.fn();
  const stop = outbox.subscribe(told);
  await settle();
  expect(sent).toHaveLength(0);
  outbox.type('terms.rate_cap', null); // nothing was being typed there
  expect(told).not.toHaveBeenCalled();
  outbox.type('terms.purchase_price', price('4'));
  expect(told).toHaveBeenCalledOnce();
  stop();
  outbox.type('terms.purchase_price', null);
  expect(told).toHaveBeenCalledOnce();
  expect(outbox.look().echo.size).toBe(0);
});

test('only the key that is left is queued; leaving all queues all', async () => {
  const outbox = box();
  outbox.type('terms.purchase_price', { ...price('400k'), based_on: 3 });
  outbox.type('terms.rate_cap', {
    op: 'type',
    key: 'terms.rate_cap',
    text: '6',
  });
  replies.push(
    () => answer(200, delta(8)),
    () => answer(200, delta(9)),
  );
  outbox.flush('terms.nothing');
  await settle();
  expect(sent).toHaveLength(0);
  outbox.flush('terms.purchase_price');
  await settle();
  expect(sent.map((s) => s.edits.length)).toEqual([1]);
  expect(sent[0]!.edits[0]).toMatchObject({ text: '400k', based_on: 3 });
  expect(outbox.look().state).toBe('saving'); // the other is still being typed
  outbox.type('terms.closing_days', {
    op: 'type',
    key: 'terms.closing_days',
    text: '30',
  });
  outbox.flush();
  await settle();
  expect(sent[1]!.edits.map((e) => e.text)).toEqual(['6', '30']);
  expect(sent[1]!.edits.map((e) => e.based_on)).toEqual([7, 7]);
});

test('a small batch outlives the window, one that is too large for that does not ask to', async () => {
  const asked: boolean[] = [];
  const post = async (_: unknown, keepalive: boolean) => {
    asked.push(keepalive);
    return delta(8) as never;
  };
  const outbox = box({ post });
  outbox.edit([price('1')]);
  outbox.edit([price('x'.repeat(29_900))]);
  outbox.edit([price('x'.repeat(30_000))]);
  await settle();
  expect(asked).toEqual([true, true, false]);
});

test('offline it stays offline while more is typed, and nobody is asked to sign in', async () => {
  const signedOut = vi.fn();
  const outbox = box({ signedOut });
  outbox.edit([price('400k')]);
  await settle();
  outbox.edit([price('410k')]);
  expect(outbox.look().state).toBe('offline');
  await settle();
  expect(outbox.look().state).toBe('offline');
  expect(signedOut).not.toHaveBeenCalled();
  replies.push(
    () => answer(200, delta(8)),
    () => answer(200, delta(9)),
  );
  await later(3000);
  expect(outbox.look().state).toBe('saved');
});

test('pauses between tries grow, and the server’s own wish is waited for', async () => {
  const trouble = (wait: number) => () =>
    new Response(JSON.stringify({ detail: 'Busy.', again: true }), {
      status: 503,
      headers: {
        'content-type': 'application/json',
        'retry-after': String(wait),
      },
    });
  replies.push(trouble(0), trouble(0), trouble(20), () => answer(200, delta(8)));
  const outbox = box();
  outbox.edit([price('400k')]);
  await settle();
  await later(3_000);
  expect(sent).toHaveLength(2);
  await later(5_900);
  expect(sent).toHaveLength(2);
  await later(200);
  expect(sent).toHaveLength(3);
  await later(19_000);
  expect(sent).toHaveLength(3);
  await later(1_200);
  expect(sent).toHaveLength(4);
  expect(outbox.look().state).toBe('saved');
});

test('of several that were set apart each is tried or let go by itself', async () => {
  const no = () => answer(403, { detail: 'No.', again: true });
  for (let n = 0; n < 12; n++) replies.push(no);
  const outbox = box();
  outbox.edit([price('1')]);
  outbox.edit([price('2')]);
  for (let n = 0; n < 14; n++) await later(31_000);
  const [one, two] = outbox.look().stuck;
  expect([one!.edits[0]!.text, two!.edits[0]!.text]).toEqual(['1', '2']);
  outbox.tryAgain('nobody’s');
  outbox.letGo(one!.change);
  expect(outbox.look().stuck.map((s) => s.change)).toEqual([two!.change]);
  expect(kept.has(`quill-outbox-u-d-0-${one!.change}`)).toBe(false);
  replies = [() => answer(200, delta(8))];
  outbox.tryAgain(two!.change);
  expect(outbox.look().state).toBe('saving');
  await settle();
  expect(outbox.look()).toMatchObject({ state: 'saved', stuck: [] });
});

test('a blank’s own answer is based on what it became, too', async () => {
  let release = (_: Response) => {};
  const own = { key: 'x', own_key: 'doc.d.x', only_here: true, version: 12 };
  const row = { ...own, clashes: [] };
  replies.push(
    () => new Promise<Response>((resolve) => (release = resolve)),
    () => answer(200, delta(13)),
  );
  const outbox = box();
  const here = (text: string) => ({
    op: 'type' as const,
    key: 'doc.d.x',
    text,
  });
  outbox.edit([here('a')]);
  await settle();
  outbox.edit([here('b')]);
  outbox.type('doc.d.x', here('c'));
  release(answer(200, { ...delta(8), facts: [], blanks: [row] }));
  await settle();
  expect(sent[1]!.edits[0]!.based_on).toBe(12);
});

test('what is typed stays based on what its author knew, whatever others change meanwhile', async () => {
  let version = 7;
  const outbox = box({ versionOf: () => version });
  const bases = () => sent.map((batch) => batch.edits[0]!.based_on);
  const typed = async (text: string) => {
    outbox.type('terms.purchase_price', price(text));
    outbox.edit([price(text)]);
    await settle();
  };
  outbox.type('terms.purchase_price', price('4'));
  version = 9; // somebody else's, which nobody sees behind what is typed
  replies.push(() => answer(200, delta(9, [{ mine: true }])));
  await typed('42');
  replies.push(() => answer(200, delta(9, [{ mine: true }])));
  await typed('420');
  expect(bases()).toEqual([7, 7]);
  // Left and entered again, theirs is seen; and one's own is known as soon as it is saved.
  outbox.leave('terms.purchase_price');
  replies.push(() => answer(200, delta(10, [{ mine: false }])));
  await typed('421');
  version = 11;
  replies.push(() => answer(200, delta(12)));
  await typed('422');
  expect(bases().slice(2)).toEqual([9, 10]);
});

test('where the answer can’t be taken in, the next edit is based on what is asked for again', async () => {
  let version = 7;
  const outbox = box({ versionOf: () => version, merge: async () => null });
  outbox.type('terms.purchase_price', price('4'));
  replies.push(() => answer(200, delta(8)));
  outbox.edit([price('42')]);
  await settle();
  version = 8;
  replies.push(() => answer(200, delta(9)));
  outbox.edit([price('420')]);
  await settle();
  expect(sent.map((batch) => batch.edits[0]!.based_on)).toEqual([7, 8]);
});

test('an edit that types nothing echoes nothing', () => {
  const outbox = box();
  outbox.edit([{ op: 'clear', key: 'terms.rate_cap', text: '' }]);
  expect(outbox.look().echo.size).toBe(0);
});
