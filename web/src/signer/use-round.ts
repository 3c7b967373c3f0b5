/** The round on the screen: what was asked of the server last, one thing at a time, and what went wrong. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { inWords, type Asking, type Round } from './asking';

export interface UsedRound {
  round: Round | null;
  /** Why nothing can be shown; the first answer was a refusal. */
  refused: string;
  trouble: string;
  busy: boolean;
  /** Do something, unless something is being done; gives whether it was. */
  run: (what: (ask: Asking) => Promise<Round>) => Promise<boolean>;
  ask: Asking;
}

/** How often a page looks whether the others have signed, or the seal is on. */
const LOOKS_EVERY = 5_000;

export function useRound(ask: Asking, secret: string): UsedRound {
  const [round, setRound] = useState<Round | null>(null);
  const [refused, setRefused] = useState('');
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const atWork = useRef(false);
  useEffect(() => {
    let isThere = true;
    ask.open(secret).then(
      (found) => isThere && setRound(found),
      (error: unknown) => isThere && setRefused(inWords(error)),
    );
    return () => {
      isThere = false;
    };
  }, [ask, secret]);
  const run = useCallback(
    async (what: (ask: Asking) => Promise<Round>) => {
      if (atWork.current) return false;
      atWork.current = true;
      setBusy(true);
      setTrouble('');
      try {
        setRound(await what(ask));
        return true;
      } catch (error) {
        setTrouble(inWords(error));
        // Another device, or the agent, may have been quicker: what stands is shown.
        await ask.see().then(setRound, () => undefined);
        return false;
      } finally {
        atWork.current = false;
        setBusy(false);
      }
    },
    [ask],
  );
  const waits = round !== null && (round.state === 'finished' ? !round.sealed : ['done', 'waits', 'on paper'].includes(round.at));
  useEffect(() => {
    if (!waits) return;
    const looked = setInterval(() => {
      if (document.visibilityState === 'visible' && !atWork.current) ask.see().then(setRound, () => undefined);
    }, LOOKS_EVERY);
    return () => clearInterval(looked);
  }, [ask, waits]);
  return { round, refused, trouble, busy, run, ask };
}
