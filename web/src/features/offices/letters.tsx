/** Letters of the brokerage that have not arrived, for its broker; nothing while all have. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { client, got } from '../../api/client';
import { lettersQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { moment } from '../../primitives/format';

export function Letters() {
  const { data = [] } = useQuery(lettersQuery);
  const queries = useQueryClient();
  const again = useAction({
    mutationFn: (letter: string) => got(client.POST('/api/letters/{letter}', { params: { path: { letter } } })),
    onSuccess: (left) => {
      stands(queries, lettersQuery.queryKey, left);
      notify('Sent again.');
    },
    onError: sayProblem,
  });
  if (data.length === 0) return null;
  return (
    <section className="mt-4">
      <h3 className="mb-1 text-xs font-semibold text-ink-2">E-mails that were not delivered</h3>
      <ul className="border border-hair bg-paper text-sm">
        {data.map((l) => (
          <li key={l.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair px-3 py-1.5 last:border-0">
            <span className="min-w-[220px] flex-1">
              <span className="block font-medium">{l.subject}</span>
              <span className="block text-xs text-ink-2">
                to {l.to}, {moment(l.made)}
              </span>
            </span>
            <span className="min-w-[200px] flex-1 text-xs text-ink-2">
              {l.next_try ? `Tried ${l.tries} times, next ${moment(l.next_try)}. ` : `${l.state}. `}
              {l.said}
            </span>
            {!l.next_try && (
              <Button disabled={again.isPending} onClick={() => again.mutate(l.id)}>
                Send again
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
