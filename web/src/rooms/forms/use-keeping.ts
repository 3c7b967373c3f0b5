/** What is placed on a paper and said of it, kept on the server a moment after each change; nothing placed is lost. */
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { client, got, Problem, type PaperInWork, type Placed } from '../../api/client';

const WAIT_MS = 700;
type Said = PaperInWork['paper'];

export function useKeeping(paper: PaperInWork) {
  const [placed, put] = useState<Placed[]>(paper.placed);
  const [said, say] = useState<Said>(paper.paper);
  const [faults, setFaults] = useState(paper.faults);
  const [state, setState] = useState('saved');
  const queries = useQueryClient();
  const now = useRef({ placed, said, version: paper.version, dirty: false });
  const sending = useRef<Promise<void>>(Promise.resolve());
  const timer = useRef(0);

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
        queries.setQueryData(['paper', paper.id], kept);
        setFaults(kept.faults);
        setState(now.current.dirty ? 'saving' : 'saved');
      } catch (error) {
        const offline = error instanceof Problem && error.status === 0;
        setState(offline ? 'Offline; kept here and sent again' : error instanceof Error ? error.message : 'Not saved');
        if (!offline) return;
        now.current.dirty = true;
        await new Promise((wait) => setTimeout(wait, 3000));
      }
    }
  }, [paper.id, queries]);

  const flush = useCallback(() => {
    window.clearTimeout(timer.current);
    sending.current = sending.current.then(send);
    return sending.current;
  }, [send]);

  const touched = useCallback(() => {
    now.current.dirty = true;
    setState('saving');
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => void flush(), WAIT_MS);
  }, [flush]);

  useEffect(
    () => () => {
      if (now.current.dirty) void flush();
    },
    [flush],
  );

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
