/** One paper of the package: moved, left out, taken out; what is open in it. */
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Link } from '@tanstack/react-router';
import { GripVertical } from 'lucide-react';
import { useId, useState, type ReactNode } from 'react';
import { documentKey } from '../../api/keys';
import type { PackageItem as Document } from '../../api/client';
import { FileLink } from '../../primitives/file-link';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { FileButton } from '../../primitives/file-button';
import { Mark } from '../../primitives/mark';
import { MenuItem, MoreMenu } from '../../primitives/menu';
import { shortDate, some } from '../../primitives/format';
import { Findings } from '../workspace/findings';
import { offerPaper, PAPERS } from '../workspace/dropped';
import { useWorkspace } from '../workspace/workspace';
import type { Act } from '../workspace/use-pack';

interface Props {
  document: Document;
  /** The section's heading, above its first paper. */
  section: string;
  /** Something is being done with it. */
  isBusy: boolean;
  onHover: (id: string) => void;
  act: Act;
  /** What else can be done with it. */
  tools: ReactNode;
}

/** How a paper stands out: one that is expected, one that is left out. */
const lookOf = (d: Document) => (d.set_aside ? 'bg-blotter text-ink-2' : d.edition ? 'bg-paper' : 'border-dashed bg-sheet');

export function PackageItem({ document: d, section, isBusy, onHover, act, tools }: Props) {
  const { pdf, isDeal } = useWorkspace();
  const named = `${d.number} ${d.title}`.trim();
  const [moving, setMoving] = useState(false);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: d.id });
  return (
    <li
      ref={setNodeRef}
      data-document={d.id}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={isDragging ? 'relative z-10' : ''}
      onMouseEnter={() => onHover(d.id)}
      onMouseLeave={() => onHover('')}
    >
      {section && <h2 className="mb-1 mt-4 text-sm font-semibold text-ink-2">{section}</h2>}
      <div
        aria-busy={isBusy}
        className={`outdated -mt-px flex flex-wrap items-center gap-x-2 border border-hair px-2 py-2 ${lookOf(d)}`}
      >
        <button
          type="button"
          aria-label={`Move ${named}`}
          className="cursor-grab px-0.5 text-ink-3"
          {...attributes}
          {...listeners}
        >
          <GripVertical size={15} />
        </button>
        <span className="w-10 shrink-0 text-sm font-semibold">{d.number}</span>
        <About document={d} />
        <span className="flex w-28 items-center gap-1.5 whitespace-nowrap text-sm empty:hidden min-[621px]:empty:flex max-[620px]:w-auto max-[620px]:pl-14">
          {d.set_aside && 'left out'}
          {!d.set_aside && d.open > 0 && (
            <>
              <Mark name="open" quiet size={12} /> {d.open} unanswered
            </>
          )}
        </span>
        <span className="flex flex-wrap items-center gap-x-2 max-[620px]:pl-14">
          {tools}
          {!d.edition && isDeal && (
            <FileButton label={`PDF of ${named}`} accept={PAPERS} onFile={(file) => offerPaper(file, d.id)}>
              Mark received
            </FileButton>
          )}
          {d.edition && (
            <FileLink className="px-1 text-sm text-green-2 hover:underline" href={pdf(d.id)} aria-label={`PDF of ${named}`}>
              PDF
            </FileLink>
          )}
          <Button
            look="words"
            aria-label={`${d.set_aside ? 'Put back' : 'Leave out'}: ${named}`}
            onClick={() => act({ op: d.set_aside ? 'take_up' : 'aside', document: d.id })}
          >
            {d.set_aside ? 'Put back' : 'Leave out'}
          </Button>
          <Button look="words" aria-label={`Take out ${named}`} onClick={() => act({ op: 'remove', document: d.id })}>
            Take out
          </Button>
          <MoreMenu label={`More for ${named}`} width={220}>
            <MenuItem run={() => setMoving(true)}>Under another heading</MenuItem>
          </MoreMenu>
        </span>
      </div>
      {moving && <Section document={d} act={act} onClose={() => setMoving(false)} />}
    </li>
  );
}

/** Under which heading it stands: one that is there, or a new one. */
function Section({ document: d, act, onClose }: Pick<Props, 'document' | 'act'> & { onClose: () => void }) {
  const { held } = useWorkspace();
  const [section, setSection] = useState(d.section);
  const id = useId();
  return (
    <Dialog open onOpenChange={onClose} title={`Heading of ${d.number} ${d.title}`} width={400}>
      <form
        className="flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          act({ op: 'section', document: d.id, section }, onClose);
        }}
      >
        <input
          className="field min-w-0 flex-1"
          aria-label="Heading"
          list={id}
          maxLength={80}
          autoFocus
          value={section}
          onChange={(e) => setSection(e.target.value)}
          onFocus={(e) => e.target.select()}
        />
        <datalist id={id}>
          {[...new Set(held.documents.map((one) => one.section))].map((known) => (
            <option key={known} value={known} />
          ))}
        </datalist>
        <Button look="act" type="submit" disabled={!section.trim()}>
          Move
        </Button>
      </form>
    </Dialog>
  );
}

/** Its title, where it came from, and what is remarked on it. */
function About({ document: d }: { document: Document }) {
  const { held, at } = useWorkspace();
  const from = d.edition
    ? `${some(d.pages, 'page')}, ${d.number ? 'edition of' : 'received'} ${shortDate(d.released)}`
    : `expected from the ${d.expected_from || 'other side'}`;
  return (
    <span className="min-w-[min(230px,60%)] flex-1">
      {d.edition ? (
        <Link {...at('write', { search: { document: d.id } })} className="font-medium hover:text-green-2 hover:underline">
          {d.title}
        </Link>
      ) : (
        <span className="font-medium">{d.title}</span>
      )}
      <span className="block text-xs text-ink-2">
        {from} · {d.why}
        {!d.ours && ' · filled by the other side'}
        <Findings of={held.findings.filter((f) => f.place === documentKey(d.id))} inLine />
      </span>
    </span>
  );
}
