// @vitest-environment jsdom
/** What a signer does and types: one thing at a time, in the order in which it was asked. */
import { act, renderHook } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import type { Asking, Round } from '../../web/src/signer/asking';
import { useRound } from '../../web/src/signer/use-round';

/** A round that says what was done last. */
const round = (at: string) => ({ at, state: 'out', papers: [] }) as unknown as Round;

/** A server that answers when it is told to. */
function slow() {
  const open: { name: string; answer: (error?: Error) => Promise<void> }[] = [];
  const asked = (name: string) =>
    new Promise<Round>((done, failed) => {
      const answer = (error?: Error) => act(async () => (error ? failed(error) : done(round(name))));
      open.push({ name, answer });
    });
  const ask = { open: () => Promise.resolve(round('opened')), see: () => Promise.resolve(round('seen')) };
  return { ask: ask as unknown as Asking, asked, open, names: () => open.map((o) => o.name) };
}

async function opened(ask: Asking) {
  const { result } = renderHook(() => useRound(ask, ''));
  await act(async () => undefined);
  expect(result.current.round?.at).toBe('opened');
  return result;
}

test('what is typed is kept behind whoever goes on, and nothing that is done passes it', async () => {
  const { ask, asked, open, names } = slow();
  const used = await opened(ask);
  let done: Promise<boolean> | undefined;
  act(() => void used.current.keep(() => asked('typed')));
  await act(async () => undefined);
  expect(used.current.busy).toBe(false);
  act(() => {
    done = used.current.run(() => asked('answered'));
  });
  await act(async () => undefined);
  expect(used.current.busy).toBe(true);
  expect(names()).toEqual(['typed']);
  await open[0]!.answer();
  expect(used.current.round?.at).toBe('typed');
  expect(names()).toEqual(['typed', 'answered']);
  await open[1]!.answer();
  expect(await done).toBe(true);
  expect(used.current.busy).toBe(false);
  expect(used.current.round?.at).toBe('answered');
});

test('what is typed while something is done is kept behind it', async () => {
  const { ask, asked, open, names } = slow();
  const used = await opened(ask);
  act(() => void used.current.run(() => asked('answered')));
  act(() => void used.current.keep(() => asked('typed')));
  await act(async () => undefined);
  expect(names()).toEqual(['answered']);
  await open[0]!.answer();
  expect(used.current.busy).toBe(false);
  expect(names()).toEqual(['answered', 'typed']);
});

test('pressed twice it is done once', async () => {
  const { ask, asked, open, names } = slow();
  const used = await opened(ask);
  act(() => void used.current.run(() => asked('signed')));
  let again: boolean | undefined;
  await act(async () => {
    again = await used.current.run(() => asked('signed'));
  });
  expect(again).toBe(false);
  await open[0]!.answer();
  expect(names()).toEqual(['signed']);
});

test('what fails says so, shows what stands, and the next is done all the same', async () => {
  const { ask, asked, open, names } = slow();
  const used = await opened(ask);
  let kept: Promise<boolean> | undefined;
  act(() => {
    kept = used.current.keep(() => asked('typed'));
  });
  act(() => void used.current.run(() => asked('answered')));
  await act(async () => undefined);
  await open[0]!.answer(new Error('gone'));
  expect(await kept).toBe(false);
  expect(used.current.round?.at).toBe('seen');
  expect(names()).toEqual(['typed', 'answered']);
  await open[1]!.answer();
  expect(used.current.trouble).toBe('');
  expect(used.current.round?.at).toBe('answered');
});

test('a look that was on its way says nothing once something was done', async () => {
  vi.useFakeTimers();
  try {
    const { ask, asked, open } = slow();
    const done = { at: 'done', state: 'out', papers: [] } as unknown as Round;
    let late: (round: Round) => void = () => undefined;
    const looking: Asking = {
      ...ask,
      open: () => Promise.resolve(done),
      see: () => new Promise<Round>((see) => (late = see)),
    };
    const { result } = renderHook(() => useRound(looking, ''));
    await act(async () => undefined);
    act(() => void vi.advanceTimersByTime(5_000));
    act(() => void result.current.run(() => asked('on paper')));
    await act(async () => undefined);
    await open[0]!.answer();
    await act(async () => late(round('before')));
    expect(result.current.round?.at).toBe('on paper');
    act(() => void vi.advanceTimersByTime(5_000));
    await act(async () => late(round('signed by all')));
    expect(result.current.round?.at).toBe('signed by all');
  } finally {
    vi.useRealTimers();
  }
});
