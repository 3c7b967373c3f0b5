// @vitest-environment jsdom
/** A value being typed: sent after a pause and before it is left, once; taken back by Escape. */
import { act, cleanup, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';

const edits: object[] = [];
const typings: [string, object | null][] = [];
const flushed: string[] = [];
const left: string[] = [];
let echo: string | undefined;
const hand = {
  edit: (...all: object[]) => void edits.push(...all),
  outbox: {
    type: (key: string, edit: object | null) => void typings.push([key, edit]),
    flush: (key: string) => void flushed.push(key),
    leave: (key: string) => void left.push(key),
  },
};
vi.mock('../../web/src/features/workspace/workspace', () => ({
  useWorkspace: () => hand,
  useEcho: () => echo,
}));
const { useTyped } = await import('../../web/src/features/workspace/use-typed');

const VALUE = {
  key: 'x',
  text: '5',
  draft: null as { text: string } | null,
};
const field = (value = VALUE) => renderHook((now: typeof VALUE) => useTyped(now), { initialProps: value });
const last = <T,>(all: T[]) => all[all.length - 1];

beforeEach(() => {
  vi.useFakeTimers();
  edits.length = typings.length = flushed.length = left.length = 0;
  echo = undefined;
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

test('it shows what is typed, else what is on its way, else what holds, else what can’t be read', () => {
  const it = field().result;
  expect([it.current.value, it.current.held]).toEqual(['5', '5']);
  expect(field({ ...VALUE, draft: { text: '?' } }).result.current.value).toBe('?');
  echo = '6';
  expect(field().result.current.value).toBe('6');
  const typing = field().result;
  act(() => typing.current.change('7'));
  expect(typing.current.value).toBe('7');
  act(() => typing.current.change(''));
  expect(typing.current.value).toBe('');
});

test('after a pause it is sent, and not again when the field is left', () => {
  const it = field().result;
  act(() => it.current.enter());
  act(() => it.current.change('6'));
  expect(last(typings)).toEqual(['x', { op: 'type', key: 'x', text: '6' }]);
  act(() => vi.advanceTimersByTime(1100));
  expect(edits).toEqual([]);
  act(() => vi.advanceTimersByTime(200));
  expect(edits).toEqual([{ op: 'type', key: 'x', text: '6' }]);
  expect(it.current.text).toBe('6');
  act(() => it.current.commit());
  act(() => it.current.leave());
  expect(edits).toHaveLength(1);
  expect(last(typings)).toEqual(['x', null]);
  expect(it.current.text).toBeNull();
});

test('each key anew begins the pause; Enter sends at once', () => {
  const it = field().result;
  act(() => it.current.change('6'));
  act(() => vi.advanceTimersByTime(1000));
  act(() => it.current.change('66'));
  act(() => vi.advanceTimersByTime(1000));
  expect(edits).toEqual([]);
  act(() => it.current.commit());
  act(() => vi.advanceTimersByTime(3000));
  expect(edits).toHaveLength(1);
});

test('typed back to what holds nothing is sent; with nothing typed Enter does nothing', () => {
  const it = field().result;
  act(() => it.current.commit());
  act(() => it.current.leave());
  expect([edits, typings]).toEqual([[], []]);
  act(() => it.current.change('56'));
  act(() => it.current.change('5'));
  expect(last(typings)).toEqual(['x', null]);
  act(() => it.current.leave());
  expect(edits).toEqual([]);
});

test('typed back to what was sent meanwhile nothing more is sent; to what held before, it is', () => {
  const it = field().result;
  act(() => it.current.enter());
  act(() => it.current.change('6'));
  act(() => it.current.commit());
  act(() => it.current.change('67'));
  act(() => it.current.change('6'));
  expect(last(typings)).toEqual(['x', null]);
  act(() => it.current.change('5'));
  act(() => it.current.leave());
  expect(edits).toMatchObject([{ text: '6' }, { text: '5' }]);
});

test('emptied, or of nothing but spaces, it is cleared', () => {
  const it = field().result;
  act(() => it.current.change('  '));
  act(() => it.current.leave());
  expect(edits).toMatchObject([{ op: 'clear', text: '  ' }]);
});

test('until it is left, Escape or not, nobody’s change is taken for seen', () => {
  const { result, rerender } = field();
  act(() => result.current.change('6'));
  rerender({ ...VALUE, text: '9' });
  act(() => result.current.commit());
  expect(left).toEqual([]);
  act(() => result.current.leave());
  expect(left).toEqual(['x']);
  act(() => result.current.change('7'));
  act(() => result.current.giveBack());
  expect(left).toEqual(['x', 'x']);
});

test('entered again, what went off before counts no more', () => {
  const it = field().result;
  act(() => it.current.enter());
  act(() => it.current.change('6'));
  act(() => it.current.leave());
  act(() => it.current.enter());
  act(() => it.current.giveBack());
  expect(edits).toHaveLength(1);
});

test('Escape takes back what went off since the field was entered', () => {
  const it = field().result;
  act(() => it.current.enter());
  act(() => it.current.change('6'));
  act(() => it.current.giveBack());
  act(() => vi.advanceTimersByTime(3000));
  expect(edits).toEqual([]);
  expect(it.current.text).toBeNull();
  act(() => it.current.change('7'));
  act(() => it.current.commit());
  act(() => it.current.giveBack());
  expect(last(edits)).toEqual({ op: 'type', key: 'x', text: '5' });
  act(() => it.current.change('8'));
  act(() => it.current.commit());
  act(() => it.current.change('5'));
  act(() => it.current.commit());
  const before = edits.length;
  act(() => it.current.giveBack());
  expect(edits).toHaveLength(before); // it is what it was
});

test('where nothing was before, Escape clears; what can’t be read is dropped', () => {
  const empty = field({ ...VALUE, text: '' }).result;
  act(() => empty.current.enter());
  act(() => empty.current.change('6'));
  act(() => empty.current.commit());
  act(() => empty.current.giveBack());
  expect(last(edits)).toEqual({ op: 'clear', key: 'x', text: '' });
  const unread = field({ ...VALUE, draft: { text: '?' } }).result;
  act(() => unread.current.enter());
  act(() => unread.current.giveBack());
  expect(last(edits)).toEqual({ op: 'drop', key: 'x' });
});

test('a field that goes away has what was typed queued, under its own key', () => {
  const { result, rerender, unmount } = field();
  act(() => result.current.change('6'));
  rerender({ ...VALUE, key: 'y' });
  expect(flushed).toEqual(['x']);
  act(() => result.current.change('7'));
  expect(last(typings)).toEqual(['y', { op: 'type', key: 'y', text: '7' }]);
  unmount();
  expect([flushed, left]).toEqual([
    ['x', 'y'],
    ['x', 'y'],
  ]);
  act(() => vi.advanceTimersByTime(3000));
  expect(edits).toEqual([]);
});
