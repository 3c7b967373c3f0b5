/** The paper while it is changed by hand. */
import { useState } from 'react';
import { useScreenKeys } from '../../primitives/screen-keys';
import type { Page } from '../assembly/pages';
import type { Chosen } from './chosen-words';
import { useWords } from './use-words';
import { WordsLayer } from './words-layer';

/** Changing by hand: on or off, what is chosen, and the words of the pages in view. */
export function useByHand(shown: Page[]) {
  const [on, setOn] = useState(false);
  const [chosen, choose] = useState<Chosen | null>(null);
  const { words, failed } = useWords(shown, on);
  const wordsOf = (page: Page) => words.get(page.document.edition)?.[page.number - 1];
  const leave = () => {
    setOn(false);
    choose(null);
  };
  useScreenKeys((e) => e.key === 'Escape' && leave(), on);
  return {
    on,
    turn: () => (on ? leave() : setOn(true)),
    lens: {
      document: chosen?.page.document && shown.find((p) => p.document.id === chosen.page.document.id)?.document,
      chosen,
      words: (chosen && wordsOf(chosen.page)) ?? [],
      failed,
      done: () => choose(null),
      leave,
    },
    layer: (page: Page, scale: number) => {
      const here = on && !page.continuation ? wordsOf(page) : undefined;
      return (
        here && (
          <WordsLayer
            page={page}
            words={here}
            scale={scale}
            chosen={chosen?.page.id === page.id ? chosen : null}
            choose={choose}
            onDone={() => document.querySelector<HTMLElement>('[data-hand-text]')?.focus()}
          />
        )
      );
    },
  };
}
