/** Writing on the paper: the package as it will print, the map beside it, the lens for the blank in hand. */
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Blank } from '../../api/client';
import { Button } from '../../primitives/button';
import { Legend, Mark } from '../../primitives/mark';
import { MiniPage } from '../../primitives/package-map';
import { pagesOf, type Page } from '../assembly/pages';
import { useDeal } from '../deals/use-deal';
import { Lens } from '../facts/lens';
import { BlankActions } from './blank-actions';
import { PaperPage } from './paper-page';

const EDGE = 14;
const GAP = 22;

export function WriteScreen() {
  const { deal, id, outbox } = useDeal();
  const search = useSearch({ from: '/deals/$deal/write' });
  const navigate = useNavigate();
  const pages = useMemo(() => pagesOf(deal), [deal]);
  const scroller = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(760);
  const [inHand, setInHand] = useState<string | null>(null);
  const here = useMemo(() => deal.blanks.find((b) => idOf(b) === inHand) ?? null, [deal.blanks, inHand]);

  useEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setWidth(Math.max(600, Math.min(900, node.clientWidth - 40))));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);

  /** Where each page begins, in pixels, and how high it is. */
  const places = useMemo(() => {
    let top = EDGE;
    return pages.map((p) => {
      const height = Math.round((width * p.size.height) / p.size.width);
      const place = { top, height };
      top += height + GAP;
      return place;
    });
  }, [pages, width]);
  const topOf = useCallback((at: number) => (places[at]?.top ?? EDGE) - EDGE, [places]);
  // The page of the blank in hand stays, however far away one looks: what is typed there is still being typed.
  const inHandPage = here ? pages.findIndex((p) => p.document.id === here.document && p.number === here.page) : -1;
  const rows = useVirtualizer({
    count: pages.length,
    rangeExtractor: (range) => {
      const shown = defaultRangeExtractor(range);
      return inHandPage < 0 || shown.includes(inHandPage) ? shown : [...shown, inHandPage].sort((a, b) => a - b);
    },
    getScrollElement: () => scroller.current,
    estimateSize: (at) => (places[at]?.height ?? 0) + GAP,
    overscan: 2,
    paddingStart: EDGE,
    paddingEnd: 40,
  });
  useEffect(() => rows.measure(), [rows, places]);

  /** Scroll to a blank and put the cursor in it. */
  const goTo = useCallback(
    (blank: Blank) => {
      outbox.flush(); // what is typed is on its way before the place is left
      const at = pages.findIndex((p) => p.document.id === blank.document && p.number === blank.page);
      const node = scroller.current;
      if (at < 0 || !node) return;
      const place = places[at];
      const page = pages[at];
      if (!place || !page) return;
      const top = place.top + (1 - (blank.rect[3] ?? 0) / page.size.height) * place.height;
      if (top < node.scrollTop + 60 || top > node.scrollTop + node.clientHeight - 90)
        node.scrollTop = Math.max(0, top - node.clientHeight / 3);
      setInHand(idOf(blank));
      let tries = 0;
      const focus = () => {
        const target = node.querySelector<HTMLElement>(`[data-blank="${CSS.escape(idOf(blank))}"]`);
        if (target) target.focus({ preventScroll: true });
        else if (tries++ < 40) requestAnimationFrame(focus);
      };
      focus();
    },
    [pages, places, outbox],
  );

  const inOrder = useMemo(() => pages.flatMap((p) => p.blanks.filter((b) => b.shape !== 'sign')), [pages]);
  const nextOpen = useCallback(() => {
    const from = inOrder.findIndex((b) => idOf(b) === inHand);
    const after = [...inOrder.slice(from + 1), ...inOrder.slice(0, from + 1)];
    const next = after.find((b) => isOpen(b) && b.waits_for.length === 0) ?? after.find(isOpen);
    if (next) goTo(next);
  }, [inOrder, inHand, goTo]);

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
        e.preventDefault();
        nextOpen();
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [nextOpen]);

  const arrived = useRef('');
  useEffect(() => {
    const wanted = `${search.document ?? ''}/${search.field ?? ''}/${search.page ?? ''}`;
    if (!search.document || arrived.current === wanted) return;
    arrived.current = wanted;
    const blank = deal.blanks.find((b) => b.document === search.document && b.field === search.field);
    if (blank) goTo(blank);
    else {
      const at = pages.findIndex((p) => p.document.id === search.document && p.number === (search.page ?? 1));
      if (at >= 0 && scroller.current) scroller.current.scrollTop = topOf(at);
    }
  }, [search, deal.blanks, pages, goTo, topOf]);

  const open = inOrder.filter(isOpen).length;
  if (pages.length === 0) {
    return (
      <div className="grid h-full place-items-center">
        <div className="max-w-[420px] text-center">
          <p className="mb-4 text-ink-2">There is no form in this package yet, so there is nothing to write on.</p>
          <Button look="act" onClick={() => void navigate({ to: '/deals/$deal/package', params: { deal: id } })}>
            Add forms or a template
          </Button>
        </div>
      </div>
    );
  }
  const visible = rows.getVirtualItems();
  const middle = visible.find((v) => v.end > (rows.scrollOffset ?? 0) + 200)?.index ?? 0;
  return (
    <div className="grid h-full grid-cols-[104px_minmax(0,1fr)_290px]">
      <MapRail
        pages={pages}
        here={middle}
        lit={here?.key ?? ''}
        go={(p) => scroller.current && (scroller.current.scrollTop = topOf(pages.indexOf(p)))}
      />
      <div ref={scroller} className="relative overflow-auto" data-testid="paper" tabIndex={-1}>
        <div style={{ height: rows.getTotalSize() }} className="relative">
          {visible.map((v) => {
            const page = pages[v.index];
            return page ? (
              <div
                key={page.id}
                className="absolute left-1/2"
                style={{ top: v.start, width, height: v.size - GAP, transform: 'translateX(-50%)' }}
              >
                <PaperPage page={page} width={width} inHand={inHand} lit={here?.key ?? ''} onHand={setInHand} />
              </div>
            ) : null;
          })}
        </div>
      </div>
      <aside aria-label="Lens" className="flex min-h-0 flex-col border-l border-blotter-3 bg-sheet">
        <div className="flex items-center gap-2 border-b border-hair px-4 py-2.5 text-sm">
          {open > 0 ? (
            <>
              <Mark name="open" quiet size={13} />
              <span>{open} open</span>
              <Button className="ml-auto" onClick={nextOpen} title="Ctrl + Enter">
                Next open
              </Button>
            </>
          ) : (
            <span className="py-1">Every blank that needs an answer has one.</span>
          )}
        </div>
        <div className="min-h-0 flex-1 overflow-auto">
          {here ? (
            <Lens keyName={here.only_here ? here.own_key : here.key} onGo={(place) => jump(deal.blanks, place, goTo)}>
              <BlankActions blank={here} onOnlyHere={() => goTo(here)} />
            </Lens>
          ) : (
            <div className="p-4 text-sm text-ink-2">
              <p className="mb-4">
                Click a blank to write in it. Tab goes on in reading order, Ctrl + Enter to the next open one.
              </p>
              <Legend />
            </div>
          )}
        </div>
      </aside>
    </div>
  );
}

/** Whether it asks for something: no answer yet, or one that waits for somebody. */
const isOpen = (b: Blank) => b.state === 'open' || b.draft !== null || b.clashes.length > 0;

export const idOf = (b: Blank) => `${b.document}/${b.field}`;

function jump(blanks: Blank[], place: { document: string; field: string }, goTo: (b: Blank) => void) {
  const found = blanks.find((b) => b.document === place.document && b.field === place.field);
  if (found) goTo(found);
}

function MapRail({ pages, here, lit, go }: { pages: Page[]; here: number; lit: string; go: (page: Page) => void }) {
  const rail = useRef<HTMLDivElement>(null);
  useEffect(() => {
    rail.current?.querySelector('[aria-current="page"]')?.scrollIntoView({ block: 'nearest' });
  }, [here]);
  return (
    <nav ref={rail} aria-label="Package map" className="overflow-y-auto overflow-x-hidden border-r border-blotter-3 py-3">
      {pages.map((p, n) => (
        <div key={p.id}>
          {p.first && (
            <p className="px-2 pb-1 pt-2 text-center text-xs font-semibold text-ink-2" title={p.document.title}>
              {p.document.number || 'came'}
            </p>
          )}
          <button
            type="button"
            aria-label={p.label}
            aria-current={n === here ? 'page' : undefined}
            title={p.label}
            onClick={() => go(p)}
            className={`mx-auto mb-1.5 block border-l-[3px] pl-1 ${n === here ? 'border-green' : 'border-transparent'}`}
          >
            <MiniPage page={p} width={62} lit={lit} />
          </button>
        </div>
      ))}
    </nav>
  );
}
