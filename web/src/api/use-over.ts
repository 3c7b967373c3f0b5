/**
 * What a form is typed over. What others keep meanwhile comes in the background, and is not taken for seen behind what is
 * typed: it is written over knowingly alone, once it was told.
 */
import { useEffect, useRef, useState } from 'react';
import type { useKept } from './use-kept';

type Form<T> = Pick<ReturnType<typeof useKept<T>>, 'typed' | 'set' | 'settle'>;

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

/** `saved` is what the server has, as the form shows it `shown`. */
export function useOver<S, T>(saved: S, shown: T, { typed, set, settle }: Form<T>) {
  const over = useRef({ saved, shown });
  const [isTold, setTold] = useState(false);
  useEffect(() => {
    const was = over.current.shown;
    if (same(was, shown)) {
      over.current = { saved, shown };
      return;
    }
    if (same(typed, was) || same(typed, shown)) settle(shown);
    else if (isTold) set(withTheirs(typed, was, shown));
    else return set(typed); // over what they kept it stays in this browser, too
    over.current = { saved, shown };
    setTold(false);
  }, [saved, shown, typed, set, settle, isTold]);
  return {
    /** What the author knows. */
    over: () => over.current.saved,
    /** The author was told that somebody else has changed it, and is shown that next. */
    told: () => setTold(true),
    /** This is what it says since the author kept it. */
    knows: (kept: S, asShown: T) => {
      over.current = { saved: kept, shown: asShown };
    },
  };
}

/** What is typed, with what others changed where the author left it alone. */
function withTheirs<T>(typed: T, was: T, now: T): T {
  // What was never said and what is empty are one.
  if (!isRecord(typed) || !isRecord(was) || !isRecord(now)) return same(typed || null, was || null) ? now : typed;
  const names = [...new Set([typed, was, now].flatMap(Object.keys))];
  const each = names.map((name) => [name, withTheirs(typed[name], was[name], now[name])] as const);
  return Object.fromEntries(each.filter(([, value]) => value !== undefined)) as T;
}

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;
