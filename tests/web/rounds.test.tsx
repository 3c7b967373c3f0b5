// @vitest-environment jsdom
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { act, cleanup, renderHook } from '@testing-library/react';
import { createElement, type ReactNode } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { WholeRound } from '../../web/src/api/client';
import { roundQuery } from '../../web/src/api/queries';
import { asAsked, useOnRound } from '../../web/src/features/signing/use-rounds';

afterEach(cleanup);

const queries = new QueryClient();
const wrapper = ({ children }: { children: ReactNode }) => createElement(QueryClientProvider, { client: queries }, children);
const { queryKey } = roundQuery('r');
const said = (subject: string) => ({ id: 'r', subject }) as WholeRound;
const shown = () => queries.getQueryData<WholeRound>(queryKey)?.subject;

/** An answer that comes when the test says so. */
function later() {
  let give: (row: WholeRound) => void = () => undefined;
  const answer = new Promise<WholeRound>((done) => (give = done));
  return { answer, give };
}

/** Two actions on one round, and what reads it anew. */
function round(looks: () => Promise<WholeRound>) {
  const [first, second] = [later(), later()];
  const begun: string[] = [];
  const begin =
    (name: string, { answer }: typeof first) =>
    () => (begun.push(name), answer);
  const { result } = renderHook(
    () => ({
      row: useQuery({ queryKey, queryFn: looks, initialData: said('before'), staleTime: Infinity }),
      first: useOnRound<void>('r', begin('first', first)),
      second: useOnRound<void>('r', begin('second', second)),
    }),
    { wrapper },
  );
  return { result, first, second, begun };
}

describe('a round that is changed twice at once', () => {
  it('shows what the last one made of it, whatever was being read meanwhile', async () => {
    const old = later();
    const looks = vi.fn(() => old.answer);
    const { result, first } = round(looks);
    act(() => result.current.first.mutate());
    void queries.invalidateQueries({ queryKey }); // a poll, begun before the change was through
    await act(async () => first.give(said('changed')));
    await act(async () => old.give(said('before')));
    expect(shown()).toBe('changed');
  });

  it("is changed once after the other, so that the last one's answer says both", async () => {
    const { result, first, second, begun } = round(async () => said('anew'));
    act(() => result.current.first.mutate());
    act(() => result.current.second.mutate());
    await act(async () => second.give(said('both')));
    expect(begun).toEqual(['first']);
    await act(async () => first.give(said('first, without the second')));
    await vi.waitFor(() => expect(shown()).toBe('both'));
    expect(begun).toEqual(['first', 'second']);
  });
});

describe('a round as it is being changed', () => {
  const papers = ['a', 'b', 'c', 'd'].map((document) => ({ document, chosen: document !== 'c' }));
  const people = [
    { key: 'buyer', turn: 1 },
    { key: 'seller', turn: 2 },
  ];
  const row = { id: 'r', subject: 'Papers', ends: null, choice: { papers, people, against: [] } } as unknown as WholeRound;
  const of = (...doing: Parameters<typeof asAsked>[1]) => {
    const { choice, ...rest } = asAsked(row, doing);
    return {
      ...rest,
      papers: choice!.papers.map((p) => (p.chosen ? p.document.toUpperCase() : p.document)).join(''),
      turns: choice!.people.map((p) => p.turn),
    };
  };

  it('stands as it is where nothing is done', () => {
    expect(asAsked(row, [])).toBe(row);
    expect(of({ subject: 'Yours' })).toMatchObject({ papers: 'ABcD', turns: [1, 2], subject: 'Yours' });
  });

  it('has papers, turns and days as they were chosen last', () => {
    expect(of({ papers: ['a', 'd'] }).papers).toBe('AbcD');
    expect(of({ papers: ['d', 'a', 'b'] }).papers).toBe('DAcB');
    expect(of({ papers: ['a', 'd'] }, { papers: ['d', 'c', 'a'] }).papers).toBe('DbCA');
    expect(of({ turns: { seller: 0 } }, { ends: '2027-01-01T00:00Z' })).toMatchObject({
      turns: [1, 0],
      ends: '2027-01-01T00:00Z',
    });
    expect(of({ papers: ['gone'] }).papers).toBe('abcd');
  });
});
