/** What stands, as an action gave it. */
import type { QueryClient, QueryKey } from '@tanstack/react-query';

/** A look that was on its way says what stood before, and may come after what was just done: it is let go. */
export function stands<T>(queries: QueryClient, queryKey: QueryKey, now: T): void {
  void queries.cancelQueries({ queryKey, exact: true });
  queries.setQueryData<T>(queryKey, now);
}
