/** Who changed a contact, from what to what; each change can be taken back. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { client, got, once, type Contact } from '../../api/client';
import { contactHistoryQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { notify, sayProblem } from '../../primitives/notices';
import { moment } from '../../primitives/format';

const WORDS = {
  made: 'Made',
  changed: 'Changed',
  merged: 'Merged with another',
  parted: 'Separated again',
  removed: 'Removed',
  restored: 'Restored',
  undone: 'Undone',
} as const;

interface Props {
  contact: Contact;
  onClose: () => void;
  onUndone: (contact: Contact) => void;
}

export function ContactHistory({ contact, onClose, onUndone }: Props) {
  const { data: changes } = useQuery(contactHistoryQuery(contact.id));
  const queries = useQueryClient();
  const undo = useAction({
    mutationFn: (change: number, key: string) =>
      got(
        client.POST('/api/contacts/{contact}/history', {
          params: { path: { contact: contact.id } },
          headers: once(key),
          body: { change },
        }),
      ),
    onSuccess: ({ contact: saved, left }) => {
      void queries.invalidateQueries({ queryKey: ['contact history', contact.id] });
      notify(left.length ? `Undone, except for later changes: ${left.join(', ')}.` : 'Undone.');
      onUndone(saved);
    },
    onError: sayProblem,
  });
  return (
    <Dialog open onOpenChange={onClose} title={`History of ${contact.name}`} width={600}>
      <ol className="border border-hair bg-paper text-sm">
        {changes?.map((c) => (
          <li key={c.id} className="flex items-start gap-4 border-b border-hair px-3 py-2 last:border-0">
            <span className="w-[118px] shrink-0 pt-0.5 text-xs text-ink-2">{moment(c.at)}</span>
            <span className="min-w-0 flex-1">
              {WORDS[c.what]} <span className="text-xs text-ink-2">by {c.by}</span>
              {c.what !== 'made' &&
                c.moves.map((m) => (
                  <span key={m.label} className="block text-xs wrap-break-word">
                    {m.label}: {m.before || 'empty'} → {m.after || 'empty'}
                  </span>
                ))}
            </span>
            {(c.what === 'changed' || c.what === 'undone') && c.moves.length > 0 && (
              <Button look="words" onClick={() => undo.mutate(c.id)}>
                Undo
              </Button>
            )}
          </li>
        ))}
        {changes?.length === 0 && <li className="px-3 py-3 text-ink-2">No changes since it was added.</li>}
      </ol>
    </Dialog>
  );
}
