/** Enter in a field that finds while typing. */
import { useEffect, useEffectEvent, useState } from 'react';

/**
 * Enter takes what was found for just what is typed, and nothing that was found for less of it: pressed before the answer is there,
 * it waits for it. Typing on forgets it. `isFresh` says that the answer is there; `take` is told whether it was waited for.
 */
export function useEarlyEnter(text: string, isFresh: boolean, take: (waited: boolean) => void) {
  const [waitsFor, setWaitsFor] = useState<string | null>(null);
  const isWaiting = waitsFor === text;
  const took = useEffectEvent(() => take(true));
  useEffect(() => {
    if (!isWaiting || !isFresh) return;
    setWaitsFor(null);
    took();
  }, [isWaiting, isFresh]);
  const enter = () => (isFresh ? take(false) : setWaitsFor(text));
  return { enter, isWaiting };
}
