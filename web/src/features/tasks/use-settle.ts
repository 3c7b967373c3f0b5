/** Settling a task of some deal without going there. */
import { useQueryClient } from '@tanstack/react-query';
import { client, got } from '../../api/client';
import { useAction } from '../../api/use-action';
import { notify, sayProblem } from '../../primitives/notices';

interface Settled {
  deal: string;
  code: string;
  isDone: boolean;
}

export function useSettle() {
  const queries = useQueryClient();
  const asNow = () => {
    for (const queryKey of [['dues'], ['deals'], ['tasks']]) void queries.invalidateQueries({ queryKey });
  };
  const call = ({ deal, code, isDone }: Settled, change: string) =>
    got(
      client.POST('/api/deals/{deal}/tasks', {
        params: { path: { deal } },
        body: { change, op: isDone ? 'done' : 'not done', code },
      }),
    );
  const takeBack = async (settled: Settled) => {
    try {
      await call({ ...settled, isDone: !settled.isDone }, crypto.randomUUID());
      asNow();
    } catch (error) {
      if (error instanceof Error) sayProblem(error);
    }
  };
  return useAction({
    mutationFn: call,
    onSuccess: (delta, settled) => {
      asNow();
      notify(`${delta.said}.`, { action: { label: 'Undo', run: () => void takeBack(settled) } });
    },
    onError: sayProblem,
  });
}
