/** Beginning a round, from wherever one comes to think of it. */
import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { client, got, once } from '../../api/client';
import { roundQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { stands } from '../../api/stands';
import { sayProblem } from '../../primitives/notices';
import { useDeal } from '../deals/use-deal';

/** What a round begins with: as an earlier one of the deal was, or some papers alone; else what is usual. */
interface Begun {
  like?: string;
  papers?: string[];
}

/** A new round of the deal, and the way to it. */
export function useBeginRound() {
  const { id, params } = useDeal();
  const navigate = useNavigate();
  const queries = useQueryClient();
  return useAction({
    mutationFn: ({ like, papers }: Begun, key: string) =>
      got(
        client.POST('/api/deals/{deal}/rounds', {
          params,
          headers: once(key),
          body: { like: like ?? null, papers: papers ?? null },
        }),
      ),
    onSuccess: (row) => {
      stands(queries, roundQuery(row.id).queryKey, row);
      void queries.invalidateQueries({ queryKey: ['rounds'] });
      void navigate({ to: '/deals/$deal/signing', params: { deal: id }, search: (s) => ({ ...s, round: row.id }) });
    },
    onError: sayProblem,
  });
}
