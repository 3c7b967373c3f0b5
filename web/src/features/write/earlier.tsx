/** What the same agent answered in other deals to what is asked here, offered again: one key away, and fewer as one types. */
import { useQuery } from '@tanstack/react-query';
import { some } from '../../primitives/format';
import { useEcho, useWorkspace } from '../workspace/workspace';
import { arrowsAmong } from './beside-arrows';

const FRESH_MS = 300_000;

/** Goes to the first of them, within `box` or anywhere on the screen; whether there is one. */
export function toEarlier(box: ParentNode | null = document): boolean {
  const first = box?.querySelector<HTMLElement>('[data-earlier]');
  first?.focus();
  return Boolean(first);
}

const onKeyDown = arrowsAmong('data-earlier');

export function Earlier({ of, onTake }: { of: string; onTake: (text: string) => void }) {
  const { calls, outbox } = useWorkspace();
  const typed = useEcho(of)?.trim().toLowerCase() ?? '';
  const { data = [] } = useQuery({
    queryKey: ['earlier', outbox.name],
    queryFn: calls.earlier,
    staleTime: FRESH_MS,
    retry: false,
  });
  const answers = data.find((e) => e.key === of)?.answers ?? [];
  const fitting = answers.filter((a) => a.shown.toLowerCase().includes(typed));
  if (fitting.length === 0) return null;
  return (
    <div className="mt-2">
      <p className="mb-1 text-xs text-ink-2">In your other deals (↓, Enter)</p>
      <div>
        {fitting.map((answer) => (
          <button
            key={answer.text}
            type="button"
            data-earlier
            onKeyDown={onKeyDown}
            onClick={() => onTake(answer.text)}
            className="moves flex min-h-7 w-full items-baseline gap-3 rounded-sm px-2 py-1 text-left text-sm hover:bg-green-wash"
          >
            <span className="values line-clamp-2 min-w-0 flex-1">{answer.shown}</span>
            <span className="shrink-0 text-xs text-ink-2">{some(answer.times, 'deal')}</span>
          </button>
        ))}
      </div>
    </div>
  );
}
