/** The deal at hand for every screen under it: its data, editing, undo, and others' changes as they come. */
import { useQuery, useQueryClient, useSuspenseQuery, type QueryClient } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useMemo, useSyncExternalStore, type ReactNode } from 'react';
import { client, got, Problem, type Deal, type Delta, type Edit, type Fact } from '../../api/client';
import { dealQuery, sessionQuery } from '../../api/queries';
import { notify } from '../../primitives/notices';
import { merged } from './merging';
import { DealOutbox, type Outbox } from './outbox';

const POLL_MS = 3500;

interface DealHand {
  deal: Deal;
  id: string;
  outbox: DealOutbox;
  facts: ReadonlyMap<string, Fact>;
  edit: (...edits: Edit[]) => void;
  undo: (change: string) => Promise<void>;
  /** Take in what another call (bring in, template, package) changed. */
  take: (delta: Delta, said?: string) => void;
}

const Context = createContext<DealHand | null>(null);
const outboxes = new Map<string, DealOutbox>();

function outboxFor(id: string, queries: QueryClient): DealOutbox {
  const user = queries.getQueryData(sessionQuery.queryKey)?.id ?? '';
  let box = outboxes.get(`${user}/${id}`);
  if (!box) {
    const key = dealQuery(id).queryKey;
    box = new DealOutbox(id, user, {
      signedOut: () => queries.setQueryData(sessionQuery.queryKey, null),
      merge: (delta) => queries.setQueryData(key, (old: Deal | undefined) => old && merged(old, delta)),
      versionOf: (name) => {
        const deal = queries.getQueryData<Deal>(key);
        const blank = deal?.blanks.find((b) => (b.only_here ? b.own_key : b.key) === name);
        return deal?.facts.find((f) => f.key === name)?.version ?? blank?.version;
      },
      refused: (problem, batch) => {
        const typed = batch.edits
          .map((e) => e.text)
          .filter(Boolean)
          .join(', ');
        notify(`${problem.message} ${problem.mend}${typed ? ` You had typed: ${typed}` : ''}`, { wrong: true });
        void queries.invalidateQueries({ queryKey: key });
      },
    });
    outboxes.set(`${user}/${id}`, box);
  }
  return box;
}

export function DealProvider({ id, children }: { id: string; children: ReactNode }) {
  const queries = useQueryClient();
  const { data: deal } = useSuspenseQuery(dealQuery(id));
  const outbox = outboxFor(id, queries);
  const facts = useMemo(() => new Map(deal.facts.map((f) => [f.key, f])), [deal.facts]);

  useQuery({
    queryKey: ['others', id],
    queryFn: async () => {
      const seq = queries.getQueryData<Deal>(dealQuery(id).queryKey)?.head.seq ?? 0;
      if (outbox.look().state !== 'saved') return null;
      const delta = await got(client.GET('/api/deals/{deal}/changes', { params: { path: { deal: id }, query: { since: seq } } }));
      if (delta) queries.setQueryData(dealQuery(id).queryKey, (old: Deal | undefined) => old && merged(old, delta));
      return null;
    },
    refetchInterval: POLL_MS,
    retry: false,
  });

  useEffect(() => {
    const again = () => void outbox.send();
    window.addEventListener('online', again);
    return () => window.removeEventListener('online', again);
  }, [outbox]);

  const hand = useMemo<DealHand>(() => {
    const take = (delta: Delta, said?: string, undone = false) => {
      queries.setQueryData(dealQuery(id).queryKey, (old: Deal | undefined) => old && merged(old, delta));
      const change = delta.change;
      if (change && !undone) outbox.remember(change, delta.said);
      if (said) notify(said, change ? { action: { label: 'Undo', run: () => void undo(change) } } : {});
    };
    const undo = async (target: string) => {
      try {
        const body = { change: crypto.randomUUID(), target };
        const delta = await got(client.POST('/api/deals/{deal}/undo', { params: { path: { deal: id } }, body }));
        outbox.forget(target);
        take(delta, delta.left.length ? `${delta.said}. Changed since and left: ${delta.left.join(', ')}` : delta.said, true);
      } catch (error) {
        if (error instanceof Problem) notify(`${error.message} ${error.mend}`, { wrong: true });
      }
    };
    return { deal, id, outbox, facts, edit: (...edits) => outbox.edit(edits), undo, take };
  }, [deal, id, outbox, facts, queries]);

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
