// @vitest-environment jsdom
/** Actions done once, forms kept in the browser, and the shelf that unsent edits lie on. */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook } from '@testing-library/react';
import { createElement, type ReactNode } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Problem } from '../../web/src/api/client';
import { useAction } from '../../web/src/api/use-action';
import { useKept } from '../../web/src/api/use-kept';
import { browserShelf } from '../../web/src/features/workspace/shelf';

let queries: QueryClient;
const wrapper = ({ children }: { children: ReactNode }) => createElement(QueryClientProvider, { client: queries }, children);
beforeEach(() => {
  localStorage.clear();
  vi.useFakeTimers();
  queries = new QueryClient();
  queries.setQueryData(['session'], { id: 'ines' });
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.restoreAllMocks();
});
const wait = (ms = 10) => act(() => vi.advanceTimersByTimeAsync(ms));

// Actions

type Doing = (input: unknown, key: string) => Promise<string>;
const action = (doing: Doing, more = {}) =>
  renderHook(() => useAction<string, unknown>({ mutationFn: doing, ...more }), {
    wrapper,
  }).result;
const again = () => new Problem('Busy.', '', 503, '', true);

test('pressed twice it is done once; afterwards anew, under another key', async () => {
  const keys: string[] = [];
  const done = vi.fn();
  const it = action(
    async (_, key) => {
      keys.push(key);
      await new Promise((free) => setTimeout(free, 50));
      return 'made';
    },
    { onSuccess: (out: string) => done(out) },
  );
  it.current.mutate(1);
  it.current.mutate(1);
  await wait(60);
  expect(keys).toHaveLength(1);
  expect(done).toHaveBeenCalledWith('made');
  it.current.mutate(1);
  await wait(60);
  expect(new Set(keys).size).toBe(2);
});

test('what else is asked for meanwhile is done after it, in the order of asking', async () => {
  const begun: unknown[] = [];
  const said = vi.fn();
  const it = action(async (input) => {
    begun.push(input);
    await new Promise((free) => setTimeout(free, 50));
    if (input === 'refused') throw new Problem('No.', '', 400);
    return `${String(input)} done`;
  });
  act(() => {
    it.current.mutate('first', said);
    it.current.mutate('refused', said);
    it.current.mutate('last', said);
    it.current.mutate('last', said); // a double press
  });
  expect(it.current.doing).toEqual(['first', 'refused', 'last']);
  await wait(20);
  expect(begun).toEqual(['first']);
  await wait(60);
  expect(begun).toEqual(['first', 'refused']);
  expect(it.current.doing).toEqual(['refused', 'last']);
  await wait(120);
  expect(begun).toEqual(['first', 'refused', 'last']);
  expect(it.current.doing).toEqual([]);
  expect(it.current.isPending).toBe(false);
  expect(said.mock.calls).toEqual([['first done'], ['last done']]);
});

test('turned off, on and off again, it is off at last', async () => {
  const begun: unknown[] = [];
  const it = action(async (input) => {
    begun.push(input);
    await new Promise((free) => setTimeout(free, 50));
    return '';
  });
  act(() => ['off', 'on', 'off', 'off'].forEach((to) => it.current.mutate(to)));
  expect(it.current.doing).toEqual(['off', 'on', 'off']);
  await wait(200);
  expect(begun).toEqual(['off', 'on', 'off']);
  expect(it.current.doing).toEqual([]);
});

test("two that are used beside each other don't wait for each other", async () => {
  const begun: unknown[] = [];
  const doing: Doing = async (input) => {
    begun.push(input);
    await new Promise((free) => setTimeout(free, 50));
    return '';
  };
  const [one, other] = [action(doing), action(doing)];
  one.current.mutate('one');
  other.current.mutate('other');
  await wait(20);
  expect(begun).toEqual(['one', 'other']);
  await wait(60);
});

test('what may pass is tried again under the same key, with growing pauses, a few times', async () => {
  const keys: string[] = [];
  const it = action(async (_, key) => {
    keys.push(key);
    throw again();
  });
  it.current.mutate('x');
  await wait(100);
  expect(keys).toHaveLength(1);
  await wait(500);
  expect(keys).toHaveLength(2);
  await wait(800);
  expect(keys).toHaveLength(2);
  await wait(10_000);
  expect(keys).toHaveLength(4);
  expect(new Set(keys).size).toBe(1);
  expect(it.current.error?.message).toBe('Busy.');
  it.current.mutate('x'); // nobody knows whether it was done: the same key again
  await wait();
  expect(new Set(keys).size).toBe(1);
  await wait(20_000);
  it.current.mutate('y');
  await wait();
  expect(new Set(keys).size).toBe(2);
});

test('the server’s own wish to wait is kept', async () => {
  const doing = vi.fn(async () => {
    throw new Problem('Busy.', '', 429, '', true, 7);
  });
  action(doing).current.mutate(1);
  await wait(6_900);
  expect(doing).toHaveBeenCalledTimes(1);
  await wait(200);
  expect(doing).toHaveBeenCalledTimes(2);
});

test('refused for good or without a network it is not tried again; refused, the next is another one', async () => {
  const keys: string[] = [];
  let error: Error = new Problem('No.', '', 403);
  const it = action(async (_, key) => {
    keys.push(key);
    throw error;
  });
  it.current.mutate(1);
  await wait(9_000);
  expect(keys).toHaveLength(1);
  error = new Problem('No network.', '', 0, '', true);
  it.current.mutate(1);
  await wait(9_000);
  expect(new Set(keys).size).toBe(2);
  it.current.mutate(1);
  await wait(9_000);
  expect(keys).toHaveLength(3);
  expect(keys[2]).toBe(keys[1]);
  error = new TypeError('a bug');
  it.current.mutate(1);
  await wait(9_000);
  expect(keys).toHaveLength(4);
});

test('a key that stood for something else is given up for another, once', async () => {
  const keys: string[] = [];
  const it = action(async (_, key) => {
    keys.push(key);
    throw new Problem('It was sent with other content.', '', 409, 'repeated');
  });
  it.current.mutate(1);
  await wait(20_000);
  expect(new Set(keys).size).toBe(2);
});

test('a file is told from another by its name, size and time', async () => {
  const keys: string[] = [];
  const it = action(async (_, key) => {
    keys.push(key);
    throw again();
  });
  const file = (name: string, lastModified: number) => new File(['a'], name, { lastModified });
  for (const one of [file('a.pdf', 1), file('a.pdf', 1), file('a.pdf', 2), file('b.pdf', 1)]) {
    it.current.mutate({ one });
    await wait(30_000);
  }
  expect(new Set(keys).size).toBe(3);
});

test('what is to be done afterwards is done, and settling is told on', async () => {
  const settled = vi.fn();
  const it = action(async () => 'made', { onSettled: settled });
  it.current.mutate(1);
  await wait();
  expect(settled).toHaveBeenCalledOnce();
});

// Forms

const form = (name: string, saved: string) =>
  renderHook((of: string) => useKept(name, of), {
    wrapper,
    initialProps: saved,
  });

test('what is typed outlives a reload, for its user, also where another was faster: that is not known then', () => {
  const typing = form('offer', '').result;
  act(() => typing.current.set('9'));
  expect(form('offer', '').result.current).toMatchObject({
    typed: '9',
    restored: true,
  });
  expect(form('offer', '7').result.current).toMatchObject({
    typed: '9',
    restored: true,
    isCurrent: false,
  });
  expect(form('other', '').result.current.typed).toBe('');
  queries.setQueryData(['session'], { id: 'rosa' });
  expect(form('offer', '').result.current.typed).toBe('');
});

test('what was typed over something that was saved since does not come back with it', () => {
  const it = form('offer', 'A').result;
  act(() => it.current.set('B'));
  form('offer', 'B'); // it was saved
  expect(form('offer', 'A').result.current).toMatchObject({
    typed: 'A',
    restored: false,
  }); // and undone
});

test('typed back to what is saved nothing is kept; settled it shows what was saved', () => {
  const it = form('offer', '7').result;
  act(() => it.current.set('9'));
  act(() => it.current.set('7'));
  expect(localStorage.length).toBe(0);
  act(() => it.current.set('9'));
  const back = form('offer', '7').result;
  expect(back.current.restored).toBe(true);
  act(() => back.current.settle('9'));
  expect(back.current).toMatchObject({ typed: '9', restored: false });
  expect(localStorage.length).toBe(0);
});

test('a store that is broken, full or closed loses nothing from the screen', () => {
  localStorage.setItem('quill-form-ines-offer', '{broken');
  const it = form('offer', '7').result;
  expect(it.current).toMatchObject({ typed: '7', restored: false });
  vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
    throw new Error('full');
  });
  act(() => it.current.set('9'));
  expect(it.current.typed).toBe('9');
});

test('a form that becomes another keeps each under its own name', () => {
  const { result, rerender } = renderHook((name: string) => useKept(name, ''), {
    wrapper,
    initialProps: 'a',
  });
  act(() => result.current.set('1'));
  rerender('b');
  act(() => result.current.set('2'));
  expect(JSON.parse(localStorage.getItem('quill-form-ines-a')!).typed).toBe('1');
  expect(JSON.parse(localStorage.getItem('quill-form-ines-b')!).typed).toBe('2');
});

// What others save meanwhile

type Said = Record<string, unknown>;
const onForm = (saved: unknown, name = 'card') =>
  renderHook((now: unknown) => useKept(name, now), {
    wrapper,
    initialProps: saved,
  });
const stored = () => localStorage.getItem('quill-form-ines-card');

test('with nothing typed a form shows what others save, and that is known', () => {
  const it = onForm({ name: 'Strand', phone: '1' });
  it.rerender({ name: 'Strand', phone: '2' });
  expect(it.result.current).toMatchObject({
    typed: { name: 'Strand', phone: '2' },
    isCurrent: true,
  });
  const line = onForm('A', 'line');
  line.rerender('B');
  line.rerender('C');
  expect(line.result.current).toMatchObject({ typed: 'C', over: 'C' });
});

test('behind what is typed nobody’s change is known before it was told; where nothing is typed it shows', () => {
  const it = onForm({ phone: '1', email: 'a', list: [1, 2] });
  const type = (part: Said) => act(() => it.result.current.set({ ...(it.result.current.typed as Said), ...part }));
  type({ phone: '3', code: '' });
  const theirs = { phone: '2', email: 'b', code: 'C', list: [1, 5] };
  it.rerender(theirs);
  expect(it.result.current).toMatchObject({
    typed: { ...theirs, phone: '3' },
    over: { ...theirs, phone: '1' },
    isCurrent: false,
  });
  type({ phone: '34' });
  expect(it.result.current.over).toMatchObject({ phone: '1', email: 'b' });
  // A reload knows no more than its author did.
  expect(onForm(theirs).result.current).toMatchObject({
    typed: { ...theirs, phone: '34' },
    over: { ...theirs, phone: '1' },
    restored: true,
  });
  act(() => it.result.current.told());
  expect(it.result.current).toMatchObject({ over: theirs, isCurrent: true });
  // Told once is not told for good.
  it.rerender({ ...theirs, phone: '9' });
  expect(it.result.current).toMatchObject({
    typed: { phone: '34' },
    over: { phone: '2' },
    isCurrent: false,
  });
});

test('told before it has come, it is known as soon as it comes, whatever is typed until then', () => {
  const it = onForm('A');
  act(() => it.result.current.set('mine'));
  act(() => it.result.current.told());
  act(() => it.result.current.set('mine!'));
  expect(it.result.current).toMatchObject({ over: 'A', isCurrent: true });
  it.rerender('theirs');
  expect(it.result.current).toMatchObject({
    typed: 'mine!',
    over: 'theirs',
    isCurrent: true,
  });
});

test('what was saved here is known before it is read again, and what goes on being typed is typed over that', () => {
  const it = onForm('A');
  act(() => it.result.current.set('B'));
  act(() => it.result.current.settle('B'));
  act(() => it.result.current.set('BC'));
  expect(it.result.current).toMatchObject({
    typed: 'BC',
    over: 'B',
    isCurrent: true,
  });
  it.rerender('B');
  expect(it.result.current).toMatchObject({ typed: 'BC', isCurrent: true });
  it.rerender('A'); // somebody has taken it back
  expect(it.result.current).toMatchObject({ typed: 'BC', isCurrent: false });
});

test('what is typed while it is being saved is still being typed afterwards', () => {
  const it = onForm({ name: 'A', phone: '1' });
  act(() => it.result.current.set({ name: 'B', phone: '1' }));
  act(() => it.result.current.set({ name: 'BC', phone: '1' })); // on its way it is "B"
  const kept = { name: 'B', phone: '(1)' };
  act(() => it.result.current.keptAs({ name: 'B', phone: '1' }, kept));
  const now = {
    typed: { name: 'BC', phone: '(1)' },
    over: kept,
    isCurrent: true,
  };
  expect(it.result.current).toMatchObject(now);
  it.rerender(kept);
  expect(it.result.current).toMatchObject(now);
  expect(onForm(kept).result.current).toMatchObject({ ...now, restored: true });
});

test('what was saved by itself is not typed any more: another’s is not written over from here', () => {
  const it = onForm('A');
  act(() => it.result.current.set('B'));
  expect(stored()).not.toBeNull();
  it.rerender('B');
  expect(stored()).toBeNull();
  it.rerender('theirs');
  expect(it.result.current).toMatchObject({ typed: 'theirs', over: 'theirs' });
});

test('an idle window of the same form leaves in the browser what another is typing', () => {
  const [typing, idle] = [onForm({ name: 'A' }), onForm({ name: 'A' })];
  act(() => typing.result.current.set({ name: 'mine' }));
  idle.rerender({ name: 'A', phone: '2' });
  idle.rerender({ name: 'A', phone: '3' });
  expect(stored()).not.toBeNull();
  expect(onForm({ name: 'A', phone: '3' }).result.current.typed).toEqual({
    name: 'mine',
    phone: '3',
  });
});

test('in lists as long as before each place is looked at by itself', () => {
  const offices = (first: string, second: string) => [{ name: first }, { name: second }];
  const it = onForm(offices('North', 'South'));
  act(() => it.result.current.set(offices('North', 'Mine')));
  it.rerender(offices('Theirs', 'South'));
  expect(it.result.current).toMatchObject({
    typed: offices('Theirs', 'Mine'),
    over: offices('Theirs', 'South'),
    isCurrent: true,
  });
  it.rerender({ name: 'no list' });
  expect(it.result.current.typed).toEqual(offices('Theirs', 'Mine'));
});

test('lists of another length, and what one of both lacks, are told apart as wholes', () => {
  const it = onForm({ list: ['a'], more: { x: 1 } });
  act(() => it.result.current.set({ list: ['a', 'b'], more: { x: 1 } }));
  it.rerender({ list: ['c'], more: null });
  expect(it.result.current).toMatchObject({
    typed: { list: ['a', 'b'], more: null },
    over: { list: ['a'], more: null },
  });
});

test('what can’t be read in the browser’s store is as if nothing was typed', () => {
  localStorage.setItem('quill-form-ines-card', '{');
  expect(onForm('A').result.current).toMatchObject({
    typed: 'A',
    restored: false,
  });
});

// The shelf

test('the shelf gives what begins with a name, in order, and forgets what is dropped', () => {
  browserShelf.put('box-b', '2');
  browserShelf.put('box-a', '1');
  browserShelf.put('other', '3');
  expect(browserShelf.all('box-')).toEqual([
    ['box-a', '1'],
    ['box-b', '2'],
  ]);
  browserShelf.drop('box-a');
  expect(browserShelf.all('box-')).toEqual([['box-b', '2']]);
  vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
    throw new Error('full');
  });
  expect(() => browserShelf.put('box-c', '4')).not.toThrow();
});
