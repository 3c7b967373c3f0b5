/** What happens in the user's rounds while they work: said in a notice, with the way there. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useEffect, useRef } from 'react';
import { client, got } from '../../api/client';
import { notify } from '../../primitives/notices';

/** Somebody who signs takes minutes: a third of one later is soon enough to hear of it. */
const EVERY_MS = 20_000;

export function useRoundNews(isSignedIn: boolean): void {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const upto = useRef<number | undefined>(undefined);
  const { data } = useQuery({
    queryKey: ['rounds', 'news'],
    queryFn: async () => {
      const found = await got(client.GET('/api/rounds/news', { params: { query: { after: upto.current } } }));
      upto.current = found.upto;
      return found;
    },
    enabled: isSignedIn,
    refetchInterval: EVERY_MS,
    gcTime: 0,
    retry: false, // it is asked again anyhow
  });
  useEffect(() => {
    for (const { deal, round, said, wrong } of data?.news ?? []) {
      const run = () => void navigate({ to: '/deals/$deal/signing', params: { deal }, search: { round } });
      notify(said, { wrong, action: { label: 'Look', run } });
    }
    if (data?.news.length)
      void queries.invalidateQueries({ queryKey: ['rounds'], predicate: ({ queryKey }) => queryKey[1] !== 'news' });
  }, [data, navigate, queries]);
}
