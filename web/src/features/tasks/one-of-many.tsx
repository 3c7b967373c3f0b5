/** A task in a list over many deals. */
import { Link } from '@tanstack/react-router';
import type { DueRow as Row } from '../../api/client';
import { DueRow } from './due-row';
import { useSettle } from './use-settle';

/** A task with the deal that it is of; `agents` where not all of them are one agent's. */
export function OneOfMany({ due, agents, compact = false }: { due: Row; agents: boolean; compact?: boolean }) {
  const settle = useSettle();
  return (
    <DueRow
      due={due}
      compact={compact}
      busy={settle.isPending}
      settle={(isDone) => settle.mutate({ deal: due.deal, code: due.code, isDone })}
      title={
        <Link
          to="/deals/$deal/tasks"
          params={{ deal: due.deal }}
          search={{ task: due.code }}
          className="hover:text-green-2 hover:underline"
        >
          {due.what}
        </Link>
      }
      told={
        <>
          {[due.address || due.deal_name, due.named || due.who, agents ? due.agent : ''].filter(Boolean).join(' · ')}
          {due.note && !compact && <span className="block">{due.note}</span>}
        </>
      }
    />
  );
}
