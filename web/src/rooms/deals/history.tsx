/** The deal's steps, each of which can be taken back. */
import { useQuery } from '@tanstack/react-query';
import { historyQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { moment } from '../../primitives/words';
import { useDeal } from './use-deal';

export function HistoryDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { deal, id, undo } = useDeal();
  const { data: steps, error } = useQuery({ ...historyQuery(id, deal.head.seq), enabled: open });
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="History" width={640}>
      {error && <p className="text-wax">The history can’t be read just now. Nothing is lost.</p>}
      <ol className="border border-hair bg-paper">
        {steps?.map((step) => (
          <li key={step.id} className="flex items-center gap-4 border-b border-hair px-3 py-2 text-sm last:border-0">
            <span className="w-[118px] shrink-0 text-xs text-ink-2">{moment(step.at)}</span>
            <span className={`min-w-0 flex-1 ${step.undone ? 'text-ink-3 line-through' : ''}`}>
              {step.said || 'Changed the deal'}
              <span className="block text-xs text-ink-2">{step.by}</span>
            </span>
            {!step.undone && step.kind !== 'start' && step.kind !== 'stage' && (
              <Button look="words" onClick={() => void undo(step.id)}>
                Undo
              </Button>
            )}
          </li>
        ))}
      </ol>
    </Dialog>
  );
}
