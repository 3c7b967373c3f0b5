/** The round on the screen: what was asked of the server last, one thing at a time, and what went wrong. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { inWords, type Asking, type Round } from './asking';

type Doing = (ask: Asking) => Promise<Round>;

export interface UsedRound {
  round: Round | null;
  /** Why nothing can be shown; the first answer was a refusal. */
  refused: string;
  trouble: string;
  busy: boolean;
  /** Do something, unless something is being done; gives whether it was. */
  run: (what: Doing) => Promise<boolean>;
  /** Keep what was typed, behind whoever goes on: nothing waits for it, and nothing that is done passes it. */
  keep: (what: Doing) => Promise<boolean>;
  ask: Asking;
}

/** How often a page looks whether the others have signed, or the seal is on. */
const LOOKS_EVERY = 5_000;

export function useRound(ask: Asking, secret: string): UsedRound {
  const [round, setRound] = useState<Round | null>(null);
  const [refused, setRefused] = useState('');
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const isRunning = useRef(false);
  const { attempt, look } = useTurns(ask, setRound, setTrouble);
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
    async (what: Doing) => {
      if (isRunning.current) return false;
      isRunning.current = true;
      setBusy(true);
      const done = await attempt(what);
      isRunning.current = false;
      setBusy(false);
      return done;
    },
    [attempt],
  );
  const waits = round !== null && (round.state === 'finished' ? !round.sealed : ['done', 'waits', 'on paper'].includes(round.at));
  useEffect(() => {
    if (!waits) return;
    const looked = setInterval(() => {
      if (document.visibilityState === 'visible') look();
    }, LOOKS_EVERY);
    return () => clearInterval(looked);
  }, [look, waits]);
  return { round, refused, trouble, busy, run, keep: attempt, ask };
}

/** What is asked of the server, one after the other in the order of asking. */
function useTurns(ask: Asking, setRound: (round: Round) => void, setTrouble: (trouble: string) => void) {
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const waiting = useRef(0);
  const asked = useRef(0);
  const attempt = useCallback(
    (what: Doing): Promise<boolean> => {
      const one = async () => {
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
          waiting.current -= 1;
        }
      };
      waiting.current += 1;
      asked.current += 1;
      const done = last.current.then(one);
      last.current = done;
      return done;
    },
    [ask, setRound, setTrouble],
  );
  /** See what others did meanwhile, unless something is asked for: then its answer says it, and an older look no longer does. */
  const look = useCallback(() => {
    const before = asked.current;
    if (waiting.current > 0) return;
    ask.see().then(
      (round) => asked.current === before && setRound(round),
      () => undefined,
    );
  }, [ask, setRound]);
  return { attempt, look };
}
