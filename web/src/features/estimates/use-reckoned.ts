/** A deal's money, reckoned by the server: for the deal as it is, and for up to two other cases beside it. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { client, got, type Reckoned } from '../../api/client';
import { useKept } from '../../api/use-kept';
import { useSettled } from '../../primitives/use-settled';
import { useDeal } from '../deals/use-deal';

/** A case beside the deal: another of its offers, or what is otherwise. */
export interface Case {
  id: string;
  /** The offer that it reckons; null: the one at hand. */
  offer: number | null;
  /** What is otherwise, as it is typed, by key. */
  otherwise: Record<string, string>;
}

export type Cell = Reckoned['columns'][number]['cells'][number];

/** As many cases as stand beside the deal on one page. */
export const MOST_CASES = 2;

/** The cases beside the deal, kept in this browser: nothing of them is the deal's. */
export function useCases() {
  const { id } = useDeal();
  const { typed: cases, set } = useKept<Case[]>(`cases-${id}`, []);
  return {
    cases,
    add: (offer: number | null) => set([...cases, { id: crypto.randomUUID(), offer, otherwise: {} }].slice(0, MOST_CASES)),
    drop: (gone: string) => set(cases.filter((c) => c.id !== gone)),
    type: (at: string, key: string, text: string) => set(cases.map((c) => (c.id === at ? withOtherwise(c, key, text) : c))),
  };
}

/** A case with one fact otherwise; without a text as in the deal. */
function withOtherwise(one: Case, key: string, text: string): Case {
  const others = Object.entries(one.otherwise).filter(([name]) => name !== key);
  return { ...one, otherwise: Object.fromEntries(text.trim() ? [...others, [key, text]] : others) };
}

/** A case as the server is asked for it. */
export const asColumn = ({ offer, otherwise }: Pick<Case, 'offer' | 'otherwise'>) => ({
  offer,
  otherwise: Object.entries(otherwise).map(([key, text]) => ({ key, text })),
});

const TYPING_MS = 350;

/** `now` are the cases as they are typed; they are reckoned as soon as they hold for a moment. */
export function useReckoned(sheet: string, now: Case[]) {
  const cases = useSettled(now, TYPING_MS);
  const { id, deal } = useDeal();
  const { offer, seq } = deal.head;
  const known = new Set(deal.head.offers.map((o) => o.id));
  const beside = cases.filter((c) => c.offer === null || known.has(c.offer));
  const columns = [{ offer, otherwise: [] }, ...beside.map((c) => asColumn({ ...c, offer: c.offer ?? offer }))];
  const { data, error } = useQuery({
    queryKey: ['estimates', id, seq, sheet, columns],
    queryFn: () => got(client.POST('/api/deals/{deal}/estimates', { params: { path: { deal: id } }, body: { sheet, columns } })),
    placeholderData: keepPreviousData,
  });
  const cells = useMemo(() => data?.columns.map((c) => new Map(c.cells.map((cell) => [cell.key, cell]))) ?? [], [data]);
  return { reckoned: data, cells, beside, error };
}
