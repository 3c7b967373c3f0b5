/** What every hand is made of, whatever it is kept as: one outbox, others' changes as they come, undo in order. */
import { useQuery, useQueryClient, type QueryClient, type QueryKey } from '@tanstack/react-query';
import { useEffect, useMemo, useRef } from 'react';
import { Problem, type Delta, type WireDelta } from '../../api/client';
import { sessionQuery } from '../../api/queries';
import { wholeDelta } from '../../api/whole';
import { stands } from '../../api/stands';
import { notify, sayProblem, withdraw } from '../../primitives/notices';
import type { Workspace, Held } from './workspace';
import { merged } from './merging';
import { EditOutbox, type Batch } from './outbox';

const POLL_MS = 3500;

/** Where a hand is kept. */
export interface Backing {
  /** Names it in this browser, for one user. */
  name: string;
  /** Under which the screens' data of it stand. */
  queryKey: QueryKey;
  /** The offer that edits go to; 0 where there are none. */
  offerAtHand: () => number;
  post: (batch: Batch, keepalive: boolean) => Promise<WireDelta>;
  /** What others changed since a step; nothing where nobody did. */
  since: (seq: number) => Promise<WireDelta | undefined>;
  takeBack: (change: string, target: string) => Promise<WireDelta>;
  /** Whether a delta speaks of what is at hand; one that doesn't is told to `elsewhere`. */
  isHere: (delta: Delta) => boolean;
  elsewhere: (delta: Delta) => void;
}

type Parts = Pick<Workspace, 'facts' | 'outbox' | 'edit' | 'undo' | 'step' | 'take'>;

const outboxes = new Map<string, EditOutbox>();
const undoing = new Set<string>();

/** The one outbox of a hand, however many screens show it. */
function outboxFor(backing: Backing, queries: QueryClient): EditOutbox {
  const user = queries.getQueryData(sessionQuery.queryKey)?.id ?? '';
  const whose = `${user}-${backing.name}`;
  const known = outboxes.get(whose);
  if (known) return known;
  const at = () => queries.getQueryData<Held>(backing.queryKey);
  const box = new EditOutbox(whose, {
    post: backing.post,
    signedOut: () => stands(queries, sessionQuery.queryKey, null),
    merge: async (answer) => {
      try {
        const delta = await wholeDelta(answer);
        takeIn(queries, backing.queryKey, delta);
        return delta;
      } catch {
        // It is saved; what it moved is asked for again.
        void queries.invalidateQueries({ queryKey: backing.queryKey });
        return null;
      }
    },
    offerAtHand: backing.offerAtHand,
    versionOf: (name) => {
      const blank = at()?.blanks.find((b) => (b.only_here ? b.own_key : b.key) === name);
      return at()?.facts.find((f) => f.key === name)?.version ?? blank?.version;
    },
    refused: () => void queries.invalidateQueries({ queryKey: backing.queryKey }),
  });
  outboxes.set(whose, box);
  return box;
}

const takeIn = (queries: QueryClient, key: QueryKey, delta: Delta) => {
  queries.setQueryData(key, (old: Held | undefined) => old && merged(old, delta));
  sayLate(`late ${key.join(' ')}`, delta);
};

/** How many days had passed when it was said of some, by what it was said of. */
const passed = new Map<string, number>();

/** Days that a step made known and that have passed already are said at once; once fewer have, no longer. */
function sayLate(about: string, { late, head }: Delta) {
  const [first, ...rest] = late;
  if (!first) {
    if (head.late < (passed.get(about) ?? 0)) withdraw(about);
    return;
  }
  passed.set(about, head.late);
  const more = rest.length ? ` So have ${rest.length === 1 ? 'one more' : `${rest.length} more`}.` : '';
  notify(`${first.message}${more} ${first.mend}`, { wrong: true, about });
}

/** Nothing that is typed may be left behind: not by closing, not by another tab, not by the phone's switcher. */
function useLeaving(outbox: EditOutbox) {
  useEffect(() => {
    const again = () => void outbox.send();
    const leaving = () => outbox.flush();
    const hidden = () => document.visibilityState === 'hidden' && outbox.flush();
    window.addEventListener('online', again);
    window.addEventListener('pagehide', leaving);
    document.addEventListener('visibilitychange', hidden);
    return () => {
      window.removeEventListener('online', again);
      window.removeEventListener('pagehide', leaving);
      document.removeEventListener('visibilitychange', hidden);
      outbox.flush();
    };
  }, [outbox]);
}

/** Others' changes, asked for every few seconds while nothing of one's own is on its way. */
function useOthers(backing: Backing, outbox: EditOutbox) {
  const queries = useQueryClient();
  useQuery({
    queryKey: ['others', ...backing.queryKey],
    queryFn: async () => {
      const seen = queries.getQueryData<Held>(backing.queryKey)?.seen ?? 0;
      if (outbox.look().state !== 'saved') return null;
      const answer = await backing.since(seen);
      if (answer) takeIn(queries, backing.queryKey, await wholeDelta(answer));
      return null;
    },
    refetchInterval: POLL_MS,
    retry: false,
  });
}

/** `backing` is the same object as long as the same thing is at hand. */
export function useBacking(backing: Backing, held: Held): Parts {
  const queries = useQueryClient();
  const outbox = outboxFor(backing, queries);
  const facts = useMemo(() => new Map(held.facts.map((f) => [f.key, f])), [held.facts]);
  const stepping = useRef(Promise.resolve());
  useOthers(backing, outbox);
  useLeaving(outbox);
  const actions = useMemo(() => {
    const takeOne = async (answer: WireDelta, said?: string) => {
      const delta = await wholeDelta(answer);
      const here = backing.isHere(delta);
      if (here) takeIn(queries, backing.queryKey, delta);
      const change = delta.change;
      if (said) notify(said, change ? { about: change, action: { label: 'Undo', run: () => void undo(change) } } : {});
      if (!here) backing.elsewhere(delta);
    };
    const undo = async (target: string) => {
      outbox.flush();
      await outbox.send();
      if (undoing.has(target)) return; // a second press waits for the first
      undoing.add(target);
      try {
        const delta = await backing.takeBack(crypto.randomUUID(), target);
        withdraw(target); // what it said it did is no longer so
        await takeOne(delta, delta.left.length ? `${delta.said}. Changed since and left: ${delta.left.join(', ')}` : delta.said);
      } catch (error) {
        if (error instanceof Problem) sayProblem(error);
      } finally {
        undoing.delete(target);
      }
    };
    const step: Workspace['step'] = (which) => {
      stepping.current = stepping.current.then(async () => {
        const next = queries.getQueryData<Held>(backing.queryKey)?.head[which];
        if (next) await undo(next.id);
      });
    };
    const take: Workspace['take'] = (answer, said) =>
      void takeOne(answer, said).catch((error) => error instanceof Problem && sayProblem(error));
    const edit: Workspace['edit'] = (...edits) => outbox.edit(edits);
    return { undo, step, take, edit };
  }, [backing, outbox, queries]);
  return useMemo(() => ({ facts, outbox, ...actions }), [facts, outbox, actions]);
}
