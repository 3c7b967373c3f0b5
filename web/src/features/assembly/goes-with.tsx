/** Forms that go with those of the package: named by one of them, or usual beside them. */
import { useQuery } from '@tanstack/react-query';
import type { PackageOp } from '../../api/client';
import { goesWithQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { useWorkspace } from '../workspace/workspace';
import type { Act } from '../workspace/use-pack';

/** As many as stand there before the others are asked for in the dialog of forms. */
const SHOWN = 5;

export function GoesWith({ act, doing }: { act: Act; doing: PackageOp[] }) {
  const { id, held } = useWorkspace();
  const { data = [] } = useQuery(goesWithQuery(id, held.head.seq));
  const there = new Set(held.documents.map((d) => d.number));
  const rows = data.filter((f) => !there.has(f.number)).slice(0, SHOWN);
  const isAdding = (number: string) => doing.some((op) => op.numbers?.join() === number);
  if (rows.length === 0) return null;
  return (
    <section aria-labelledby="goes-with" className="mt-6">
      <h2 id="goes-with" className="mb-1 text-sm font-semibold text-ink-2">
        Goes with these
      </h2>
      <ul className="border border-dashed border-blotter-3 bg-sheet text-sm">
        {rows.map((f) => (
          <li key={f.number} className="flex items-center gap-3 border-b border-hair px-3 py-1.5 last:border-0">
            <span className="w-9 shrink-0 font-semibold">{f.number}</span>
            <span className="min-w-0 flex-1">
              {f.title}
              <span className="block text-xs text-ink-2">{f.why}</span>
            </span>
            <Button
              aria-label={`Add form ${f.number} ${f.title}`}
              onClick={() => !isAdding(f.number) && act({ op: 'add', numbers: [f.number] })}
            >
              {isAdding(f.number) ? 'Adding …' : 'Add'}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
