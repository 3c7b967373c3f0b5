/** The deal at hand for every screen under it: a hand, and what only deals have. */
import { useQueryClient, useSuspenseQuery } from '@tanstack/react-query';
import { createContext, useContext, useMemo, type ReactNode } from 'react';
import { client, got, once, type Deal } from '../../api/client';
import { dealQuery } from '../../api/queries';
import { WorkspaceContext, type Calls, type Workspace } from '../workspace/workspace';
import { useBacking, type Backing } from '../workspace/use-backing';

interface DealHand extends Workspace {
  deal: Deal;
  /** What calls about this deal name: the deal, and the offer at hand. */
  params: { path: { deal: string }; query: { offer: number } };
}

interface Props {
  id: string;
  offer: number | undefined;
  onOffer: (head: Deal['head']) => void;
  /** What is otherwise where it is a template's working copy. */
  otherwise?: Partial<Workspace>;
  children: ReactNode;
}

const Context = createContext<DealHand | null>(null);

/** Where a deal is kept, as one of its offers has it; without `offer`, as the one in force has it. */
function useDealBacking(id: string, offer: number | undefined, onOffer: Props['onOffer']): Backing {
  const queries = useQueryClient();
  return useMemo(() => {
    const { queryKey } = dealQuery(id, offer);
    const path = { deal: id };
    const atHand = () => queries.getQueryData<Deal>(queryKey)?.head.offer ?? 0;
    return {
      name: `${id}-${offer ?? 0}`,
      queryKey,
      offerAtHand: atHand,
      post: ({ change, edits, offer: of }, keepalive) => {
        const params = { path, query: { offer: of || undefined } };
        return got(client.POST('/api/deals/{deal}/changes', { params, body: { change, edits }, keepalive }));
      },
      since: (since) => got(client.GET('/api/deals/{deal}/changes', { params: { path, query: { since, offer } } })),
      takeBack: (change, target) =>
        got(client.POST('/api/deals/{deal}/undo', { params: { path, query: { offer } }, body: { change, target } })),
      isHere: ({ head }) => {
        const inForce = head.offers.some((o) => o.id === head.offer && o.in_force);
        return head.offer === atHand() || (offer === undefined && inForce);
      },
      elsewhere: ({ head }) => onOffer(head),
    };
  }, [id, offer, onOffer, queries]);
}

function callsOf(params: DealHand['params']): Calls {
  return {
    pack: (change, op) => got(client.POST('/api/deals/{deal}/package', { params, body: { change, ...op } })),
    byHand: (change, document, op) => {
      const path = { ...params.path, document };
      return got(
        client.POST('/api/deals/{deal}/documents/{document}/by-hand', { params: { ...params, path }, body: { change, ...op } }),
      );
    },
    spots: (change, document, op) => {
      const path = { ...params.path, document };
      return got(
        client.POST('/api/deals/{deal}/documents/{document}/spots', { params: { ...params, path }, body: { change, ...op } }),
      );
    },
    spotsFor: (document) => {
      const path = { ...params.path, document };
      return got(client.GET('/api/deals/{deal}/documents/{document}/spots', { params: { ...params, path } }));
    },
    applyTemplate: (change, template) => got(client.POST('/api/deals/{deal}/templates', { params, body: { change, template } })),
    fillFrom: (change, from) => got(client.POST('/api/deals/{deal}/contacts', { params, body: { change, ...from } })),
    changeTask: (change, op) => got(client.POST('/api/deals/{deal}/tasks', { params, body: { change, ...op } })),
    keepAsContact: (key, body) => got(client.POST('/api/deals/{deal}/contacts/keep', { params, headers: once(key), body })),
    holidays: (year) => got(client.GET('/api/deals/{deal}/holidays', { params: { path: params.path, query: { year } } })),
    earlier: () => got(client.GET('/api/deals/{deal}/earlier', { params })),
    continuation: () => got(client.GET('/api/deals/{deal}/continuation-pages', { params })),
    lens: (key) => got(client.GET('/api/deals/{deal}/facts/{key}', { params: { ...params, path: { ...params.path, key } } })),
  };
}

/** `offer` is the one that the address names, `onOffer` goes to another. */
export function DealProvider({ id, offer, onOffer, otherwise, children }: Props) {
  const { data: deal } = useSuspenseQuery(dealQuery(id, offer));
  const parts = useBacking(useDealBacking(id, offer, onOffer), deal);
  const hand = useMemo<DealHand>(() => {
    const params = { path: { deal: id }, query: { offer: deal.head.offer } };
    return {
      ...parts,
      id,
      deal,
      held: deal,
      params,
      calls: callsOf(params),
      at: (place, within) => ({ to: `/deals/$deal/${place}`, params: { deal: id }, ...within }),
      pdf: (document) => `/api/deals/${id}/documents/${document}.pdf?offer=${deal.head.offer}`,
      source: 'typed',
      isDeal: true,
      mayLock: false,
      answeredBy: () => '',
      ...otherwise,
    };
  }, [deal, id, parts, otherwise]);
  return (
    <WorkspaceContext.Provider value={hand}>
      <Context.Provider value={hand}>{children}</Context.Provider>
    </WorkspaceContext.Provider>
  );
}

export function useDeal(): DealHand {
  const hand = useContext(Context);
  if (!hand) throw new Error('no deal at hand');
  return hand;
}
