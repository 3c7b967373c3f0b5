/** Where one is on the paper: kept for coming back, and where one comes from a link or from elsewhere in the deal. */
import { useSearch } from '@tanstack/react-router';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Blank } from '../../api/client';
import type { Page } from '../assembly/pages';
import { useWorkspace } from '../workspace/workspace';
import { idOf, keepPlace, wayOf } from '../workspace/way';

/** To the place that the address names; without one to where it was left. */
export function useArrival(pages: Page[], goTo: (blank: Blank) => void, showPage: (at: number) => void) {
  const { held, outbox } = useWorkspace();
  const search = useSearch({ strict: false });
  const [came] = useState(() => ({ ...wayOf(outbox.name) }));
  /** To where it was left: the page, and the blank that was in hand on it. */
  const comeBack = useCallback(() => {
    const { blank, page } = came;
    const at = pages.findIndex((p) => p.id === page);
    const left = pages[at]?.blanks.find((b) => idOf(b) === blank);
    if (left) goTo(left);
    else if (at > 0) showPage(at);
  }, [came, pages, goTo, showPage]);
  const arrived = useRef('');
  useEffect(() => {
    const wanted = `${search.document ?? ''}/${search.field ?? ''}/${search.page ?? ''}`;
    if (arrived.current === wanted) return;
    const isFirst = arrived.current === '';
    arrived.current = wanted;
    if (isFirst && !search.document) return comeBack();
    const blank = held.blanks.find((b) => b.document === search.document && b.field === search.field);
    if (blank) goTo(blank);
    else showPage(pages.findIndex((p) => p.document.id === search.document && p.number === (search.page ?? 1)));
  }, [search, held.blanks, pages, goTo, showPage, comeBack]);
}

interface Place {
  inHand: string | null;
  page: string;
  goTo: (blank: Blank) => void;
}

/** Where one is, kept for coming back; and while the paper is here, the way to what is open goes over it. */
export function useKeptPlace({ inHand, page, goTo }: Place) {
  const { name } = useWorkspace().outbox;
  useEffect(() => {
    if (inHand) keepPlace(name, { blank: inHand });
  }, [name, inHand]);
  useEffect(() => {
    if (page) keepPlace(name, { page });
  }, [name, page]);
  useEffect(() => {
    const way = wayOf(name);
    way.jump = goTo;
    return () => {
      way.jump = null;
    };
  }, [name, goTo]);
}
