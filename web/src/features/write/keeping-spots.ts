/** Places put on the paper, kept: in this browser at once, on the server a moment later, one request after the other. */
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Problem, type HandSpot, type PackageItem } from '../../api/client';
import { sessionQuery } from '../../api/queries';
import { useKept } from '../../api/use-kept';
import { stands } from '../../api/stands';
import { sayProblem } from '../../primitives/notices';
import { useWorkspace } from '../workspace/workspace';

const WAIT_MS = 500;
const AGAIN_MS = 5_000;
export const NONE: Unsaved = {};

/** What was put, moved or named and isn't on the server yet, by document and place. */
export type Unsaved = Record<string, { document: string; spot: HandSpot }>;

export interface Held extends HandSpot {
  document: string;
}

export const keyOf = (document: string, id: string) => `${document}/${id}`;

/** What a place is as it is sent: what the server adds to it stays there. */
export const plain = ({ id, page, rect, what, who, label, required }: HandSpot): HandSpot => ({
  id,
  page,
  rect,
  what,
  who,
  label,
  required,
});

/** Keeps what is put: in this browser at once, on the server a moment later, one request after the other. */
export function useSaving() {
  const { calls, take, outbox } = useWorkspace();
  const queries = useQueryClient();
  const kept = useKept<Unsaved>(`spots ${outbox.name}`, NONE);
  const [failed, setFailed] = useState(0);
  const now = useRef(kept.typed);
  const { set, typed } = kept;
  const put = useCallback(
    (change: (all: Unsaved) => Unsaved) => {
      now.current = change(now.current);
      set(now.current);
    },
    [set],
  );
  const queue = useRef(Promise.resolve());
  const sendThese = useCallback(
    async (document: string, mine: [string, Unsaved[string]][]): Promise<void> => {
      const settle = () =>
        put((all) => Object.fromEntries(Object.entries(all).filter(([key, u]) => !mine.some(([k, m]) => k === key && m === u))));
      try {
        take(await calls.spots(crypto.randomUUID(), document, { op: 'put', spots: mine.map(([, u]) => u.spot) }));
        // The screen hears of it in the next turn of the loop; until then what was put stands for it, or it would be gone for a moment.
        await new Promise((next) => setTimeout(next));
        settle();
        setFailed(0);
      } catch (error) {
        const isSignedOut = error instanceof Problem && error.status === 401;
        if (error instanceof Problem && !error.again && !isSignedOut) {
          // One that can't be saved takes no other with it: each is sent by itself.
          if (mine.length > 1) {
            for (const one of mine) await sendThese(document, [one]);
            return;
          }
          settle();
          return sayProblem(error);
        }
        setFailed((times) => times + 1);
        if (isSignedOut) stands(queries, sessionQuery.queryKey, null);
      }
    },
    [calls, put, queries, take],
  );
  const sendOne = useCallback(
    async (document: string) => {
      const mine = Object.entries(now.current).filter(([, u]) => u.document === document);
      if (mine.length > 0) await sendThese(document, mine);
    },
    [sendThese],
  );
  const flush = useCallback(() => {
    queue.current = queue.current.then(async () => {
      for (const document of new Set(Object.values(now.current).map((u) => u.document))) await sendOne(document);
    });
    return queue.current;
  }, [sendOne]);
  const waits = Object.keys(typed).length > 0;
  useEffect(() => {
    if (!waits) return;
    const soon = setTimeout(() => void flush(), failed ? AGAIN_MS : WAIT_MS);
    return () => clearTimeout(soon);
  }, [typed, waits, failed, flush]);
  useEffect(() => () => void flush(), [flush]);
  const state = failed ? 'Not saved yet. Your text is kept in this browser.' : waits ? 'Saving …' : 'Saved';
  return { unsaved: typed, put, flush, state };
}

/** The places as they are drawn: those of the deal, with what isn't saved yet in its place. */
export function together(documents: PackageItem[], unsaved: Unsaved): Held[] {
  const stands = documents
    .filter((d) => !d.set_aside)
    .flatMap((d) => d.spots.map((s): Held => ({ ...(unsaved[keyOf(d.id, s.id)]?.spot ?? plain(s)), document: d.id })));
  const known = new Set(stands.map((s) => keyOf(s.document, s.id)));
  const fresh = Object.entries(unsaved).flatMap(([key, u]) => (known.has(key) ? [] : [{ ...u.spot, document: u.document }]));
  return [...stands, ...fresh];
}
