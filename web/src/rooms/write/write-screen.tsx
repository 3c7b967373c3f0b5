/** Writing on the paper: the package as it will print, the map beside it, the lens for the blank in hand. */
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Blank } from '../../api/client';
import { Button } from '../../primitives/button';
import { Columns } from '../../primitives/columns';
import { TWO_COLUMNS, useWide } from '../../primitives/use-wide';
import { Legend, Mark } from '../../primitives/mark';
import { pagesOf } from '../assembly/pages';
import { useContinuation } from '../assembly/use-continuation';
import { Lens } from '../facts/lens';
import { useHand } from '../hand/hand';
import { BlankActions } from './blank-actions';
import { MapRail } from './map-rail';
import { PaperPage } from './paper-page';
import { idOf, usePaper } from './use-paper';

/** Whether it asks for something: no answer yet, or one that waits for somebody. */
const isOpen = (b: Blank) => b.state === 'open' || b.draft !== null || b.clashes.length > 0;

/** The next open blank after the one in hand, round the package; one that waits for others only when there is no other. */
function openAfter(inOrder: Blank[], inHand: string | null): Blank | undefined {
  const from = inOrder.findIndex((b) => idOf(b) === inHand);
  const after = [...inOrder.slice(from + 1), ...inOrder.slice(0, from + 1)];
  return after.find((b) => isOpen(b) && b.waits_for.length === 0) ?? after.find(isOpen);
}

/** Ctrl + Enter anywhere on the screen. */
function useNextKey(next: () => void) {
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey)) return;
      e.preventDefault();
      next();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [next]);
}

export function WriteScreen() {
  const { held, outbox } = useHand();
  const further = useContinuation();
  const pages = useMemo(() => pagesOf(held, further), [held, further]);
  const [inHand, setInHand] = useState<string | null>(null);
  const here = useMemo(() => held.blanks.find((b) => idOf(b) === inHand) ?? null, [held.blanks, inHand]);
  const paper = usePaper(pages, here);
  const { showBlank, showPage } = paper;
  const goTo = useCallback(
    (blank: Blank) => {
      outbox.flush(); // what is typed is on its way before the place is left
      if (showBlank(blank)) setInHand(idOf(blank));
    },
    [showBlank, outbox],
  );
  const inOrder = useMemo(() => pages.flatMap((p) => p.blanks.filter((b) => b.shape !== 'sign')), [pages]);
  const nextOpen = useCallback(() => {
    const next = openAfter(inOrder, inHand);
    if (next) goTo(next);
  }, [inOrder, inHand, goTo]);
  useNextKey(nextOpen);

  const search = useSearch({ strict: false });
  const arrived = useRef('');
  useEffect(() => {
    const wanted = `${search.document ?? ''}/${search.field ?? ''}/${search.page ?? ''}`;
    if (!search.document || arrived.current === wanted) return;
    arrived.current = wanted;
    const blank = held.blanks.find((b) => b.document === search.document && b.field === search.field);
    if (blank) goTo(blank);
    else showPage(pages.findIndex((p) => p.document.id === search.document && p.number === (search.page ?? 1)));
  }, [search, held.blanks, pages, goTo, showPage]);

  if (pages.length === 0) return <NothingYet />;
  return (
    <Columns
      widths={[104, 290]}
      way={<MapRail pages={pages} here={paper.middle} lit={here?.key ?? ''} go={(p) => showPage(pages.indexOf(p))} />}
      edged
      edge={<OpenCount open={inOrder.filter(isOpen).length} next={nextOpen} />}
      inHand={inHand}
      lens={here ? <BlankInHand blank={here} goTo={goTo} /> : <HowToWrite />}
    >
      <div ref={paper.scroller} className="absolute inset-0 overflow-auto" data-testid="paper" tabIndex={-1}>
        <div style={{ height: paper.height }} className="relative">
          {paper.shown.map(({ page, top, height }) => (
            <div
              key={page.id}
              className="absolute left-1/2"
              style={{ top, width: paper.width, height, transform: 'translateX(-50%)' }}
            >
              <PaperPage page={page} width={paper.width} inHand={inHand} lit={here?.key ?? ''} onHand={setInHand} />
            </div>
          ))}
        </div>
      </div>
    </Columns>
  );
}

function OpenCount({ open, next }: { open: number; next: () => void }) {
  if (open === 0) return <span className="py-1">Every blank that needs an answer has one.</span>;
  return (
    <>
      <Mark name="open" quiet size={13} />
      <span className="whitespace-nowrap">{open} open</span>
      <Button className="ml-auto" onClick={next} title="Ctrl + Enter">
        Next open
      </Button>
    </>
  );
}

function BlankInHand({ blank, goTo }: { blank: Blank; goTo: (blank: Blank) => void }) {
  const { held } = useHand();
  const jump = (place: { document: string; field: string }) => {
    const found = held.blanks.find((b) => b.document === place.document && b.field === place.field);
    if (found) goTo(found);
  };
  const beside = useWide(TWO_COLUMNS);
  return (
    <Lens keyName={blank.only_here ? blank.own_key : blank.key} onGo={jump} entry={!beside && blank.editable}>
      <BlankActions blank={blank} onOnlyHere={() => goTo(blank)} />
    </Lens>
  );
}

function HowToWrite() {
  return (
    <div className="p-4 text-sm text-ink-2">
      <p className="mb-4">Click a blank to write in it. Tab goes on in reading order, Ctrl + Enter to the next open one.</p>
      <Legend />
    </div>
  );
}

function NothingYet() {
  const { at } = useHand();
  const navigate = useNavigate();
  return (
    <div className="grid h-full place-items-center">
      <div className="max-w-[420px] text-center">
        <p className="mb-4 text-ink-2">There is no form in this package yet, so there is nothing to write on.</p>
        <Button look="act" onClick={() => void navigate(at('package'))}>
          Add forms or a template
        </Button>
      </div>
    </div>
  );
}
