/** Papers that came: what each is, its place, its pages, and what is filled in on it; put in the package by one action. */
import { useQueryClient } from '@tanstack/react-query';
import { ArrowDown, ArrowLeft, ArrowRight, ArrowUp, Combine, RotateCw, Scissors, X } from 'lucide-react';
import { useEffect, useState, type ReactNode } from 'react';
import { client, got, type FoundPaper, type Incoming, type PlacedPaper } from '../../api/client';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { sayProblem } from '../../primitives/notices';
import { PagePicture } from '../../primitives/page-picture';
import { some } from '../../primitives/format';
import { foundAs, joined, moved, ordered, reconciled, split, takenOut, turned, type Paper } from './arranging';
import type { Refused } from './receive';
import { useDeal } from './use-deal';

interface Props {
  rows: Incoming[];
  reading: File[];
  refused: Refused[];
  /** Where what is dropped goes. */
  place: string;
  close: () => void;
}

type Audience = PlacedPaper['audience'];

interface Kept {
  papers: Paper[];
  known: string[];
}

/** What was arranged, kept in this window: a reload or a closed dialog loses nothing of it. */
function useArranged(deal: string, rows: Incoming[], place: string) {
  const key = `quill-papers-${deal}`;
  const [kept, setKept] = useState<Kept>(() => {
    const before = JSON.parse(sessionStorage.getItem(key) ?? 'null') as Kept | null;
    return before ?? { papers: [], known: [] };
  });
  const put = (papers: Paper[], known = kept.known) => {
    sessionStorage.setItem(key, JSON.stringify({ papers, known }));
    setKept({ papers, known });
  };
  const isNew = rows.some((r) => !kept.known.includes(r.id));
  useEffect(() => {
    if (isNew)
      put(
        reconciled(kept.papers, rows, new Set(kept.known), place),
        rows.map((r) => r.id),
      );
  }, [isNew]); // eslint-disable-line react-hooks/exhaustive-deps -- what is new is taken in once
  return { papers: reconciled(kept.papers, rows, new Set(rows.map((r) => r.id))), put };
}

/** Putting the papers there as one step, and leaving a file out. */
function usePutting(forget: () => void, close: () => void) {
  const { id, params, take } = useDeal();
  const queries = useQueryClient();
  const send = useAction({
    mutationFn: (asked: Paper[], change: string) => {
      const body = {
        change,
        papers: asked.map(({ title, audience, ...p }) => ({ ...p, title: title.trim(), audience: audience as Audience })),
      };
      return got(client.POST('/api/deals/{deal}/incoming/place', { params, body }));
    },
    onSuccess: async (delta) => {
      forget();
      take(delta, `${delta.said}.`);
      close();
      await queries.invalidateQueries({ queryKey: ['incoming', id] });
    },
  });
  const leaveOut = useAction({
    mutationFn: (file: string) =>
      got(client.DELETE('/api/deals/{deal}/incoming/{incoming_file}', { params: { path: { deal: id, incoming_file: file } } })),
    onSuccess: (_, file) =>
      queries.setQueriesData<Incoming[]>({ queryKey: ['incoming', id] }, (all = []) => all.filter((r) => r.id !== file)),
    onError: sayProblem,
  });
  return { send, leaveOut };
}

export function PapersThatCame({ rows, reading, refused, place, close }: Props) {
  const { id } = useDeal();
  const { papers, put } = useArranged(id, rows, place);
  const isWhole = papers.every((p) => p.title.trim() !== '');
  const { send, leaveOut } = usePutting(() => put([], []), close);
  const unused = rows.filter((r) => !papers.some((p) => p.pages.some((s) => s.of === r.id)));
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (isWhole && papers.length > 0) send.mutate(papers);
      }}
    >
      {reading.length > 0 && (
        <p role="status" className="mb-3 text-sm text-ink-2">
          Reading {reading[0]?.name}
          {reading.length > 1 && `, and ${some(reading.length - 1, 'more file')}`} …
        </p>
      )}
      {refused.map((r) => (
        <p key={r.name} role="alert" className="mb-2 border border-wax bg-wax-wash px-3 py-1.5 text-sm text-wax">
          {r.name}: {r.message}
        </p>
      ))}
      {rows.length === 0 && reading.length === 0 && <p className="text-sm text-ink-2">Every paper has a place.</p>}
      <ol className="space-y-4">
        {papers.map((paper, at) => (
          <OnePaper key={paper.id} paper={paper} at={at} papers={papers} rows={rows} put={put} />
        ))}
      </ol>
      {unused.map((r) => (
        <p key={r.id} className="mt-2 flex items-center gap-3 text-sm text-ink-2">
          No page of {r.name} is used.
          <Button look="words" onClick={() => put([...papers, ...reconciled([], [r], new Set())])}>
            Use it again
          </Button>
        </p>
      ))}
      {send.error && (
        <p role="alert" className="mt-3 text-sm text-wax">
          {send.error.message} {(send.error as { mend?: string }).mend}
        </p>
      )}
      {rows.length > 0 && (
        <div className="mt-4 flex flex-wrap items-center gap-3 border-t border-hair pt-3">
          <Button look="act" type="submit" disabled={send.isPending || !isWhole || papers.length === 0 || reading.length > 0}>
            {send.isPending ? 'Putting them there …' : papers.length === 1 ? 'Put it there' : `Put ${papers.length} papers there`}
          </Button>
          <Button look="words" onClick={close} title="Uploaded papers to place">
            Later
          </Button>
          <Button
            look="words"
            className="ml-auto text-wax!"
            disabled={leaveOut.isPending}
            onClick={() => {
              put([], []);
              rows.forEach((r) => leaveOut.mutateAsync(r.id).catch(() => undefined));
            }}
          >
            Leave {rows.length === 1 ? 'it' : 'all of them'} out
          </Button>
        </div>
      )}
    </form>
  );
}

interface OneProps {
  paper: Paper;
  at: number;
  papers: Paper[];
  rows: Incoming[];
  put: (papers: Paper[]) => void;
}

function OnePaper({ paper, at, papers, rows, put }: OneProps) {
  const found = foundAs(paper, rows);
  const say = (more: Partial<Paper>) => put(papers.map((p, n) => (n === at ? { ...p, ...more } : p)));
  return (
    <li className="border border-hair bg-paper p-3">
      <div className="flex flex-wrap items-end gap-3">
        <label className="block min-w-0 flex-1 basis-56 text-sm">
          <span className="mb-1 block text-xs text-ink-2">
            Title
            {found?.number && ` (form ${found.number}, as it came)`}
          </span>
          <input className="field w-full" maxLength={190} value={paper.title} onChange={(e) => say({ title: e.target.value })} />
        </label>
        <Where paper={paper} say={say} />
        <ForWhom paper={paper} say={say} />
        <span className="flex">
          <Tool label={`${paper.title} up`} off={at === 0} run={() => put(ordered(papers, at, -1))}>
            <ArrowUp size={15} />
          </Tool>
          <Tool label={`${paper.title} down`} off={at === papers.length - 1} run={() => put(ordered(papers, at, 1))}>
            <ArrowDown size={15} />
          </Tool>
          <Tool label={`Join ${paper.title} to the paper before`} off={at === 0} run={() => put(joined(papers, at))}>
            <Combine size={15} />
          </Tool>
        </span>
      </div>
      <Sheets paper={paper} at={at} papers={papers} rows={rows} put={put} />
      {found && found.answers.length > 0 && <FilledIn found={found} take={paper.take} say={(take) => say({ take })} />}
    </li>
  );
}

const AUDIENCES = [
  ['client,other side', 'client and other side'],
  ['client', 'client alone'],
  ['other side', 'other side alone'],
] as const;

/** Who may see it. */
const ForWhom = ({ paper, say }: { paper: Paper; say: (more: Partial<Paper>) => void }) => (
  <label className="block min-w-0 basis-40 text-sm">
    <span className="mb-1 block text-xs text-ink-2">For</span>
    <select className="field w-full" value={paper.audience.join()} onChange={(e) => say({ audience: e.target.value.split(',') })}>
      {AUDIENCES.map(([who, name]) => (
        <option key={who} value={who}>
          {name}
        </option>
      ))}
    </select>
  </label>
);

/** The place that it takes, or the heading at the end. */
function Where({ paper, say }: { paper: Paper; say: (more: Partial<Paper>) => void }) {
  const { deal } = useDeal();
  // What the package waits for, and forms that the other side fills in: our blank copy is set aside for theirs.
  const waiting = deal.documents.filter((d) => !d.edition || (!d.ours && !d.set_aside));
  const sections = [...new Set(deal.documents.map((d) => d.section).filter(Boolean))];
  return (
    <>
      <label className="block min-w-0 flex-1 basis-72 text-sm">
        <span className="mb-1 block text-xs text-ink-2">Place in the package</span>
        <select className="field w-full" value={paper.place} onChange={(e) => say({ place: e.target.value })}>
          {waiting.map((d) => (
            <option key={d.id} value={d.id}>
              {d.edition
                ? `For our blank ${d.number} ${d.title}`
                : `${d.title}, expected from the ${d.expected_from || 'other side'}`}
            </option>
          ))}
          <option value="">At the end</option>
        </select>
      </label>
      {!paper.place && (
        <label className="block min-w-0 basis-40 text-sm">
          <span className="mb-1 block text-xs text-ink-2">Heading</span>
          <input
            className="field w-full"
            list="sections-there"
            maxLength={80}
            value={paper.section}
            onChange={(e) => say({ section: e.target.value })}
          />
          <datalist id="sections-there">
            {sections.map((s) => (
              <option key={s} value={s} />
            ))}
          </datalist>
        </label>
      )}
    </>
  );
}

interface ToolProps {
  label: string;
  off?: boolean;
  run: () => void;
  children: ReactNode;
}

const Tool = ({ label, off = false, run, children }: ToolProps) => (
  <button
    type="button"
    aria-label={label}
    title={label}
    disabled={off}
    onClick={run}
    className="moves grid h-7 w-7 place-items-center rounded-md text-green-2 hover:bg-blotter disabled:opacity-30 max-[900px]:h-10 max-[900px]:w-10"
  >
    {children}
  </button>
);

const HIGH = 132;

/** Its pages, small, each with what can be done with it. */
function Sheets({ paper, at, papers, rows, put }: OneProps) {
  const { id } = useDeal();
  return (
    <ol aria-label={`Pages of ${paper.title}`} className="mt-3 flex gap-2 overflow-x-auto pb-1">
      {paper.pages.map((s, n) => {
        const page = rows.find((r) => r.id === s.of)?.pages[s.page - 1];
        const which = `page ${n + 1} of ${paper.title}`;
        const width = page ? Math.min(180, (HIGH * page.width) / page.height) : HIGH;
        return (
          <li key={`${s.of} ${s.page}`} className="shrink-0 text-center">
            <span
              className="grid place-items-center overflow-hidden border border-blotter-3 bg-blotter"
              style={{ width: HIGH, height: HIGH + 8 }}
            >
              <PagePicture
                src={`/api/deals/${id}/incoming/${s.of}/pages/${s.page}/48.png`}
                alt={which}
                loading="lazy"
                width={width}
                height={HIGH}
                style={{ width, height: HIGH, rotate: `${s.turn}deg` }}
                className="on-paper bg-paper"
              />
            </span>
            <span className="flex justify-center">
              <Tool label={`Move ${which} to the left`} off={n === 0} run={() => put(moved(papers, at, n, -1))}>
                <ArrowLeft size={14} />
              </Tool>
              <Tool label={`Turn ${which}`} run={() => put(turned(papers, at, n))}>
                <RotateCw size={14} />
              </Tool>
              <Tool label={`Part the paper before ${which}`} off={n === 0} run={() => put(split(papers, at, n))}>
                <Scissors size={14} />
              </Tool>
              <Tool label={`Take out ${which}`} run={() => put(takenOut(papers, at, n))}>
                <X size={14} />
              </Tool>
              <Tool
                label={`Move ${which} to the right`}
                off={n === paper.pages.length - 1}
                run={() => put(moved(papers, at, n, 1))}
              >
                <ArrowRight size={14} />
              </Tool>
            </span>
            {page?.scan && <span className="block text-xs text-ink-2">a scan</span>}
          </li>
        );
      })}
    </ol>
  );
}

interface FilledProps {
  found: FoundPaper;
  take: string[];
  say: (take: string[]) => void;
}

/** What is filled in on a known form, beside what the deal says; and what is left open on it. */
function FilledIn({ found, take, say }: FilledProps) {
  const differing = found.answers.filter((a) => a.may && a.ours !== '' && !a.same).length;
  return (
    <details className="mt-2 text-sm">
      <summary className="cursor-pointer text-ink-2">
        {some(found.answers.length, 'answer')} on it
        {take.length > 0 && `, ${take.length} taken over`}
        {differing > 0 && <span className="text-ochre">, {differing} not as in the deal</span>}
        {found.open.length > 0 && <span className="text-wax">, {found.open.length} unanswered</span>}
      </summary>
      <ul className="mt-2 max-h-56 overflow-auto">
        {found.answers.map((a) => (
          <li key={a.label} className="border-b border-hair py-1 last:border-0">
            <label className="grid grid-cols-[1.25rem_minmax(0,1fr)_minmax(0,1fr)_minmax(0,1fr)] items-baseline gap-2">
              {a.may ? (
                <input
                  type="checkbox"
                  aria-label={`Take over: ${a.label}`}
                  checked={take.includes(a.key)}
                  onChange={(e) => say(e.target.checked ? [...take, a.key] : take.filter((k) => k !== a.key))}
                />
              ) : (
                <span />
              )}
              <span className="text-ink-2">{a.label}</span>
              <span className="values whitespace-normal!">{a.text}</span>
              <span className="text-xs text-ink-2">
                {a.may && (a.same ? 'as in the deal' : a.ours ? `in the deal: ${a.ours}` : 'not in the deal yet')}
              </span>
            </label>
          </li>
        ))}
      </ul>
      {found.open.length > 0 && <p className="mt-1 text-xs text-ink-2">Unanswered: {found.open.join(', ')}.</p>}
    </details>
  );
}
