/** How large the paper is shown: as wide as there is room, a whole page, or enlarged; and how sharp its pictures have to be. */
import { useEffect, useState } from 'react';

export type Zoom = 'width' | 'page' | '125' | '150' | '200';

export const ZOOMS: readonly (readonly [zoom: Zoom, name: string])[] = [
  ['width', 'As wide as there is room'],
  ['page', 'Whole page'],
  ['125', '125 %'],
  ['150', '150 %'],
  ['200', '200 %'],
];

const KEPT = 'quill-zoom';

/** As chosen last in this window. */
export function useZoom(): [Zoom, (zoom: Zoom) => void] {
  const [zoom, setZoom] = useState<Zoom>(() => ZOOMS.find(([z]) => z === sessionStorage.getItem(KEPT))?.[0] ?? 'width');
  const choose = (to: Zoom) => {
    sessionStorage.setItem(KEPT, to);
    setZoom(to);
  };
  return [zoom, choose];
}

/** The paper's width in pixels, of that fitted to the room and that at which a whole page is seen. */
export const widthAt = (zoom: Zoom, fitted: number, whole: number) =>
  zoom === 'width' ? fitted : zoom === 'page' ? Math.min(fitted, whole) : (fitted * Number(zoom)) / 100;

/** Dots per inch in which pages of the paper are drawn; a picture that is made smaller stays sharp. */
const DOTS = [165, 220, 330];
const POINTS_PER_INCH = 72;

/** The fewest dots that are as dense as the screen's own. */
export function dotsFor(pixels: number, points: number): number {
  const wanted = (pixels * POINTS_PER_INCH) / points;
  return DOTS.find((dots) => dots >= wanted) ?? DOTS.at(-1) ?? 0;
}

/** Pixels of the screen for one of the page: denser screens have more, and two fingers enlarge. */
export function useDensity(): number {
  const [pinched, setPinched] = useState(1);
  useEffect(() => {
    const seen = window.visualViewport;
    if (!seen) return;
    const turned = () => setPinched(Math.ceil(seen.scale - 0.1));
    seen.addEventListener('resize', turned);
    return () => seen.removeEventListener('resize', turned);
  }, []);
  return window.devicePixelRatio * pinched;
}
