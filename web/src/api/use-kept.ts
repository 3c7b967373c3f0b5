/**
 * What is typed into a form and not saved yet, kept in this browser under its user's name: a reload, an ended session or a
 * server that is away loses nothing of it.
 */
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { sessionQuery } from './queries';

interface Kept<T> {
  /** What the server said when it was typed: a form that has changed since is not filled with what was typed over the old one. */
  over: string;
  typed: T;
}

/** `name` tells this form from others; without one nothing is kept. `saved` is what the server has. */
export function useKept<T>(name: string, saved: T) {
  const user = useQueryClient().getQueryData(sessionQuery.queryKey)?.id ?? '';
  const key = `quill-form-${user}-${name}`;
  const over = JSON.stringify(saved);
  const [restored, setRestored] = useState(() => read<T>(key, over) !== undefined);
  const [typed, put] = useState<T>(() => read<T>(key, over) ?? saved);
  const now = useRef(key);
  useEffect(() => {
    now.current = key;
  }, [key]);
  // What was typed over something that no longer stands is not to come back with it.
  useEffect(() => {
    if (read<T>(key, over) === undefined) write(key, undefined);
  }, [key, over]);
  const set = useCallback(
    (value: T) => {
      put(value);
      write(now.current, JSON.stringify(value) === over ? undefined : { over, typed: value });
    },
    [over],
  );
  /** It is saved, or given up. `to` is what the form shows from now on. */
  const settle = useCallback((to: T) => {
    put(to);
    setRestored(false);
    write(now.current, undefined);
  }, []);
  return { typed, set, settle, restored };
}

function read<T>(key: string, over: string): T | undefined {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? 'null') as Kept<T> | null;
    return kept?.over === over ? kept.typed : undefined;
  } catch {
    return undefined;
  }
}

function write<T>(key: string, kept: Kept<T> | undefined) {
  try {
    if (kept) localStorage.setItem(key, JSON.stringify(kept));
    else localStorage.removeItem(key);
  } catch {
    // A full or closed store keeps nothing; what is typed stays on the screen.
  }
}
