/** The pages on the screen: which are drawn, how wide they are, and the way to a blank or a page. */
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import type { Blank } from '../../api/client';
import type { Page } from '../assembly/pages';

const EDGE = 14;
const GAP = 22;
/** Widths of the paper in pixels: on a phone it fills the window, and is enlarged by two fingers. */
const [NARROWEST, WIDEST] = [300, 900];
/** What stays free beside it, of a window that is wide and of one that isn't. */
const BESIDE = (room: number) => (room > 640 ? 40 : 8);
/** So long a blank's page is waited for before the cursor is put in it, in frames. */
const MOST_FRAMES = 40;

export const idOf = (b: Blank) => `${b.document}/${b.field}`;

/** The width that the paper has, as the room beside it changes. */
function useWidth(scroller: RefObject<HTMLDivElement | null>) {
  const [width, setWidth] = useState(760);
  useEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const fitted = () => setWidth(Math.max(NARROWEST, Math.min(WIDEST, node.clientWidth - BESIDE(node.clientWidth))));
    const watch = new ResizeObserver(fitted);
    watch.observe(node);
    return () => watch.disconnect();
  }, [scroller]);
  return width;
}

/** Where each page begins, in pixels, and how high it is. */
function usePlaces(pages: Page[], width: number) {
  return useMemo(() => {
    let top = EDGE;
    return pages.map((p) => {
      const height = Math.round((width * p.size.height) / p.size.width);
      const place = { top, height };
      top += height + GAP;
      return place;
    });
  }, [pages, width]);
}

/** Put the cursor into a blank as soon as its page is drawn. */
function focusWhenDrawn(node: HTMLElement, blank: Blank, frames = MOST_FRAMES) {
  const target = node.querySelector<HTMLElement>(`[data-blank="${CSS.escape(idOf(blank))}"]`);
  if (target) target.focus({ preventScroll: true });
  else if (frames > 0) requestAnimationFrame(() => focusWhenDrawn(node, blank, frames - 1));
}

const pageOf = (pages: Page[], blank: Blank) =>
  pages.findIndex((p) => p.document.id === blank.document && p.number === blank.page);

/** `here` is the blank in hand: its page stays, however far away one looks, for what is typed there is still being typed. */
export function usePaper(pages: Page[], here: Blank | null) {
  const scroller = useRef<HTMLDivElement>(null);
  const width = useWidth(scroller);
  const places = usePlaces(pages, width);
  const inHand = here ? pageOf(pages, here) : -1;
  const rows = useVirtualizer({
    count: pages.length,
    rangeExtractor: (range) => {
      const shown = defaultRangeExtractor(range);
      return inHand < 0 || shown.includes(inHand) ? shown : [...shown, inHand].sort((a, b) => a - b);
    },
    getScrollElement: () => scroller.current,
    estimateSize: (at) => (places[at]?.height ?? 0) + GAP,
    overscan: 2,
    paddingStart: EDGE,
    paddingEnd: 40,
  });
  useEffect(() => rows.measure(), [rows, places]);

  const showPage = useCallback(
    (at: number) => {
      const place = places[at];
      if (scroller.current && place) scroller.current.scrollTop = place.top - EDGE;
    },
    [places],
  );
  /** Bring a blank into view, unless it is, and put the cursor in it; whether it is on a page. */
  const showBlank = useCallback(
    (blank: Blank) => {
      const at = pageOf(pages, blank);
      const [node, place, page] = [scroller.current, places[at], pages[at]];
      if (!node || !place || !page) return false;
      const top = place.top + (1 - (blank.rect[3] ?? 0) / page.size.height) * place.height;
      const inView = top >= node.scrollTop + 60 && top <= node.scrollTop + node.clientHeight - 90;
      if (!inView) node.scrollTop = Math.max(0, top - node.clientHeight / 3);
      focusWhenDrawn(node, blank);
      return true;
    },
    [pages, places],
  );
  const drawn = rows.getVirtualItems();
  const middle = drawn.find((v) => v.end > (rows.scrollOffset ?? 0) + 200)?.index ?? 0;
  const shown = drawn.flatMap((v) => {
    const page = pages[v.index];
    return page ? [{ page, top: v.start, height: v.size - GAP }] : [];
  });
  return { scroller, width, height: rows.getTotalSize(), shown, middle, showPage, showBlank };
}
