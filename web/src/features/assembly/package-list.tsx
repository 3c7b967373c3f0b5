/** The papers at hand in order and sections, what is open in each, and the large map. */
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import { arrayMove, SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { useNavigate } from '@tanstack/react-router';
import { useMemo, useState, type ReactNode } from 'react';
import type { PackageItem as Document, PackageOp } from '../../api/client';
import { Button } from '../../primitives/button';
import { useCommand } from '../../primitives/commands';
import { FileButton } from '../../primitives/file-button';
import { MiniPage } from '../../primitives/package-map';
import { some } from '../../primitives/format';
import { useWorkspace } from '../workspace/workspace';
import { offerPaper, PAPERS } from '../workspace/dropped';
import { usePack } from '../workspace/use-pack';
import { AddForms } from './add-forms';
import { GoesWith } from './goes-with';
import { PackageItem } from './package-item';
import { pagesOf } from './pages';
import { useContinuation } from './use-continuation';

/** How many forms and pages leave, and how many papers are still to come. */
function sumOf(documents: Document[]): string {
  const forms = documents.filter((d) => d.edition && !d.set_aside);
  const pages = forms.reduce((n, d) => n + d.pages, 0);
  const expected = documents.filter((d) => !d.edition).length;
  return `${some(forms.length, 'form')}, ${some(pages, 'page')}, ${some(expected, 'paper')} expected`;
}

/** As they were put last: they stand there while it is being kept. */
function inOrder(documents: Document[], doing: PackageOp[]): Document[] {
  const order = doing.findLast((op) => op.op === 'order')?.order;
  if (!order) return documents;
  const place = (d: Document) => (order.includes(d.id) ? order.indexOf(d.id) : order.length);
  return [...documents].sort((a, b) => place(a) - place(b));
}

/** What is heard while a paper is moved by keys: its title and place, not its id. */
function saidOf(documents: Document[]): Announcements {
  const place = (id: UniqueIdentifier) => documents.findIndex((d) => d.id === id) + 1;
  const titled = (id: UniqueIdentifier) => {
    const found = documents.find((d) => d.id === id);
    return `${found?.number ?? ''} ${found?.title ?? ''}`.trim();
  };
  return {
    onDragStart: ({ active }) => `${titled(active.id)} is taken up, at place ${place(active.id)} of ${documents.length}.`,
    onDragOver: ({ active, over }) => (over ? `${titled(active.id)} would come to place ${place(over.id)}.` : undefined),
    onDragEnd: ({ active, over }) => `${titled(active.id)} is put down${over ? ` at place ${place(over.id)}` : ''}.`,
    onDragCancel: ({ active }) => `${titled(active.id)} stays where it was.`,
  };
}

interface Props {
  /** What else can be done with a paper here. */
  tools?: (document: Document) => ReactNode;
  /** What waits for a place in it. */
  waiting?: ReactNode;
  /** What else can be asked of the package as a whole. */
  beside?: ReactNode;
}

export function PackageList({ tools, waiting, beside }: Props) {
  const { held, isDeal } = useWorkspace();
  const [adding, setAdding] = useState(false);
  const [lit, setLit] = useState('');
  const change = usePack();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const documents = inOrder(held.documents, change.doing);
  useCommand('Add forms', () => setAdding(true));
  const ids = documents.map((d) => d.id);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const order = arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id)));
    change.mutate({ op: 'order', order, document: String(active.id) });
  };
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] min-[1000px]:grid-cols-[minmax(0,1fr)_360px]">
      <div className="min-h-0 overflow-auto px-6 pb-10 pt-4 max-[620px]:px-3">
        <div className="mb-3 flex flex-wrap items-center gap-3 max-[620px]:gap-2">
          <p className="mr-auto text-sm text-ink-2 max-[620px]:w-full">{sumOf(documents)}</p>
          {beside}
          <Button onClick={() => setAdding(true)}>Add forms</Button>
          {isDeal && (
            <FileButton
              label="Papers for the package: PDFs or pictures"
              accept={PAPERS}
              several
              onFile={(file) => offerPaper(file)}
            >
              Add papers
            </FileButton>
          )}
        </div>
        {waiting}
        {documents.length === 0 && <Nothing onAdd={() => setAdding(true)} />}
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={onDragEnd}
          accessibility={{ announcements: saidOf(documents) }}
        >
          <SortableContext items={ids} strategy={verticalListSortingStrategy}>
            <ol>
              {documents.map((d, n) => (
                <PackageItem
                  key={d.id}
                  document={d}
                  section={d.section !== documents[n - 1]?.section ? d.section : ''}
                  isBusy={change.doing.some((op) => op.op !== 'order' && op.document === d.id)}
                  onHover={setLit}
                  act={change.mutate}
                  tools={tools?.(d)}
                />
              ))}
            </ol>
          </SortableContext>
        </DndContext>
        <GoesWith act={change.mutate} doing={change.doing} />
      </div>
      <LargeMap lit={lit} />
      <AddForms open={adding} onOpenChange={setAdding} act={change.mutate} doing={change.doing} />
    </div>
  );
}

function Nothing({ onAdd }: { onAdd: () => void }) {
  return (
    <div className="border border-hair bg-sheet px-8 py-12 text-center">
      <p className="mb-4 text-ink-2">This is the package in reading order. A template adds all its forms at once.</p>
      <Button look="act" autoFocus onClick={onAdd}>
        Add forms or a template
      </Button>
    </div>
  );
}

/** Every page, drawn to scale; `lit` is the document that the pointer is on. */
function LargeMap({ lit }: { lit: string }) {
  const { held, at } = useWorkspace();
  const navigate = useNavigate();
  const further = useContinuation();
  const pages = useMemo(() => pagesOf(held, further, true), [held, further]);
  const faint = (document: Document) => (lit && lit !== document.id ? 'opacity-35' : document.set_aside ? 'opacity-50' : '');
  return (
    <section aria-label="Package map" className="overflow-auto border-l border-blotter-3 px-5 py-4 max-[999px]:hidden">
      <div className="flex flex-wrap gap-x-2 gap-y-2.5">
        {pages.map((p) => (
          <button
            key={p.id}
            type="button"
            aria-label={`Open ${p.label}`}
            title={p.label}
            onClick={() => void navigate(at('write', { search: { document: p.document.id, page: p.number } }))}
          >
            <span className={`moves block ${faint(p.document)}`}>
              <MiniPage page={p} width={72} here={lit === p.document.id} />
            </span>
            <span className="block pt-0.5 text-center text-[0.6875rem] text-ink-2">
              {p.first ? p.document.number || 'rec’d' : '\u00a0'}{' '}
            </span>
          </button>
        ))}
      </div>
    </section>
  );
}
