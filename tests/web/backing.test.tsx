// @vitest-environment jsdom
/** What every hand is made of: edits going out, others' changes coming in, undo in order, leaving. */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, render } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi, type Mocked } from 'vitest';

const notices: { text: string; options: Record<string, unknown> }[] = [];
const withdraw = vi.fn();
vi.mock('../../web/src/primitives/notices', () => ({
  withdraw: (about: string) => withdraw(about),
  notify: (text: string, options = {}) => notices.push({ text, options }),
  sayProblem: (problem: Error) => notices.push({ text: problem.message, options: { wrong: true } }),
}));
const whole = vi.fn(async (wire: unknown) => wire as never);
vi.mock('../../web/src/api/whole', () => ({
  wholeDelta: (wire: unknown) => whole(wire),
}));

const { Problem } = await import('../../web/src/api/client');
const { useBacking } = await import('../../web/src/features/workspace/use-backing');
type Backing = Parameters<typeof useBacking>[0];
type Workspace = ReturnType<typeof useBacking>;

const QUERY = ['deal', 'd', null];
const delta = (seq: number, more: object = {}) =>
  ({
    after: seq - 1,
    until: seq,
    head: { seq, undo: { id: `u${seq}` }, redo: null },
    documents: [],
    suggested: [],
    parties: {},
    facts: [{ key: 'x', shown: String(seq), version: seq, clashes: [] }],
    blanks: [],
    whole: false,
    left: [],
    late: [],
    change: `c${seq}`,
    said: `Step ${seq}`,
    ...more,
  }) as never;

let queries: QueryClient;
let hand: Workspace;
let backing: Mocked<Backing>;
let count = 0;

function Shown() {
  hand = useBacking(backing, queries.getQueryData(QUERY)!);
  return null;
}
const settle = () => act(() => vi.advanceTimersByTimeAsync(20));
const held = () =>
  queries.getQueryData<{
    head: { seq: number };
    facts: { shown: string }[];
  }>(QUERY)!;

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
  notices.length = 0;
  withdraw.mockClear();
  whole.mockImplementation(async (wire) => wire as never);
  queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  queries.setQueryData(['session'], { id: 'ines' });
  queries.setQueryData(QUERY, delta(5, { seen: 5 }));
  backing = {
    name: `d-${++count}`,
    queryKey: QUERY,
    offerAtHand: vi.fn(() => 1),
    post: vi.fn(async () => delta(6)),
    since: vi.fn(async () => undefined),
    takeBack: vi.fn(async () => delta(7)),
    isHere: vi.fn(() => true),
    elsewhere: vi.fn(),
  } as never;
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

const show = () =>
  render(
    <QueryClientProvider client={queries}>
      <Shown />
    </QueryClientProvider>,
  );

test('an edit goes out with the version it was made from, and its answer comes in', async () => {
  show();
  expect(hand.facts.get('x')!.shown).toBe('5');
  hand.edit({ op: 'type', key: 'x', text: '9' });
  await settle();
  expect(backing.post.mock.calls[0]![0]).toMatchObject({
    edits: [{ key: 'x', text: '9', based_on: 5 }],
    offer: 1,
  });
  expect(held().facts[0]!.shown).toBe('6');
});

test('two screens of one hand have one outbox; another hand has its own', () => {
  show();
  const first = hand.outbox;
  show();
  expect(hand.outbox).toBe(first);
  expect(first.name).toBe(`quill-outbox-ines-${backing.name}-`);
  backing = { ...backing, name: 'another' };
  show();
  expect(hand.outbox).not.toBe(first);
});

test('a blank of its own answers for the version of its own key', async () => {
  queries.setQueryData(
    QUERY,
    delta(5, {
      blanks: [
        {
          document: 'd',
          field: 'f',
          key: 'x',
          own_key: 'doc.d.f',
          only_here: true,
          version: 3,
        },
        {
          document: 'd',
          field: 'g',
          key: 'doc.d.g',
          own_key: 'doc.d.g',
          only_here: false,
          version: 4,
        },
      ],
    }),
  );
  show();
  hand.edit({ op: 'clear', key: 'doc.d.f' }, { op: 'clear', key: 'doc.d.g' });
  await settle();
  expect(backing.post.mock.calls[0]![0].edits.map((e) => e.based_on)).toEqual([3, 4]);
});

test('an answer that can’t be put together is saved all the same, and asked for again', async () => {
  show();
  const asked = vi.spyOn(queries, 'invalidateQueries');
  whole.mockRejectedValueOnce(new Error('no layout'));
  hand.edit({ op: 'clear', key: 'x' });
  await settle();
  expect(hand.outbox.look().state).toBe('saved');
  expect(asked).toHaveBeenCalledWith({ queryKey: QUERY });
});

test('what is refused makes the screen show what the server has; an ended session asks to sign in', async () => {
  show();
  const asked = vi.spyOn(queries, 'invalidateQueries');
  backing.post.mockRejectedValueOnce(new Problem('Locked.', 'Ask.', 403));
  hand.edit({ op: 'clear', key: 'x' });
  await settle();
  expect(asked).toHaveBeenCalledWith({ queryKey: QUERY });
  backing.post.mockRejectedValueOnce(new Problem('Signed out.', '', 401));
  hand.edit({ op: 'clear', key: 'x' });
  await settle();
  expect(queries.getQueryData(['session'])).toBeNull();
});

test('others’ changes come in while nothing of one’s own is on its way', async () => {
  show();
  await settle();
  expect(backing.since).toHaveBeenLastCalledWith(5);
  backing.since.mockResolvedValueOnce(delta(9, { after: 5 }));
  await act(() => vi.advanceTimersByTimeAsync(3500));
  expect(held()).toMatchObject({ head: { seq: 9 }, facts: [{ shown: '9' }] });
  const before = backing.since.mock.calls.length;
  hand.outbox.type('x', { op: 'type', key: 'x', text: '…' });
  await act(() => vi.advanceTimersByTimeAsync(8000));
  expect(backing.since.mock.calls.length).toBe(before);
});

test('a step that others made just before one’s own is asked for, and shown', async () => {
  show();
  await settle();
  backing.post.mockResolvedValueOnce(delta(7)); // the sixth was somebody else's
  hand.edit({ op: 'clear', key: 'x' });
  await settle();
  expect(held()).toMatchObject({ head: { seq: 7 }, seen: 5 });
  backing.since.mockResolvedValueOnce(delta(7, { after: 5, facts: [{ key: 'y', shown: 'theirs' }] }));
  await act(() => vi.advanceTimersByTimeAsync(3500));
  expect(backing.since).toHaveBeenLastCalledWith(5);
  expect(held().facts.map((f) => f.shown)).toEqual(['7', 'theirs']);
  await act(() => vi.advanceTimersByTimeAsync(3500));
  expect(backing.since).toHaveBeenLastCalledWith(7);
});

test('what is typed is queued when the window goes, hides, or the screen is left', async () => {
  const { unmount } = show();
  const type = () => hand.outbox.type('x', { op: 'type', key: 'x', text: 't' });
  type();
  window.dispatchEvent(new Event('pagehide'));
  await settle();
  expect(backing.post).toHaveBeenCalledTimes(1);
  type();
  document.dispatchEvent(new Event('visibilitychange')); // it is still to be seen
  await settle();
  expect(backing.post).toHaveBeenCalledTimes(1);
  vi.spyOn(document, 'visibilityState', 'get').mockReturnValue('hidden');
  document.dispatchEvent(new Event('visibilitychange'));
  await settle();
  expect(backing.post).toHaveBeenCalledTimes(2);
  type();
  unmount();
  await settle();
  expect(backing.post).toHaveBeenCalledTimes(3);
  vi.restoreAllMocks();
});

test('back online what waits is sent at once', async () => {
  show();
  backing.post.mockRejectedValueOnce(new Problem('No network.', '', 0));
  hand.edit({ op: 'clear', key: 'x' });
  await settle();
  expect(hand.outbox.look().state).toBe('offline');
  window.dispatchEvent(new Event('online'));
  await settle();
  expect(hand.outbox.look().state).toBe('saved');
});

test('what another call changed is taken in, told, and can be undone from there', async () => {
  show();
  hand.take(delta(6), 'Brought in');
  await settle();
  expect(held().head.seq).toBe(6);
  const { text, options } = notices[0]!;
  expect(text).toBe('Brought in');
  const action = options.action as { label: string; run: () => void };
  expect(action.label).toBe('Undo');
  action.run();
  await settle();
  expect(backing.takeBack.mock.calls[0]![1]).toBe('c6');
  expect(notices[1]!.text).toBe('Step 7');
  hand.take(delta(8, { change: null }), 'Looked');
  hand.take(delta(9));
  await settle();
  expect(notices.slice(2)).toEqual([{ text: 'Looked', options: {} }]);
});

const passed = (seq: number, count: number, ...late: string[]) =>
  delta(seq, {
    head: { seq, undo: null, redo: null, late: count },
    late: late.map((message) => ({ message, mend: 'Check it.' })),
  });

test('a day that has passed is said, and no longer once fewer have', async () => {
  show();
  hand.take(passed(6, 3, 'Inspection has passed.', 'Two.', 'Three.'));
  await settle();
  expect(notices[0]!.text).toBe('Inspection has passed. So have 2 more. Check it.');
  const { about } = notices[0]!.options as { about: string };
  hand.take(passed(7, 3));
  await settle();
  expect(withdraw).not.toHaveBeenCalled();
  hand.take(passed(8, 2));
  await settle();
  expect(withdraw).toHaveBeenCalledExactlyOnceWith(about);
  hand.take(passed(9, 3, 'Inspection has passed.', 'Two.'));
  await settle();
  expect(notices[1]).toEqual({
    text: 'Inspection has passed. So have one more. Check it.',
    options: { wrong: true, about },
  });
});

test('what a step said it did is said no longer once it is taken back', async () => {
  show();
  hand.take(delta(6), 'Brought in');
  await settle();
  expect(notices[0]!.options.about).toBe('c6');
  backing.takeBack.mockRejectedValueOnce(new Problem('Too late.', '', 409));
  await act(() => hand.undo('c6'));
  expect(withdraw).not.toHaveBeenCalled();
  await act(() => hand.undo('c6'));
  expect(withdraw).toHaveBeenCalledExactlyOnceWith('c6');
});

test('what speaks of another offer is not put into this one', async () => {
  show();
  backing.isHere.mockReturnValue(false);
  hand.take(delta(6), 'Another offer');
  await settle();
  expect(held().head.seq).toBe(5);
  expect(backing.elsewhere).toHaveBeenCalledOnce();
});

test('what can’t be taken in is told', async () => {
  show();
  whole.mockRejectedValueOnce(new Problem('No layout.', '', 503));
  hand.take(delta(6), 'Brought in');
  await settle();
  expect(notices).toEqual([{ text: 'No layout.', options: { wrong: true } }]);
  expect(backing.elsewhere).not.toHaveBeenCalled();
});

test('undo sends first what is typed, waits for itself, and says what it had to leave', async () => {
  show();
  hand.outbox.type('x', { op: 'type', key: 'x', text: 't' });
  backing.takeBack.mockResolvedValueOnce(delta(7, { left: ['Price', 'Date'] }));
  void hand.undo('c5');
  void hand.undo('c5');
  await settle();
  expect(backing.post).toHaveBeenCalledOnce();
  expect(backing.takeBack).toHaveBeenCalledOnce();
  expect(notices[0]!.text).toBe('Step 7. Changed since and left: Price, Date');
  backing.takeBack.mockRejectedValueOnce(new Problem('Too late.', '', 409));
  await act(() => hand.undo('c5'));
  expect(notices[1]!.text).toBe('Too late.');
  await act(() => hand.undo('c5'));
  expect(backing.takeBack).toHaveBeenCalledTimes(3);
});

test('two presses of undo take two steps, one after the other', async () => {
  show();
  backing.takeBack
    .mockResolvedValueOnce(delta(6, { head: { seq: 6, undo: { id: 'u4' }, redo: { id: 'r' } } }))
    .mockResolvedValueOnce(delta(7, { head: { seq: 7, undo: null, redo: { id: 'r7' } } }));
  hand.step('undo');
  hand.step('undo');
  await settle();
  expect(backing.takeBack.mock.calls.map((c) => c[1])).toEqual(['u5', 'u4']);
  hand.step('undo'); // nothing is left to undo
  hand.step('redo');
  await settle();
  expect(backing.takeBack.mock.calls.map((c) => c[1])).toEqual(['u5', 'u4', 'r7']);
});
