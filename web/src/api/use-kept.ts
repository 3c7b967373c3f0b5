/**
 * What is typed into a form and not saved yet, kept in this browser under its user's name: a reload, an ended session or a
 * server that is away loses nothing of it. What others save meanwhile shows wherever the author left the form alone.
 */
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { sessionQuery } from './queries';

interface Form<T> {
  typed: T;
  /** What the author knew of what is saved: behind what is typed others' changes are not seen. */
  over: T;
  /** What was saved before the author saved this, as text, for as long as nothing newer has come. */
  until?: string;
  /** The author was told that somebody else has changed what is typed over, and sees that next. */
  isTold?: boolean;
}

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

/** `name` tells this form from others. `saved` is what the server has. */
export function useKept<T>(name: string, saved: T) {
  const user = useQueryClient().getQueryData(sessionQuery.queryKey)?.id ?? '';
  const key = `quill-form-${user}-${name}`;
  const [form, put] = useState<Form<T>>(() => stillTyped(key, saved) ?? { typed: saved, over: saved });
  const [restored, setRestored] = useState(() => !same(form.typed, form.over));
  const now = JSON.stringify(saved);
  const isAhead = form.until === now;
  const { typed, over } = useMemo(() => (isAhead ? form : meanwhile(form, saved)), [form, now]); // eslint-disable-line react-hooks/exhaustive-deps -- `now` is all that `saved` says
  const latest = useRef({ key, typed, over, now, isAhead });
  useEffect(() => {
    latest.current = { key, typed, over, now, isAhead };
  });
  const isCurrent = isAhead || same(over, saved);
  // What has come is known from now on.
  useEffect(() => {
    const { until, isTold } = form;
    if (isTold && !isCurrent) put({ typed, over: saved });
    else if (!isAhead && (until || !same([typed, over], [form.typed, form.over]))) put({ typed, over, isTold });
  }, [form, typed, over, saved, isAhead, isCurrent]);
  useEffect(() => void stillTyped(key, saved), [key, now]); // eslint-disable-line react-hooks/exhaustive-deps -- likewise
  const set = useCallback((value: T) => {
    const { key, over, now, isAhead } = latest.current;
    put(({ isTold }) => ({ typed: value, over, isTold, until: isAhead ? now : undefined }));
    write(key, same(value, over) ? undefined : { over: JSON.stringify(over), typed: value });
  }, []);
  /** What was `sent` is saved, as `to`; what was typed since then is still being typed. */
  const keptAs = useCallback((sent: T, to: T) => {
    const { key, typed, now } = latest.current;
    const since = withTheirs(typed, sent, to).typed as T;
    put({ typed: since, over: to, until: now });
    setRestored(false);
    write(key, same(since, to) ? undefined : { over: JSON.stringify(to), typed: since });
  }, []);
  /** It is given up, or all of it is saved. `to` is what the form shows from now on. */
  const settle = useCallback((to: T) => keptAs(latest.current.typed, to), [keptAs]);
  /** The author reads that somebody else has changed it: what is typed is typed over that from now on. */
  const told = useCallback(() => put((form) => ({ ...form, isTold: true })), []);
  /** `isCurrent`: nobody has changed what is typed over. */
  return { typed, over, isCurrent, set, keptAs, settle, told, restored };
}

/** What was typed here and not saved; what is saved by now is no longer kept. Another window's stays, which has the same name. */
function stillTyped<T>(key: string, saved: T): Form<T> | undefined {
  const kept = read<T>(key);
  const form = kept && meanwhile(kept, saved);
  if (form && !same(form.typed, saved)) return form;
  if (kept) write(key, undefined);
  return undefined;
}

/** A form when something else is saved than it was typed over. */
function meanwhile<T>(form: Form<T>, saved: T): Form<T> {
  if (same(form.over, saved)) return form;
  const { typed, over } = withTheirs(form.typed, form.over, saved);
  return { ...form, typed: typed as T, over: over as T };
}

/** What is typed, with what others saved where the author left it alone; and what of that the author knows. */
function withTheirs(typed: unknown, was: unknown, now: unknown): { typed: unknown; over: unknown } {
  if (!isOfParts(typed) || !isOfParts(was) || !isOfParts(now) || !haveOneForm(typed, was, now)) {
    const isOpen = alike(typed, was) || alike(typed, now);
    return isOpen ? { typed: now, over: now } : { typed, over: was };
  }
  const names = [...new Set([typed, was, now].flatMap((whole) => Object.keys(whole)))];
  const parts = names.map((name) => [name, withTheirs(typed[name], was[name], now[name])] as const);
  const whole = (side: 'typed' | 'over') => {
    const said = parts.map(([name, part]) => [name, part[side]] as const).filter(([, value]) => value !== undefined);
    return Array.isArray(typed) ? said.map(([, value]) => value) : Object.fromEntries(said);
  };
  return { typed: whole('typed'), over: whole('over') };
}

/** What was never said and what is empty are one. */
const alike = (one: unknown, other: unknown) => same(one || null, other || null);

type Parts = Record<string, unknown>;

const isOfParts = (value: unknown): value is Parts => typeof value === 'object' && value !== null;

/** Whether the parts of all are told apart by name, or by their place in lists that are equally long. */
function haveOneForm(...all: Parts[]): boolean {
  const lists = all.filter(Array.isArray);
  return lists.length === 0 || (lists.length === all.length && new Set(lists.map((list) => list.length)).size === 1);
}

function read<T>(key: string): Form<T> | undefined {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? 'null') as { over: string; typed: T } | null;
    return kept ? { typed: kept.typed, over: JSON.parse(kept.over) as T } : undefined;
  } catch {
    return undefined;
  }
}

/** `over` is kept as text. */
function write<T>(key: string, kept: { over: string; typed: T } | undefined) {
  try {
    if (kept) localStorage.setItem(key, JSON.stringify(kept));
    else localStorage.removeItem(key);
  } catch {
    // A full or closed store keeps nothing; what is typed stays on the screen.
  }
}
