/** One task in a list: settled by its box; what, whose, why then, and when. */
import type { ReactNode } from 'react';
import { weekday } from '../../primitives/format';
import type { Due } from './dues';

interface Props {
  due: Due;
  /** Says that it is done, or that it isn't; without it nothing can be settled here. */
  settle?: (isDone: boolean) => void;
  busy?: boolean;
  /** What it is called: words, or a link to where it stands. */
  title: ReactNode;
  /** What more there is to say under it. */
  told: ReactNode;
  tools?: ReactNode;
  /** Whether it is said that its day isn't known yet. */
  waits?: boolean;
  /** On one line, where there is room for it. */
  compact?: boolean;
}

export function DueRow({ due, settle, busy = false, title, told, tools, waits = true, compact = false }: Props) {
  const isOver = due.progress === 'done' || due.progress === 'not needed';
  return (
    <div className={`flex items-start gap-x-2.5 px-3 ${compact ? 'py-1.5' : 'py-2'}`}>
      {settle && (
        <label className="-m-1 grid h-8 w-8 shrink-0 cursor-pointer place-items-center">
          <input
            type="checkbox"
            className="h-4 w-4"
            aria-label={`${due.what}: done`}
            checked={due.progress === 'done'}
            disabled={busy || due.progress === 'not needed'}
            onChange={(e) => settle(e.target.checked)}
          />
        </label>
      )}
      <div className={`min-w-0 flex-1 ${compact ? 'flex flex-wrap items-baseline gap-x-3' : ''}`}>
        <p className={`leading-snug ${isOver ? 'text-ink-2 line-through decoration-ink-3' : 'font-medium'}`}>{title}</p>
        <p className="text-xs text-ink-2">{told}</p>
      </div>
      <p className={`shrink-0 whitespace-nowrap text-right text-sm ${due.urgency === 'late' ? 'font-medium text-wax' : ''}`}>
        {due.day ? (
          weekday(due.day)
        ) : (
          <span className="text-ink-3">{waits && due.progress === 'waiting' ? 'no date yet' : ''}</span>
        )}
        {due.urgency === 'late' && <span className={compact ? 'sr-only' : 'block text-xs'}> late</span>}
      </p>
      {tools}
    </div>
  );
}
