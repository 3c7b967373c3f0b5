/** Whether the window is at least so many pixels wide, as it changes. */
import { useSyncExternalStore } from 'react';

/** From here on two columns stand beside each other, and from there three. */
export const TWO_COLUMNS = 900;
export const THREE_COLUMNS = 1200;

/** As it was on the screen: a printer's sheet is another width, and the screen behind it is to stay as it is. */
const onScreen = new Map<number, boolean>();

function isWide(least: number): boolean {
  const before = onScreen.get(least);
  if (before !== undefined && window.matchMedia('print').matches) return before;
  const wide = window.matchMedia(`(min-width: ${least}px)`).matches;
  onScreen.set(least, wide);
  return wide;
}

export function useWide(least: number): boolean {
  return useSyncExternalStore(
    (changed) => {
      const query = window.matchMedia(`(min-width: ${least}px)`);
      query.addEventListener('change', changed);
      return () => query.removeEventListener('change', changed);
    },
    () => isWide(least),
  );
}
