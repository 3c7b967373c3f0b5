/** The deal at hand for every screen under it: its data, editing, undo, and others' changes as they come. */
import { useQuery, useQueryClient, useSuspenseQuery, type QueryClient } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useMemo, useRef, useSyncExternalStore, type ReactNode } from 'react';
import { client, got, Problem, type Deal, type Edit, type Fact, type WireDelta } from '../../api/client';
import { dealQuery, sessionQuery } from '../../api/queries';
import { notify, sayProblem } from '../../primitives/notices';
import { wholeDelta } from '../../api/whole';
import { merged } from './merging';
import { DealOutbox, type Hooks, type Outbox } from './outbox';

const POLL_MS = 3500;

interface DealHand {
  deal: Deal;
  id: string;
  /** What calls about this deal name: the deal, and the offer at hand. */
  params: { path: { deal: string }; query: { offer: number } };
  outbox: DealOutbox;
  facts: ReadonlyMap<string, Fact>;
  edit: (...edits: Edit[]) => void;
  undo: (change: string) => Promise<void>;
  /** Take the own last step back, or do it again; a second press waits for the first and takes the one before. */
  step: (which: 'undo' | 'redo') => void;
  /** Take in what another call (bring in, template, package) changed. */
  take: (answer: WireDelta, said?: string) => void;
}

interface Props {
  id: string;
  offer: number | undefined;
  onOffer: (head: Deal['head']) => void;
  children: ReactNode;
}

const Context = createContext<DealHand | null>(null);
const outboxes = new Map<string, DealOutbox>();
const undoing = new Set<string>();

function outboxFor(id: string, offer: number | undefined, queries: QueryClient): DealOutbox {
  const user = queries.getQueryData(sessionQuery.queryKey)?.id ?? '';
  const name = `${user}/${id}/${offer ?? ''}`;
  let box = outboxes.get(name);
  if (!box) {
    const key = dealQuery(id, offer).queryKey;
    const hooks: Hooks = {
      signedOut: () => queries.setQueryData(sessionQuery.queryKey, null),
      merge: async (answer) => {
        try {
          const delta = await wholeDelta(answer);
          queries.setQueryData(key, (old: Deal | undefined) => old && merged(old, delta));
          return delta;
        } catch {
          // It is saved; what it moved is asked for again.
          void queries.invalidateQueries({ queryKey: key });
          return null;
        }
      },
      offerAtHand: () => queries.getQueryData<Deal>(key)?.head.offer ?? 0,
      versionOf: (name) => {
        const deal = queries.getQueryData<Deal>(key);
        const blank = deal?.blanks.find((b) => (b.only_here ? b.own_key : b.key) === name);
        return deal?.facts.find((f) => f.key === name)?.version ?? blank?.version;
      },
      refused: () => void queries.invalidateQueries({ queryKey: key }),
    };
    box = new DealOutbox(id, user, hooks, offer);
    outboxes.set(name, box);
  }
  return box;
}

/** `offer` is the one that the address names, `onOffer` goes to another. */
export function DealProvider({ id, offer, onOffer, children }: Props) {
  const queries = useQueryClient();
  const query = dealQuery(id, offer);
  const { data: deal } = useSuspenseQuery(query);
  const outbox = outboxFor(id, offer, queries);
  const facts = useMemo(() => new Map(deal.facts.map((f) => [f.key, f])), [deal.facts]);

  useQuery({
    queryKey: ['others', id, offer ?? null],
    queryFn: async () => {
      const seq = queries.getQueryData<Deal>(query.queryKey)?.head.seq ?? 0;
      if (outbox.look().state !== 'saved') return null;
      const params = { path: { deal: id }, query: { since: seq, offer } };
      const answer = await got(client.GET('/api/deals/{deal}/changes', { params }));
      const delta = answer && (await wholeDelta(answer));
      if (delta) queries.setQueryData(query.queryKey, (old: Deal | undefined) => old && merged(old, delta));
      return null;
    },
    refetchInterval: POLL_MS,
    retry: false,
  });

  useEffect(() => {
    const again = () => void outbox.send();
    // Nothing that is typed may be left behind: not by closing, not by another tab, not by the phone's switcher.
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

  const stepping = useRef(Promise.resolve());
  const hand = useMemo<DealHand>(() => {
    const params = { path: { deal: id }, query: { offer: deal.head.offer } };
    const take = async (answer: WireDelta, said?: string) => {
      const delta = await wholeDelta(answer);
      const inForce = delta.head.offers.some((o) => o.id === delta.head.offer && o.in_force);
      const same = delta.head.offer === deal.head.offer || (offer === undefined && inForce);
      if (same) queries.setQueryData(query.queryKey, (old: Deal | undefined) => old && merged(old, delta));
      const change = delta.change;
      if (said) notify(said, change ? { action: { label: 'Undo', run: () => void undo(change) } } : {});
      if (!same) onOffer(delta.head);
    };
    const undo = async (target: string) => {
      outbox.flush();
      await outbox.send();
      if (undoing.has(target)) return; // a second press waits for the first
      undoing.add(target);
      try {
        const body = { change: crypto.randomUUID(), target };
        const delta = await got(
          client.POST('/api/deals/{deal}/undo', { params: { path: { deal: id }, query: { offer } }, body }),
        );
        await take(delta, delta.left.length ? `${delta.said}. Changed since and left: ${delta.left.join(', ')}` : delta.said);
      } catch (error) {
        if (error instanceof Problem) sayProblem(error);
      } finally {
        undoing.delete(target);
      }
    };
    const step = (which: 'undo' | 'redo') => {
      stepping.current = stepping.current.then(async () => {
        const next = queries.getQueryData<Deal>(query.queryKey)?.head[which];
        if (next) await undo(next.id);
      });
    };
    const taken = (answer: WireDelta, said?: string) =>
      void take(answer, said).catch((error) => error instanceof Problem && sayProblem(error));
    return { step, deal, id, params, outbox, facts, edit: (...edits) => outbox.edit(edits), undo, take: taken };
  }, [deal, id, offer, onOffer, outbox, facts, queries]); // eslint-disable-line react-hooks/exhaustive-deps -- `query` is made from id and offer

  return <Context.Provider value={hand}>{children}</Context.Provider>;
}

export function useDeal(): DealHand {
  const hand = useContext(Context);
  if (!hand) throw new Error('no deal at hand');
  return hand;
}

export function useOutbox(): Outbox {
  const { outbox } = useDeal();
  return useSyncExternalStore(outbox.subscribe, outbox.look);
}

/** The unconfirmed text of one key; re-renders only when that key's text changes. */
export function useEcho(key: string): string | undefined {
  const { outbox } = useDeal();
  return useSyncExternalStore(outbox.subscribe, () => outbox.look().echo.get(key));
}
