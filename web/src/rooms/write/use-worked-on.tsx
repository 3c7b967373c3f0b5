/** What is done with the paper itself, one at a time: changed by hand, or given places to sign. */
import { useSearch } from '@tanstack/react-router';
import type { Page } from '../assembly/pages';
import { useHand } from '../hand/hand';
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
  const { isDeal } = useHand();
  const { places } = useSearch({ strict: false });
  const byHand = useByHand(paper.shown.map(({ page }) => page));
  const spots = useSpots(pages, paper.middle, isDeal && places === true, () => paper.scroller.current?.focus());
  const show = (document: string, number: number) =>
    paper.showPage(pages.findIndex((p) => p.document.id === document && p.number === number && !p.continuation));
  useSpotKeys(spots, show);
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
  const layer = (page: Page, scale: number) =>
    spots.on && !page.continuation ? <SpotsLayer page={page} spots={spots} /> : byHand.layer(page, scale);
  if (spots.on) {
    const inHand = `spots ${spots.chosen?.id ?? ''}`;
    return { tools, layer, inHand, putting: true, lens: <SpotsLens spots={spots} show={show} /> };
  }
  const changed = byHand.lens.document ?? pages[paper.middle]?.document;
  const lens = byHand.on ? <ByHand {...byHand.lens} document={changed} /> : null;
  return { tools, layer, inHand: byHand.on ? 'by hand' : null, putting: false, lens };
}
