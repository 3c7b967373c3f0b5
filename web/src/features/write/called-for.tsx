/** Forms that the answers so far call for: why, and the way to add them. Nothing is added or taken out unasked. */
import { Button } from '../../primitives/button';
import { usePack } from '../workspace/use-pack';
import { useCalledFor } from './use-remarks';

export function CalledFor() {
  const called = useCalledFor();
  const pack = usePack();
  if (called.length === 0) return null;
  return (
    <section aria-label="Called for" className="mt-4 border-t border-hair pt-3 text-left text-sm">
      <ul>
        {called.map((remark) => (
          <li key={remark.mark} className="mb-2">
            <p className="mb-1 leading-snug">{remark.message}</p>
            <Button
              className="py-0.5!"
              disabled={pack.isPending}
              onClick={() => pack.mutate({ op: 'add', numbers: [remark.does?.add ?? ''] })}
            >
              {remark.does?.says}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
