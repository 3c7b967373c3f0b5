/** The deal's steps from what to what, each of which can be taken back and done again; and, for the broker, who looked at it. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { historyQuery, looksQuery, sessionQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { moment } from '../../primitives/format';
import { useDeal } from './use-deal';

export function HistoryDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { data: session } = useQuery(sessionQuery);
  const [looks, setLooks] = useState(false);
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title={looks ? 'Opened and downloaded' : 'History'} width={680}>
      {session?.role === 'broker' && (
        <Button look="words" className="mb-2" onClick={() => setLooks(!looks)}>
          {looks ? 'Changes' : 'Opened and downloaded'}
        </Button>
      )}
      {looks ? <Looks /> : <Steps open={open} />}
    </Dialog>
  );
}

const UNDOABLE = (kind: string) => kind !== 'start';

function Steps({ open }: { open: boolean }) {
  const { deal, id, undo } = useDeal();
  const { data: steps, error } = useQuery({ ...historyQuery(id, deal.head.seq), enabled: open });
  if (error) return <p className="text-wax">Couldn’t load the history. Nothing was lost. Try again.</p>;
  return (
    <ol className="border border-hair bg-paper">
      {steps?.map((step) => (
        <li key={step.id} className="flex items-start gap-4 border-b border-hair px-3 py-2 text-sm last:border-0">
          <span className="w-[118px] shrink-0 pt-0.5 text-xs text-ink-2">{moment(step.at)}</span>
          <span className={`min-w-0 flex-1 ${step.undone ? 'text-ink-3' : ''}`}>
            {step.moves.length === 0 || step.kind !== 'edit' ? step.said || 'Changed the deal' : null}
            {step.moves.map((m) => (
              <span key={m.label} className="block wrap-break-word">
                {step.kind === 'edit' && <span className="font-medium">{m.label}: </span>}
                {step.kind !== 'edit' && <span className="text-xs">{m.label}: </span>}
                <span className={step.kind === 'edit' ? '' : 'text-xs'}>
                  {m.before && `${short(m.before)} → `}
                  {short(m.after) || 'empty'}
                </span>
              </span>
            ))}
            {step.more > 0 && <span className="block text-xs text-ink-2">and {step.more} more</span>}
            <span className="block text-xs text-ink-2">
              {step.by}
              {step.undone && ', undone since'}
            </span>
          </span>
          {UNDOABLE(step.kind) && !step.undone && (
            <Button look="words" aria-label={`Undo ${step.said}`} onClick={() => void undo(step.id)}>
              Undo
            </Button>
          )}
          {step.undone && step.redo && (
            <Button look="words" aria-label={`Redo ${step.said}`} onClick={() => void undo(step.redo ?? '')}>
              Redo
            </Button>
          )}
        </li>
      ))}
      {steps?.length === 0 && <li className="px-3 py-3 text-sm text-ink-2">No changes yet.</li>}
    </ol>
  );
}

const short = (text: string) => (text.length > 140 ? `${text.slice(0, 140)}…` : text);

function Looks() {
  const { id } = useDeal();
  const { data: rows, error } = useQuery(looksQuery(id));
  if (error) return <p className="text-wax">Couldn’t load the record. Nothing was lost. Try again.</p>;
  return (
    <ol className="border border-hair bg-paper">
      {rows?.map((r, n) => (
        <li key={n} className="flex items-baseline gap-4 border-b border-hair px-3 py-1.5 text-sm last:border-0">
          <span className="w-[118px] shrink-0 text-xs text-ink-2">{moment(r.at)}</span>
          <span className="min-w-0 flex-1">
            {r.by} {r.what} {r.what === 'opened' ? 'the deal' : r.document}
            {r.what === 'downloaded' && r.how !== 'flat' && <span className="text-ink-2"> ({r.how})</span>}
          </span>
          {r.content && (
            <span className="font-mono text-xs text-ink-3" title={`SHA-256 ${r.content}`}>
              {r.content.slice(0, 8)}
            </span>
          )}
        </li>
      ))}
    </ol>
  );
}
