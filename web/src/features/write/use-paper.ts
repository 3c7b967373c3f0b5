/** The pages on the screen: which are drawn, how wide they are, and the way to a blank or a page. */
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import type { Blank } from '../../api/client';
import type { Page } from '../assembly/pages';
import { idOf } from '../workspace/way';
import type { Box } from './find';
import { widthAt, type Zoom } from './zoom';

const EDGE = 14;
const GAP = 22;
const FOOT = 40;
/** Widths of the paper in pixels: on a phone it fills the window, and is enlarged by two fingers. */
const [NARROWEST, WIDEST] = [300, 900];
/** What stays free beside it, of a window that is wide and of one that isn't. */
const BESIDE = (room: number) => (room > 640 ? 40 : 8);
/** So long a blank's page is waited for before the cursor is put in it, in frames. */
const MOST_FRAMES = 40;

/** The width that the paper has where it is fitted to the room, and where a whole page is seen. */
function useRoom(scroller: RefObject<HTMLDivElement | null>, ratio: number) {
  const [room, setRoom] = useState({ fitted: 760, whole: 500 });
  useEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const measure = () => {
      const fitted = Math.max(NARROWEST, Math.min(WIDEST, node.clientWidth - BESIDE(node.clientWidth)));
      setRoom({ fitted, whole: Math.floor((node.clientHeight - 2 * EDGE) / ratio) });
    };
    const watch = new ResizeObserver(measure);
    watch.observe(node);
    return () => watch.disconnect();
  }, [scroller, ratio]);
  return room;
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

interface Place {
  top: number;
  height: number;
}

/** Wider or narrower, what was looked at stays in view: the same point of the same page. */
function useSamePlace(scroller: RefObject<HTMLDivElement | null>, places: Place[]) {
  const before = useRef(places);
  useLayoutEffect(() => {
    const [node, was] = [scroller.current, before.current];
    before.current = places;
    if (!node || was === places || was.length !== places.length) return;
    const at = Math.max(
      0,
      was.findLastIndex((p) => p.top <= node.scrollTop + EDGE),
    );
    const [old, now] = [was[at], places[at]];
    if (!old || !now) return;
    node.scrollTop = now.top + (node.scrollTop - old.top) * (now.height / old.height);
    node.scrollLeft = (node.scrollWidth - node.clientWidth) / 2;
  }, [scroller, places]);
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
export function usePaper(pages: Page[], here: Blank | null, zoom: Zoom) {
  const scroller = useRef<HTMLDivElement>(null);
  const { fitted, whole } = useRoom(scroller, pages[0]?.ratio ?? 1);
  const width = Math.round(widthAt(zoom, fitted, whole));
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
    paddingEnd: FOOT,
  });
  useEffect(() => rows.measure(), [rows, places]);
  useSamePlace(scroller, places);

  const showPage = useCallback(
    (at: number) => {
      const place = places[at];
      if (scroller.current && place) scroller.current.scrollTop = place.top - EDGE;
    },
    [places],
  );
  /** Bring a place on a page into view, unless it is. */
  const showPlace = useCallback(
    (at: number, [left, , right, top]: Box) => {
      const [node, place, page] = [scroller.current, places[at], pages[at]];
      if (!node || !place || !page) return false;
      const scale = place.height / page.size.height;
      const from = place.top + (page.size.height - top) * scale;
      const inView = from >= node.scrollTop + 60 && from <= node.scrollTop + node.clientHeight - 90;
      if (!inView) node.scrollTop = Math.max(0, from - node.clientHeight / 3);
      const margin = Math.max(0, node.scrollWidth - page.size.width * scale) / 2;
      const [first, last] = [margin + left * scale, margin + right * scale];
      const across = first >= node.scrollLeft && last <= node.scrollLeft + node.clientWidth;
      if (!across) node.scrollLeft = Math.max(0, first - node.clientWidth / 4);
      return true;
    },
    [pages, places],
  );
  /** Bring a blank into view and put the cursor in it; whether it is on a page. */
  const showBlank = useCallback(
    (blank: Blank) => {
      const shown = showPlace(pageOf(pages, blank), blank.rect as Box);
      if (shown && scroller.current) focusWhenDrawn(scroller.current, blank);
      return shown;
    },
    [pages, showPlace],
  );
  const drawn = rows.getVirtualItems();
  const middle = drawn.find((v) => v.end > (rows.scrollOffset ?? 0) + 200)?.index ?? 0;
  const shown = drawn.flatMap((v) => {
    const page = pages[v.index];
    return page ? [{ page, at: v.index, top: v.start, height: v.size - GAP }] : [];
  });
  // Of the places themselves: the virtualizer measures a moment later, and what is scrolled to meanwhile would be cut off.
  const last = places.at(-1);
  const height = last ? last.top + last.height + FOOT : 0;
  return { scroller, width, height, shown, middle, showPage, showPlace, showBlank };
}
