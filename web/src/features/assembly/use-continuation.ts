/** The continuation pages of what is in hand: none, and nothing asked for, while no document has some. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { ContinuationPage } from '../../api/client';
import { useWorkspace } from '../workspace/workspace';

const NONE: ContinuationPage[] = [];

export function useContinuation(): ContinuationPage[] {
  const { id, held, calls } = useWorkspace();
  const wanted = held.documents.some((d) => d.continued);
  const { data = NONE } = useQuery({
    queryKey: ['continuation', id, held.head.offer, held.head.seq],
    queryFn: calls.continuation,
    placeholderData: keepPreviousData,
    enabled: wanted,
  });
  return wanted ? data : NONE;
}
