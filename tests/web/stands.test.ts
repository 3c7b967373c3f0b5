/** What an action gave stands, whatever look was on its way. */
import { QueryClient } from '@tanstack/react-query';
import { expect, test } from 'vitest';
import { stands } from '../../web/src/api/stands';

const KEY = ['profile'];

/** A look at the server whose answer is still on its way. */
function look(queries: QueryClient) {
  let answer: (said: string) => void = () => undefined;
  const queryFn = () =>
    new Promise<string>((done) => {
      answer = done;
    });
  const seen = queries.fetchQuery({ queryKey: KEY, queryFn, staleTime: 0 }).catch(() => 'let go');
  return { seen, answer: (said: string) => answer(said) };
}

test('a look that says what stood before is let go', async () => {
  const queries = new QueryClient();
  queries.setQueryData(KEY, 'before');
  const { seen, answer } = look(queries);
  stands(queries, KEY, 'after');
  answer('before');
  await seen;
  expect(queries.getQueryData(KEY)).toBe('after');
  expect(queries.getQueryState(KEY)?.fetchStatus).toBe('idle');
});

test('so is the first one of all', async () => {
  const queries = new QueryClient();
  const { seen, answer } = look(queries);
  stands(queries, KEY, 'after');
  answer('before');
  await seen;
  expect(queries.getQueryData(KEY)).toBe('after');
});

test('a look at something else goes on, and so does the next one', async () => {
  const queries = new QueryClient();
  const { seen, answer } = look(queries);
  stands(queries, [...KEY, 'offices'], 'after');
  answer('seen');
  expect(await seen).toBe('seen');
  stands(queries, KEY, 'after');
  const next = look(queries);
  next.answer('newer');
  await next.seen;
  expect(queries.getQueryData(KEY)).toBe('newer');
});
