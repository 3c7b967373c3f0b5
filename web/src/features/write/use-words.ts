/** The words printed on the pages at hand, as they are read. */
import { useEffect, useMemo, useState } from 'react';
import { wordsNamed, type Words } from '../../api/whole';
import type { Page } from '../assembly/pages';

interface Read {
  words: ReadonlyMap<string, Words>;
  /** Editions that aren't read yet, and those that can't be. */
  waiting: number;
  failed: number;
}

/** Of nothing before they are wanted. */
export function useWords(pages: Page[], on: boolean): Read {
  const wanted = useMemo(() => [...new Set(pages.map((p) => p.document.edition))].sort().join(' ').trim(), [pages]);
  const [words, setWords] = useState<ReadonlyMap<string, Words>>(new Map());
  const [failed, setFailed] = useState(0);
  useEffect(() => {
    if (!on || !wanted) return;
    let gone = false;
    setFailed(0);
    for (const edition of wanted.split(' ')) {
      wordsNamed(edition).then(
        (found) => !gone && setWords((known) => new Map(known).set(edition, found)),
        () => !gone && setFailed((n) => n + 1),
      );
    }
    return () => {
      gone = true;
    };
  }, [wanted, on]);
  return { words, failed, waiting: wanted ? wanted.split(' ').length - words.size - failed : 0 };
}
