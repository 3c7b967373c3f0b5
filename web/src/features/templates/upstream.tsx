/** What changed in the template that this one was copied from: each part taken over, or kept as it is here. */
import { useState } from 'react';
import { client, got, type WrittenTemplate } from '../../api/client';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { sayProblem } from '../../primitives/notices';
import { useWorkspace } from '../workspace/workspace';

export function Upstream({ template }: { template: WrittenTemplate }) {
  const { take } = useWorkspace();
  const [left, setLeft] = useState<string[]>([]);
  const chosen = template.upstream.map((part) => part.id).filter((id) => !left.includes(id));
  const act = useAction({
    mutationFn: (keep: boolean, change: string) =>
      got(
        client.POST('/api/templates/{template}/upstream', {
          params: { path: { template: template.id } },
          body: { change, parts: chosen, keep },
        }),
      ),
    onSuccess: (delta) => take(delta, delta.said),
    onError: sayProblem,
  });
  return (
    <section aria-label="Changed upstream" className="border-b border-hair bg-green-wash px-5 py-3 text-sm">
      <p className="mb-1.5">
        “{template.copied_from?.name}”, from which this was copied, has changed since. Each part is taken over by itself.
      </p>
      <ul className="mb-2">
        {template.upstream.map((part) => (
          <li key={part.id}>
            <label className="flex min-h-6 items-baseline gap-2">
              <input
                type="checkbox"

                checked={!left.includes(part.id)}
                onChange={(e) => setLeft(e.target.checked ? left.filter((id) => id !== part.id) : [...left, part.id])}
              />
              <span className="min-w-0">
                {part.label}: {part.was || 'not there'} → <span className="font-medium">{part.now || 'taken out'}</span>
                {part.mine !== part.was && <span className="text-ink-2"> (here: {part.mine || 'not there'})</span>}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-3">
        <Button look="act" disabled={chosen.length === 0 || act.isPending} onClick={() => act.mutate(false)}>
          Take over
        </Button>
        <Button disabled={chosen.length === 0 || act.isPending} onClick={() => act.mutate(true)}>
          Keep mine
        </Button>
      </div>
    </section>
  );
}
