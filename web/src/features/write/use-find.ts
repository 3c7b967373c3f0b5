/** Finding in the package: what is looked for, where it stands, and which of these places is looked at. */
import { useEffect, useEffectEvent, useMemo, useRef, useState } from 'react';
import { useScreenKeys } from '../../primitives/screen-keys';
import type { Page } from '../assembly/pages';
import { hitsOf, type Box, type Hit } from './find';
import { useWords } from './use-words';

export interface Find {
  open: boolean;
  text: string;
  hits: Hit[];
  /** The one looked at, from 0; -1 where there is none. */
  at: number;
  /** Forms whose print isn't read yet, and those whose print can't be. */
  waiting: number;
  failed: number;
  look: (text: string) => void;
  go: (by: number) => void;
  begin: () => void;
  end: () => void;
}

const EMPTY_HITS: Hit[] = [];

const isSame = (a: Hit, b: Hit) => a.at === b.at && String(a.boxes[0]) === String(b.boxes[0]);

/** `from` is the page that is looked at: the first place found is one from there on. */
export function useFind(pages: Page[], from: number, show: (at: number, box: Box) => void): Find {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [looked, setLooked] = useState<Hit | null>(null);
  const { words, waiting, failed } = useWords(pages, open);
  const hits = useMemo(() => (open ? hitsOf(pages, words, text) : EMPTY_HITS), [open, pages, words, text]);
  // By what it is, not by its number: as forms are read and blanks filled, places are found before it.
  const at = looked ? hits.findIndex((h) => isSame(h, looked)) : -1;
  const turnTo = (hit: Hit | undefined) => {
    if (!hit?.boxes[0]) return;
    setLooked(hit);
    show(hit.at, hit.boxes[0]);
  };
  const begun = useRef('');
  const begin = useEffectEvent(() => {
    if (begun.current === text) return;
    begun.current = text;
    turnTo(hits.find((h) => h.at >= from) ?? hits[0]);
  });
  // Another text begins with its first place from the page looked at; what is filled in meanwhile moves nothing.
  const isReady = hits.length > 0 && waiting <= 0;
  useEffect(() => {
    if (isReady) begin();
  }, [isReady, text]);
  return {
    open,
    text,
    hits,
    at,
    waiting,
    failed,
    look: setText,
    go: (by) => turnTo(hits.at((at + by) % hits.length)),
    begin: () => setOpen(true),
    end: () => {
      setOpen(false);
      begun.current = '';
      setLooked(null);
    },
  };
}

/** Ctrl + F finds here, where the browser sees only the pages in view; pressed again, the browser's own. */
export function useFindKey(begin: () => void) {
  useScreenKeys((e) => {
    const wanted = (e.ctrlKey || e.metaKey) && !e.altKey && !e.shiftKey && e.key.toLowerCase() === 'f';
    const again = e.target instanceof Element && e.target.closest('search');
    if (!wanted || again) return;
    e.preventDefault();
    begin();
  });
}
