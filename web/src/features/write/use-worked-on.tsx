/** What is done with the paper itself, one at a time: changed by hand, or given places to sign. */
import { useSearch } from '@tanstack/react-router';
import { useLayoutEffect } from 'react';
import type { Page } from '../assembly/pages';
import { useWorkspace } from '../workspace/workspace';
import { OwnPlaces, useOwnTurn } from '../signing/own-turn';
import { ByHand } from './by-hand';
import { SpotsLayer } from './spots-layer';
import { SpotsLens } from './spots-lens';
import { useByHand } from './use-by-hand';
import type { usePaper } from './use-paper';
import { useSpotKeys } from './use-spot-keys';
import { useSpots } from './use-spots';

export function useWorkedOn(
  pages: Page[],
  paper: Pick<ReturnType<typeof usePaper>, 'shown' | 'middle' | 'showPage' | 'scroller'>,
) {
  const { isDeal } = useWorkspace();
  const { scroller } = paper;
  const { places } = useSearch({ strict: false });
  const byHand = useByHand(paper.shown.map(({ page }) => page));
  const spots = useSpots(pages, paper.middle, isDeal && places === true, () => scroller.current?.focus());
  const show = (document: string, number: number) =>
    paper.showPage(pages.findIndex((p) => p.document.id === document && p.number === number && !p.continuation));
  useSpotKeys(spots, show);
  useLayoutEffect(() => {
    if (spots.on) scroller.current?.focus({ preventScroll: true }); // its keys are for the paper, not for what was pressed last
  }, [spots.on, scroller]);
  const tools = {
    byHand: isDeal ? byHand.on : undefined,
    turnByHand: () => {
      if (spots.on) spots.leave();
      byHand.turn();
    },
    spots: isDeal ? spots.on : undefined,
    turnSpots: () => {
      if (byHand.on) byHand.turn();
      spots.turn();
    },
  };
  const wanted = useOwnTurn();
  const layer = (page: Page, scale: number) => {
    if (spots.on && !page.continuation) return <SpotsLayer page={page} spots={spots} />;
    if (byHand.on) return byHand.layer(page, scale);
    // Nothing where there is nothing: a page that nothing is laid over isn't drawn anew at each key.
    const own = wanted.filter((w) => w.document === page.document.id && w.page === page.number);
    return own.length > 0 ? <OwnPlaces wanted={own} size={page.size} /> : undefined;
  };
  if (spots.on) {
    const inHand = `spots ${spots.chosen?.id ?? ''}`;
    return { tools, layer, inHand, putting: true, lens: <SpotsLens spots={spots} show={show} /> };
  }
  const changed = byHand.lens.document ?? pages[paper.middle]?.document;
  const lens = byHand.on ? <ByHand {...byHand.lens} document={changed} /> : null;
  return { tools, layer, inHand: byHand.on ? 'by hand' : null, putting: false, lens };
}
