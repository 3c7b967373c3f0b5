/** Beginning a round, from wherever one comes to think of it. */
import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { client, got, once } from '../../api/client';
import { roundQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { sayProblem } from '../../primitives/notices';
import { useDeal } from '../deals/use-deal';

/** A new round of the deal, `like` an earlier one of it; and the way to it. */
export function useBeginRound() {
  const { id, params } = useDeal();
  const navigate = useNavigate();
  const queries = useQueryClient();
  return useAction({
    mutationFn: (like: string | null, key: string) =>
      got(client.POST('/api/deals/{deal}/rounds', { params, headers: once(key), body: { like } })),
    onSuccess: (row) => {
      queries.setQueryData(roundQuery(row.id).queryKey, row);
      void queries.invalidateQueries({ queryKey: ['rounds'] });
      void navigate({ to: '/deals/$deal/signing', params: { deal: id }, search: (s) => ({ ...s, round: row.id }) });
    },
    onError: sayProblem,
  });
}
