/** Forms by number, title, purpose or words of their text, and templates, added to the package at hand. */
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { FormChoice } from '../../api/client';
import { formsQuery, templatesQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { sayProblem } from '../../primitives/notices';
import { some } from '../../primitives/words';
import { useHand } from '../hand/hand';

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  add: (form: FormChoice) => void;
}

export function AddForms({ open, onOpenChange, add }: Props) {
  const [find, setFind] = useState('');
  const sought = useDeferredValue(find.trim());
  const { data: found = [] } = useQuery({ ...formsQuery({ find: sought, side: '', kind: '' }), enabled: open });
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Add to the package" width={620}>
      <input
        className="field mb-3 w-full"
        aria-label="Find a form"
        placeholder="Number, title, purpose or words in the text"
        autoFocus
        value={find}
        onChange={(e) => setFind(e.target.value)}
      />
      <ul className="mb-4 max-h-[300px] overflow-auto border border-hair bg-paper">
        {found.map((f) => (
          <FoundForm key={f.edition} form={f} add={() => add(f)} />
        ))}
        {found.length === 0 && (
          <li className="px-3 py-4 text-sm text-ink-2">No form is called that, and none has these words in its text.</li>
        )}
      </ul>
      <Templates open={open} onDone={() => onOpenChange(false)} />
    </Dialog>
  );
}

function FoundForm({ form: f, add }: { form: FormChoice; add: () => void }) {
  const { held } = useHand();
  const isThere = held.documents.some((d) => d.number === f.number);
  return (
    <li className="flex items-center gap-3 border-b border-hair px-3 py-2 last:border-0">
      <span className="w-10 text-sm font-semibold">{f.number}</span>
      <span className="min-w-0 flex-1 text-sm">
        {f.title}
        <span className="block text-xs text-ink-2">
          {f.topic}, {some(f.pages, 'page')}
          {!f.sides.includes(held.head.side) && `, not usual when ${held.head.side}`}
          {f.found && <span className="block italic">{f.found}</span>}
          {isThere && ', in the package'}
        </span>
      </span>
      <Button onClick={add} aria-label={`Add ${f.number} ${f.title}`}>
        {isThere ? 'Add again' : 'Add'}
      </Button>
    </li>
  );
}

function Templates({ open, onDone }: { open: boolean; onDone: () => void }) {
  const { held, calls, take } = useHand();
  const { data: templates = [] } = useQuery({ ...templatesQuery(), enabled: open });
  const apply = useAction({
    mutationFn: (template: string, key: string) => calls.applyTemplate(key, template),
    onSuccess: (delta) => {
      take(delta, delta.said);
      onDone();
    },
    onError: sayProblem,
  });
  return (
    <>
      <h3 className="mb-1 text-sm font-semibold text-ink-2">Apply a template</h3>
      <ul className="border border-hair bg-paper">
        {templates
          .filter((t) => t.side === held.head.side)
          .map((t) => (
            <li key={t.id} className="flex items-center gap-3 border-b border-hair px-3 py-2 text-sm last:border-0">
              <span className="min-w-0 flex-1">
                {t.name}
                <span className="block text-xs text-ink-2">{t.about}</span>
              </span>
              <Button disabled={apply.isPending} onClick={() => apply.mutate(t.id)} aria-label={`Apply ${t.name}`}>
                Apply
              </Button>
            </li>
          ))}
      </ul>
    </>
  );
}
