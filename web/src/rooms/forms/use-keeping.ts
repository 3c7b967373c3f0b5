/** What is placed on a paper and said of it, kept on the server a moment after each change; nothing placed is lost. */
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { client, got, Problem, type PaperInWork, type Placed } from '../../api/client';
import { sessionQuery } from '../../api/queries';

const WAIT_MS = 700;
const MOST_TRIES = 4;
type Said = PaperInWork['paper'];

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

export function useKeeping(paper: PaperInWork) {
  const queries = useQueryClient();
  const key = `quill-paper-${queries.getQueryData(sessionQuery.queryKey)?.id ?? ''}-${paper.id}`;
  const [left] = useState(() => leftBehind(key, paper.version));
  const [placed, put] = useState<Placed[]>(left?.placed ?? paper.placed);
  const [said, say] = useState<Said>(left?.said ?? paper.paper);
  const [faults, setFaults] = useState(paper.faults);
  const [state, setState] = useState(left ? 'saving' : 'saved');
  const now = useRef({ placed, said, version: paper.version, dirty: left !== null, tries: 0 });
  const sending = useRef<Promise<void>>(Promise.resolve());
  const timer = useRef(0);

  const keep = useCallback(() => {
    const { placed, said, version } = now.current;
    try {
      localStorage.setItem(key, JSON.stringify({ placed, said, version }));
    } catch {
      // A full store keeps nothing; the paper is still on the screen and on its way.
    }
  }, [key]);

  const send = useCallback(async () => {
    while (now.current.dirty) {
      now.current.dirty = false;
      const { placed, said, version } = now.current;
      try {
        const kept = await got(
          client.PUT('/api/papers/{reading}', {
            params: { path: { reading: paper.id } },
            body: { placed, paper: said, based_on: version },
          }),
        );
        now.current.version = kept.version;
        now.current.tries = 0;
        queries.setQueryData(['paper', paper.id], kept);
        setFaults(kept.faults);
        if (now.current.dirty) keep();
        else localStorage.removeItem(key);
        setState(now.current.dirty ? 'saving' : 'saved');
      } catch (error) {
        now.current.dirty = true;
        const problem = error instanceof Problem ? error : new Problem(String(error), '', 500);
        if (problem.status === 401) queries.setQueryData(sessionQuery.queryKey, null);
        const waits = problem.status === 0 || problem.status === 401;
        if (!waits && !((problem.again || problem.status >= 500) && ++now.current.tries < MOST_TRIES)) {
          setState(`Not saved: ${problem.message} ${problem.mend}`);
          return;
        }
        setState(waits ? 'Offline; kept here and sent again' : 'saving');
        await new Promise((wait) => setTimeout(wait, Math.max(problem.wait * 1000, 3000)));
      }
    }
  }, [paper.id, queries, key, keep]);

  const flush = useCallback(() => {
    window.clearTimeout(timer.current);
    sending.current = sending.current.then(send);
    return sending.current;
  }, [send]);

  const touched = useCallback(() => {
    now.current.dirty = true;
    now.current.tries = 0;
    keep();
    setState('saving');
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => void flush(), WAIT_MS);
  }, [flush, keep]);

  useEffect(
    () => () => {
      if (now.current.dirty) void flush();
    },
    [flush],
  );
  useEffect(() => {
    if (now.current.dirty) void flush();
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
