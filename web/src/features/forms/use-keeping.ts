/** What is placed on a paper and said of it, kept on the server a moment after each change; nothing placed is lost. */
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import { client, got, Problem, type PaperInWork, type Placed } from '../../api/client';
import { sessionQuery } from '../../api/queries';
import { stands } from '../../api/stands';

const WAIT_MS = 700;
const MOST_TRIES = 4;
export type Said = PaperInWork['paper'];

interface Left {
  placed: Placed[];
  said: Said;
  version: number;
}

/** What was placed and not saved when this browser last left the paper, as far as nobody has changed it since. */
function leftBehind(key: string, version: number): Left | null {
  try {
    const left = JSON.parse(localStorage.getItem(key) ?? 'null') as Left | null;
    return left?.version === version ? left : null;
  } catch {
    return null;
  }
}

/** Kept in this browser until the server has it; a full store keeps nothing, but the paper is still on its way. */
function keepHere(key: string, { placed, said, version }: Left) {
  try {
    localStorage.setItem(key, JSON.stringify({ placed, said, version }));
  } catch {
    // What is on the screen stays there.
  }
}

/** What is to be sent: `dirty` while something isn't, `tries` how often that failed. */
interface Now extends Left {
  dirty: boolean;
  tries: number;
}

/** What becomes of what could not be sent: how long to wait before the next try, or why there is none. */
function afterFailure(error: unknown, now: Now): { waitMs: number; told: string; isSignedOut: boolean } | { refused: string } {
  const problem = error instanceof Problem ? error : new Problem(String(error), '', 500);
  const isSignedOut = problem.status === 401;
  const isAway = problem.status === 0 || isSignedOut;
  const mayPass = problem.again || problem.status >= 500;
  const isGivenUp = !isAway && !(mayPass && ++now.tries < MOST_TRIES);
  if (isGivenUp) return { refused: `Not saved: ${problem.message} ${problem.mend}` };
  const told = isAway ? 'Offline; kept here and sent again' : 'saving';
  return { waitMs: Math.max(problem.wait * 1000, 3000), told, isSignedOut };
}

/** Sends what is placed and said, one version after the other. */
function useSending(paper: PaperInWork, key: string, now: RefObject<Now>, isLeft: boolean) {
  const queries = useQueryClient();
  const [faults, setFaults] = useState(paper.faults);
  const [state, setState] = useState(isLeft ? 'saving' : 'saved');
  const sending = useRef<Promise<void>>(Promise.resolve());
  const send = useCallback(async () => {
    while (now.current.dirty) {
      now.current.dirty = false;
      const { placed, said, version } = now.current;
      const body = { placed, paper: said, based_on: version };
      try {
        const kept = await got(client.PUT('/api/papers/{reading}', { params: { path: { reading: paper.id } }, body }));
        Object.assign(now.current, { version: kept.version, tries: 0 });
        stands(queries, ['paper', paper.id], kept);
        setFaults(kept.faults);
        if (now.current.dirty) keepHere(key, now.current);
        else localStorage.removeItem(key);
        setState(now.current.dirty ? 'saving' : 'saved');
      } catch (error) {
        now.current.dirty = true;
        const next = afterFailure(error, now.current);
        if ('refused' in next) return setState(next.refused);
        if (next.isSignedOut) stands(queries, sessionQuery.queryKey, null);
        setState(next.told);
        await new Promise((wait) => setTimeout(wait, next.waitMs));
      }
    }
  }, [paper.id, queries, key, now]);
  const sendAll = useCallback(() => {
    sending.current = sending.current.then(send);
    return sending.current;
  }, [send]);
  return { faults, state, setState, sendAll };
}

export function useKeeping(paper: PaperInWork) {
  const key = `quill-paper-${useQueryClient().getQueryData(sessionQuery.queryKey)?.id ?? ''}-${paper.id}`;
  const [left] = useState(() => leftBehind(key, paper.version));
  const [placed, put] = useState<Placed[]>(left?.placed ?? paper.placed);
  const [said, say] = useState<Said>(left?.said ?? paper.paper);
  const now = useRef<Now>({ placed, said, version: paper.version, dirty: left !== null, tries: 0 });
  const { faults, state, setState, sendAll } = useSending(paper, key, now, left !== null);
  const timer = useRef(0);

  const flush = useCallback(() => {
    window.clearTimeout(timer.current);
    return sendAll();
  }, [sendAll]);
  const touched = useCallback(() => {
    Object.assign(now.current, { dirty: true, tries: 0 });
    keepHere(key, now.current);
    setState('saving');
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => void flush(), WAIT_MS);
  }, [flush, key, setState]);
  useEffect(() => {
    const hurry = () => now.current.dirty && void flush();
    hurry(); // what was left behind
    return () => void hurry(); // what is being left
  }, [flush]);

  const setPlaced = useCallback(
    (to: (all: Placed[]) => Placed[]) => {
      now.current.placed = to(now.current.placed);
      put(now.current.placed);
      touched();
    },
    [touched],
  );
  const setSaid = useCallback(
    (what: Partial<Said>) => {
      now.current.said = { ...now.current.said, ...what };
      say(now.current.said);
      touched();
    },
    [touched],
  );
  return { placed, said, faults, state, setPlaced, setSaid, flush };
}
