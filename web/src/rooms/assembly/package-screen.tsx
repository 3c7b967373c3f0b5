/** The package: documents in order and sections, what is open in each, and the large map. */
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate } from '@tanstack/react-router';
import { GripVertical } from 'lucide-react';
import { useDeferredValue, useMemo, useState } from 'react';
import { client, got, once, type FormChoice, type PackageItem } from '../../api/client';
import { useAction } from '../../api/use-action';
import { formsQuery, templatesQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { Mark } from '../../primitives/mark';
import { notify, sayProblem } from '../../primitives/notices';
import { MiniPage } from '../../primitives/package-map';
import { shortDate, some } from '../../primitives/words';
import { useDeal } from '../deals/use-deal';
import { pagesOf } from './pages';

type Op = {
  op: 'add' | 'remove' | 'aside' | 'take_up' | 'order';
  number?: string;
  edition?: string;
  document?: string;
  order?: string[];
};

export function PackageScreen() {
  const { deal, id, params, take } = useDeal();
  const [adding, setAdding] = useState(false);
  const [lit, setLit] = useState('');
  const pages = useMemo(() => pagesOf(deal, true), [deal]);
  const navigate = useNavigate();
  const change = useAction({
    mutationFn: (op: Op, key: string) =>
      got(
        client.POST('/api/deals/{deal}/package', {
          params,
          body: { change: key, ...op },
        }),
      ),
    onSuccess: (delta) => take(delta, delta.said),
    onError: (error) => notify(error.message, { wrong: true }),
  });
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = deal.documents.map((d) => d.id);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id)
      change.mutate({ op: 'order', order: arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))) });
  };
  const forms = deal.documents.filter((d) => d.edition && !d.set_aside);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_360px]">
      <div className="overflow-auto px-6 pb-10 pt-4">
        <div className="mb-3 flex items-center gap-3">
          <p className="text-sm text-ink-2">
            {some(forms.length, 'form')},{' '}
            {some(
              forms.reduce((n, d) => n + d.pages, 0),
              'page',
            )}
            , {some(deal.documents.length - deal.documents.filter((d) => d.edition).length, 'paper')} expected
          </p>
          <Button className="ml-auto" onClick={() => setAdding(true)}>
            Add forms
          </Button>
        </div>
        {deal.documents.length === 0 && (
          <div className="border border-hair bg-sheet px-8 py-12 text-center">
            <p className="mb-4 text-ink-2">
              The papers of this deal stand here in reading order. A template brings them all at once.
            </p>
            <Button look="act" onClick={() => setAdding(true)}>
              Add forms or a template
            </Button>
          </div>
        )}
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
          <SortableContext items={ids} strategy={verticalListSortingStrategy}>
            <ol>
              {deal.documents.map((d, n) => (
                <Item
                  key={d.id}
                  document={d}
                  section={d.section !== deal.documents[n - 1]?.section ? d.section : ''}
                  onHover={setLit}
                  act={(op) => change.mutate(op)}
                />
              ))}
            </ol>
          </SortableContext>
        </DndContext>
      </div>
      <aside aria-label="Package map" className="overflow-auto border-l border-blotter-3 px-5 py-4">
        <div className="flex flex-wrap gap-x-2 gap-y-2.5">
          {pages.map((p) => (
            <button
              key={p.id}
              type="button"
              aria-label={`Open ${p.label}`}
              title={p.label}
              onClick={() =>
                void navigate({
                  to: '/deals/$deal/write',
                  params: { deal: id },
                  search: { document: p.document.id, page: p.number },
                })
              }
            >
              <span
                className={`moves block ${lit && lit !== p.document.id ? 'opacity-35' : p.document.set_aside ? 'opacity-50' : ''}`}
              >
                <MiniPage page={p} width={72} here={lit === p.document.id} />
              </span>
              <span className="block pt-0.5 text-center text-[11px] text-ink-2">
                {p.first ? p.document.number || 'came' : '\u00a0'}{' '}
              </span>
            </button>
          ))}
        </div>
      </aside>
      <AddForms
        open={adding}
        onOpenChange={setAdding}
        add={(f) => change.mutate({ op: 'add', number: f.number, edition: f.edition })}
      />
    </div>
  );
}

function Item({
  document: d,
  section,
  onHover,
  act,
}: {
  document: PackageItem;
  section: string;
  onHover: (id: string) => void;
  act: (op: Op) => void;
}) {
  const { id, deal, params } = useDeal();
  const keep = useAction({
    mutationFn: (_: void, key: string) =>
      got(
        client.POST('/api/deals/{deal}/documents/{document}/keep', {
          params: { ...params, path: { deal: id, document: d.id } },
          headers: once(key),
        }),
      ),
    onSuccess: () => notify(`${d.title} is on record with ${deal.clients.map((c) => c.name).join(' and ')}, as it stands now.`),
    onError: sayProblem,
  });
  const retired = deal.retired[d.edition];
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: d.id });
  const style = { transform: CSS.Translate.toString(transform), transition };
  return (
    <li
      ref={setNodeRef}
      style={style}
      className={isDragging ? 'relative z-10' : ''}
      onMouseEnter={() => onHover(d.id)}
      onMouseLeave={() => onHover('')}
    >
      {section && <h2 className="mb-1 mt-4 text-sm font-semibold text-ink-2">{section}</h2>}
      <div
        className={`-mt-px flex items-center gap-2 border border-hair px-2 py-2 ${d.set_aside ? 'bg-blotter text-ink-2' : d.edition ? 'bg-paper' : 'border-dashed bg-sheet'}`}
      >
        <button
          type="button"
          aria-label={`Move ${d.title}`}
          className="cursor-grab px-0.5 text-ink-3"
          {...attributes}
          {...listeners}
        >
          <GripVertical size={15} />
        </button>
        <span className="w-10 shrink-0 text-sm font-semibold">{d.number}</span>
        <span className="min-w-0 flex-1">
          {d.edition ? (
            <Link
              to="/deals/$deal/write"
              params={{ deal: id }}
              search={{ document: d.id }}
              className="font-medium hover:text-green-2 hover:underline"
            >
              {d.title}
            </Link>
          ) : (
            <span className="font-medium">{d.title}</span>
          )}
          <span className="block text-xs text-ink-2">
            {d.edition
              ? `${some(d.pages, 'page')}, ${d.number ? 'edition of' : 'came'} ${shortDate(d.released)}`
              : `expected from the ${d.expected_from || 'other side'}`}{' '}
            · {d.why}
            {!d.ours && ' · filled by the other side'}
            {retired && (
              <span className="text-ochre">
                {' '}
                · a newer release retired this edition on {shortDate(retired)}; the deal keeps it
              </span>
            )}
          </span>
        </span>
        <span className="flex w-20 items-center gap-1.5 text-sm">
          {d.set_aside ? (
            'set aside'
          ) : d.open > 0 ? (
            <>
              <Mark name="open" quiet size={12} /> {d.open} open
            </>
          ) : (
            ''
          )}
        </span>
        {d.clients_own && deal.clients.length > 0 && (
          <Button
            look="words"
            disabled={keep.isPending}
            title={`On the record of ${deal.clients.map((c) => c.name).join(' and ')}, and in each of their deals`}
            onClick={() => keep.mutate()}
          >
            Keep with the client
          </Button>
        )}
        {d.edition && (
          <a
            className="px-1 text-sm text-green-2 hover:underline"
            href={`/api/deals/${id}/documents/${d.id}.pdf?offer=${deal.head.offer}`}
            download
            aria-label={`Download ${d.title}`}
          >
            PDF
          </a>
        )}
        <Button look="words" onClick={() => act({ op: d.set_aside ? 'take_up' : 'aside', document: d.id })}>
          {d.set_aside ? 'Take up' : 'Set aside'}
        </Button>
        <Button look="words" onClick={() => act({ op: 'remove', document: d.id })}>
          Take out
        </Button>
      </div>
    </li>
  );
}

function AddForms({
  open,
  onOpenChange,
  add,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  add: (form: FormChoice) => void;
}) {
  const { deal, params, take } = useDeal();
  const [find, setFind] = useState('');
  const sought = useDeferredValue(find.trim());
  const { data: found = [] } = useQuery({ ...formsQuery({ find: sought, side: '', kind: '' }), enabled: open });
  const { data: templates = [] } = useQuery({ ...templatesQuery(), enabled: open });
  const apply = useAction({
    mutationFn: (template: string, key: string) =>
      got(
        client.POST('/api/deals/{deal}/templates', {
          params,
          body: { change: key, template },
        }),
      ),
    onSuccess: (delta) => {
      take(delta, delta.said);
      onOpenChange(false);
    },
    onError: (error) => notify(error.message, { wrong: true }),
  });
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
        {found.map((f) => {
          const there = deal.documents.filter((d) => d.number === f.number).length;
          return (
            <li key={f.edition} className="flex items-center gap-3 border-b border-hair px-3 py-2 last:border-0">
              <span className="w-10 text-sm font-semibold">{f.number}</span>
              <span className="min-w-0 flex-1 text-sm">
                {f.title}
                <span className="block text-xs text-ink-2">
                  {f.topic}, {some(f.pages, 'page')}
                  {!f.sides.includes(deal.head.side) && `, not usual when ${deal.head.side}`}
                  {f.found && <span className="block italic">{f.found}</span>}
                  {there > 0 && ', in the package'}
                </span>
              </span>
              <Button onClick={() => add(f)} aria-label={`Add ${f.number} ${f.title}`}>
                {there ? 'Add again' : 'Add'}
              </Button>
            </li>
          );
        })}
        {found.length === 0 && (
          <li className="px-3 py-4 text-sm text-ink-2">No form is called that, and none has these words in its text.</li>
        )}
      </ul>
      <h3 className="mb-1 text-sm font-semibold text-ink-2">Apply a template</h3>
      <ul className="border border-hair bg-paper">
        {templates
          .filter((t) => t.side === deal.head.side)
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
    </Dialog>
  );
}
