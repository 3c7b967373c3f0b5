/** Whether the window is at least so many pixels wide, as it changes. */
import { useSyncExternalStore } from 'react';

/** From here on two columns stand beside each other, and from there three. */
export const TWO_COLUMNS = 900;
export const THREE_COLUMNS = 1200;

export function useWide(least: number): boolean {
  return useSyncExternalStore(
    (changed) => {
      const query = window.matchMedia(`(min-width: ${least}px)`);
      query.addEventListener('change', changed);
      return () => query.removeEventListener('change', changed);
    },
    () => window.matchMedia(`(min-width: ${least}px)`).matches,
  );
}
