// @vitest-environment jsdom
/** From every place a key leads to the next open blank: what is typed is sent first, and dialogs keep their own keys. */
import { act, cleanup, fireEvent, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { Blank } from '../../web/src/api/client';
import { blank } from './blanks';

const went: object[] = [];
const done: string[] = [];
const hand = {
  held: {
    documents: [{ id: 'd1', edition: 'e', set_aside: false }],
    blanks: [blank('a'), blank('b'), blank('c')],
  },
  outbox: { name: 'one', flush: () => void done.push('flushed') },
  at: (place: string, within: object) => ({ place, ...within }),
};
vi.mock('../../web/src/features/workspace/workspace', () => ({ useWorkspace: () => hand }));
vi.mock('@tanstack/react-router', () => ({
  useNavigate: () => (to: object) => {
    done.push('gone');
    went.push(to);
  },
}));
const { keepPlace, useOpen, useOpenCount, useOpenKeys, wayOf } = await import('../../web/src/features/workspace/way');

let name = 0;
beforeEach(() => {
  went.length = done.length = 0;
  hand.outbox = { ...hand.outbox, name: `window ${(name += 1)}` };
  hand.held.blanks = [blank('a'), blank('b'), blank('c')];
});
afterEach(() => {
  cleanup();
  document.body.innerHTML = '';
});

const to = (field: string) => ({
  place: 'write',
  search: { document: 'd1', field },
});

test('what is typed is on its way before the place is left for the next open blank', () => {
  const { result } = renderHook(() => useOpen());
  act(() => result.current.next());
  expect(done).toEqual(['flushed', 'gone']);
  expect(went).toEqual([to('a')]);
});

test('the one before is gone to from where one was', () => {
  keepPlace(hand.outbox.name, { blank: 'd1/b' });
  const { result } = renderHook(() => useOpen());
  act(() => result.current.previous());
  act(() => result.current.next());
  expect(went).toEqual([to('a'), to('c')]);
});

test('where nothing is open it stays, and what is typed is sent all the same', () => {
  hand.held.blanks = [blank('a', { state: 'filled' })];
  const { result } = renderHook(() => useOpen());
  act(() => result.current.next());
  expect([done, went]).toEqual([['flushed'], []]);
});

test('a paper on the screen is jumped in; an order of its own is followed instead', () => {
  const way = wayOf(hand.outbox.name);
  const jumped: string[] = [];
  way.jump = (b) => void jumped.push(b.field);
  const { result } = renderHook(() => useOpen());
  act(() => result.current.next());
  expect([jumped, went]).toEqual([['a'], []]);
  const stepped: boolean[] = [];
  way.step = (back) => void stepped.push(back);
  act(() => result.current.next());
  act(() => result.current.previous());
  expect([stepped, jumped]).toEqual([[false, true], ['a']]);
});

test('it goes by what is at hand now, and by the outbox of now', () => {
  const { result, rerender } = renderHook(() => useOpen());
  hand.held = {
    ...hand.held,
    blanks: [blank('a', { state: 'filled' }), blank('z')],
  };
  rerender();
  act(() => result.current.next());
  expect(went).toEqual([to('z')]);
});

test('all that ask for something are counted, as it changes', () => {
  const { result, rerender } = renderHook(() => useOpenCount());
  expect(result.current).toBe(3);
  hand.held = {
    ...hand.held,
    blanks: [
      blank('a', { state: 'filled', clashes: [{}] as Blank['clashes'] }),
      blank('b', { state: 'filled' }),
      blank('s', { shape: 'sign' }),
    ],
  };
  rerender();
  expect(result.current).toBe(1);
});

const press = (keys: object, on: Element | Window = window) => {
  const event = new KeyboardEvent('keydown', {
    key: 'Enter',
    bubbles: true,
    cancelable: true,
    ...keys,
  });
  act(() => void on.dispatchEvent(event));
  return event.defaultPrevented;
};

test('Ctrl or Command with Enter goes on, with Shift back, and nothing else does', () => {
  keepPlace(hand.outbox.name, { blank: 'd1/b' });
  const { unmount } = renderHook(() => useOpenKeys());
  expect(press({ ctrlKey: true })).toBe(true);
  expect(press({ metaKey: true })).toBe(true);
  expect(press({ ctrlKey: true, shiftKey: true })).toBe(true);
  expect(went).toEqual([to('c'), to('c'), to('a')]);
  expect(press({})).toBe(false);
  expect(press({ shiftKey: true })).toBe(false);
  expect(press({ ctrlKey: true, key: 'k' })).toBe(false);
  expect(went).toHaveLength(3);
  unmount();
  expect(press({ ctrlKey: true })).toBe(false);
  expect(went).toHaveLength(3);
});

test('what has the keys in a dialog or a menu keeps them', () => {
  renderHook(() => useOpenKeys());
  for (const role of ['dialog', 'alertdialog', 'menu']) {
    const around = document.createElement('div');
    around.setAttribute('role', role);
    const inside = around.appendChild(document.createElement('input'));
    document.body.append(around);
    expect(press({ ctrlKey: true }, inside)).toBe(false);
  }
  expect(went).toEqual([]);
  const field = document.body.appendChild(document.createElement('input'));
  fireEvent.keyDown(field, { key: 'Enter', ctrlKey: true });
  expect(went).toHaveLength(1);
});

test('the keys follow what is at hand', () => {
  const { rerender } = renderHook(() => useOpenKeys());
  hand.held = { ...hand.held, blanks: [blank('z')] };
  rerender();
  press({ ctrlKey: true });
  expect(went).toEqual([to('z')]);
});

test('a store that is full or closed loses the place with the window alone', () => {
  const full = vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
    throw new DOMException('full', 'QuotaExceededError');
  });
  keepPlace('full', { blank: 'd1/c', page: 'd1-2' });
  full.mockRestore();
  expect(wayOf('full')).toMatchObject({
    blank: 'd1/c',
    page: 'd1-2',
    jump: null,
    step: null,
  });
});
