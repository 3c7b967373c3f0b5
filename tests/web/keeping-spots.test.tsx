// @vitest-environment jsdom
/** Places put on the paper: in the browser at once, on the server a moment later; nothing put is lost. */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook } from '@testing-library/react';
import { createElement, type ReactNode } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Problem, type HandSpot, type PackageItem } from '../../web/src/api/client';
import { WorkspaceContext, type Workspace } from '../../web/src/features/workspace/workspace';
import { keyOf, together, useSaving } from '../../web/src/features/write/keeping-spots';

const spots = vi.fn();
const take = vi.fn();
const hand = { calls: { spots }, take, outbox: { name: 'deal-1' } } as unknown as Workspace;
let queries: QueryClient;
const wrapper = ({ children }: { children: ReactNode }) =>
  createElement(QueryClientProvider, { client: queries }, createElement(WorkspaceContext, { value: hand }, children));
const saving = () => renderHook(() => useSaving(), { wrapper }).result;
const wait = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

const spot = (label = ''): HandSpot => ({
  id: 'a',
  page: 1,
  rect: [1, 2, 60, 20],
  what: 'text',
  who: 'buyers.1',
  label,
  required: true,
});
type Saving = ReturnType<typeof saving>;
const keep = (it: Saving, label: string) =>
  act(() => it.current.put((all) => ({ ...all, [keyOf('d', 'a')]: { document: 'd', spot: spot(label) } })));
const sent = () => spots.mock.calls.map(([, document, op]) => [document, op.op, op.spots.map((s: HandSpot) => s.label)]);

beforeEach(() => {
  localStorage.clear();
  vi.useFakeTimers();
  vi.stubGlobal('crypto', { randomUUID: () => 'change' });
  queries = new QueryClient();
  queries.setQueryData(['session'], { id: 'ines', email: 'ines@x.example' });
  spots.mockReset().mockResolvedValue({});
  take.mockReset();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test('what is put is sent a moment later, once, as it is then', async () => {
  const it = saving();
  keep(it, 'We');
  await wait(200);
  keep(it, 'Well');
  expect(it.current.state).toBe('Saving …');
  await wait(1_000);
  expect(sent()).toEqual([['d', 'put', ['Well']]]);
  expect(it.current).toMatchObject({ state: 'Saved', unsaved: {} });
});

test('what is typed while a request is on its way is sent after it, and never shown as saved before', async () => {
  let answer: (delta: object) => void = () => undefined;
  spots.mockImplementationOnce(() => new Promise((done) => (answer = done)));
  const it = saving();
  keep(it, 'Well');
  await wait(600);
  keep(it, 'Well number');
  await act(async () => answer({}));
  await wait(1);
  expect(it.current.state).toBe('Saving …');
  await wait(1_000);
  expect(sent().map(([, , labels]) => labels)).toEqual([['Well'], ['Well number']]);
  expect(it.current.state).toBe('Saved');
});

test('a place that is refused takes no other with it', async () => {
  const refuse = new Problem('This place is too small to sign.', 'Draw it larger.', 400);
  spots.mockImplementation((_, __, op: { spots: HandSpot[] }) =>
    op.spots.some((s) => s.label === 'tiny') ? Promise.reject(refuse) : Promise.resolve({}),
  );
  const it = saving();
  act(() =>
    it.current.put(() => ({
      [keyOf('d', 'a')]: { document: 'd', spot: spot('Well') },
      [keyOf('d', 'b')]: { document: 'd', spot: { ...spot('tiny'), id: 'b' } },
      [keyOf('d', 'c')]: { document: 'd', spot: { ...spot('Fence'), id: 'c' } },
    })),
  );
  await wait(1_000);
  expect(sent().map(([, , labels]) => labels)).toEqual([['Well', 'tiny', 'Fence'], ['Well'], ['tiny'], ['Fence']]);
  expect(take).toHaveBeenCalledTimes(2);
  expect(it.current).toMatchObject({ state: 'Saved', unsaved: {} });
});

test('without a network it stays here, also over a reload, and goes out once there is one', async () => {
  spots.mockRejectedValue(new Problem('The server can’t be reached.', '', 0));
  const it = saving();
  keep(it, 'Well');
  await wait(700);
  await wait(6_000);
  expect(it.current.state).toContain('Not saved yet');
  expect(spots.mock.calls.length).toBeGreaterThan(1);
  cleanup();
  await wait(1); // what is left is tried once more as the screen is left
  spots.mockReset().mockResolvedValue({});
  const again = saving();
  expect(Object.values(again.current.unsaved)[0]?.spot.label).toBe('Well');
  await wait(1_000);
  expect(sent()).toEqual([['d', 'put', ['Well']]]);
  expect(again.current.state).toBe('Saved');
});

test('of an ended session nothing is lost, and the sign-in comes up', async () => {
  spots.mockRejectedValue(new Problem('Your session has ended.', '', 401));
  const it = saving();
  keep(it, 'Well');
  await wait(700);
  expect(queries.getQueryData(['session'])).toBeNull();
  expect(Object.values(it.current.unsaved)).toHaveLength(1);
});

test('what is refused is given up, and said', async () => {
  spots.mockRejectedValue(new Problem('On page 1 a date is in the way.', 'Move it beside the blank.', 409));
  const it = saving();
  keep(it, 'Well');
  await wait(700);
  expect(it.current).toMatchObject({ state: 'Saved', unsaved: {} });
});

test('what isn’t saved stands in the place of what is, and beside it', () => {
  const item = { id: 'd', set_aside: false, spots: [{ ...spot('old'), name: 'Omar', is_there: true, size: 0, lines: [] }] };
  const put = { ...spot('new'), id: 'b' };
  const shown = together([item as unknown as PackageItem], {
    [keyOf('d', 'a')]: { document: 'd', spot: spot('changed') },
    [keyOf('d', 'b')]: { document: 'd', spot: put },
  });
  expect(shown.map((s) => [s.id, s.label])).toEqual([
    ['a', 'changed'],
    ['b', 'new'],
  ]);
  expect(together([{ ...item, set_aside: true } as unknown as PackageItem], {})).toEqual([]);
});
