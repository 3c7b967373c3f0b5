/** Keys of a screen, wherever on it the focus is. */
import { useEffectEvent, useLayoutEffect } from 'react';

/**
 * Hear every key while `on`. They come and go with the picture: heard a moment longer or later, a key would act on the screen
 * before, or find nothing.
 */
export function useScreenKeys(onKey: (e: KeyboardEvent) => void, on = true): void {
  const latest = useEffectEvent(onKey);
  useLayoutEffect(() => {
    if (!on) return;
    const listen = (e: KeyboardEvent) => latest(e);
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [on]);
}
