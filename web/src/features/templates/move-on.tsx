/** A template on retired editions: what newer ones would change, and moving on in one action that can be undone. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got, type WrittenTemplate } from '../../api/client';
import { movesQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { sayProblem } from '../../primitives/notices';
import { useWorkspace } from '../workspace/workspace';

export function MoveOn({ template }: { template: WrittenTemplate }) {
  const { take } = useWorkspace();
  const [seen, setSeen] = useState(false);
  const move = useAction({
    mutationFn: (_: void, change: string) =>
      got(client.POST('/api/templates/{template}/newest', { params: { path: { template: template.id } }, body: { change } })),
    onSuccess: (delta) => take(delta, delta.said),
    onError: sayProblem,
  });
  return (
    <section aria-label="Newer editions" className="border-b border-ochre bg-ochre-wash px-5 py-3 text-sm">
      <div className="flex flex-wrap items-center gap-3">
        <span className="min-w-[240px] flex-1">
          A newer release has another edition of {template.retired.join(', ')}, or none any more. Moving on takes retired forms
          out and carries every answer whose blank is still there.
        </span>
        <Button look="words" aria-expanded={seen} onClick={() => setSeen(!seen)}>
          Preview changes
        </Button>
        <Button disabled={move.isPending} onClick={() => move.mutate()}>
          {move.isPending ? 'Updating …' : 'Update'}
        </Button>
      </div>
      {seen && <Moves template={template.id} />}
    </section>
  );
}

function Moves({ template }: { template: string }) {
  const { data, error } = useQuery(movesQuery(template));
  if (error) return <p className="mt-2 text-wax">{error.message}</p>;
  if (!data) return <p className="mt-2 text-ink-2">Comparing the editions …</p>;
  return (
    <ul className="mt-2 space-y-2">
      {data.map((form) => (
        <li key={form.number}>
          <p className="font-medium">
            {form.number} {form.title}
            {form.retired && <span className="text-wax">: retired and removed</span>}
          </p>
          {form.answers_lost.length > 0 && (
            <p className="text-wax">Not carried, the blank is gone: {form.answers_lost.join(', ')}</p>
          )}
          <ul className="list-disc pl-5 text-xs text-ink-2">
            {[...form.blanks, ...form.wording].map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
        </li>
      ))}
    </ul>
  );
}
