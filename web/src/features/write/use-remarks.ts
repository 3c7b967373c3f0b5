/** What the proofread remarks on, by blank: a moment behind what is typed, so that no keystroke waits for it. */
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Finding, Remark } from '../../api/client';
import { proofQuery } from '../../api/queries';
import { useSettled } from '../../primitives/use-settled';
import { useWorkspace } from '../workspace/workspace';

export type Remarks = ReadonlyMap<string, Remark[]>;

const BEHIND_MS = 1200;
/** An open blank has its ring already. */
const SAID_BY_ITS_RING = 'open';

/** Everything that is remarked on and not kept as is. */
function useAll(): Remark[] | undefined {
  const { held, id, isDeal } = useWorkspace();
  const seq = useSettled(held.head.seq, BEHIND_MS);
  const { data } = useQuery({ ...proofQuery(id, held.head.offer, seq), enabled: isDeal, retry: false });
  return useMemo(() => data?.remarks.filter((r) => !r.left), [data]);
}

/** The forms that the facts call for and that are missing, each with why, and how it is added. */
export const useCalledFor = () => useAll()?.filter((r) => r.does?.add) ?? [];

export function useRemarks(): Remarks {
  const all = useAll();
  return useMemo(() => {
    const found = new Map<string, Remark[]>();
    for (const remark of all ?? []) {
      if (!remark.field || remark.rule === SAID_BY_ITS_RING) continue;
      const at = `${remark.document}/${remark.field}`;
      found.set(at, [...(found.get(at) ?? []), remark]);
    }
    return found;
  }, [all]);
}

const WEIGHTS: Record<Remark['weight'], Finding['weight']> = { must: 'wrong', should: 'look', look: 'note' };

/** A remark as what is remarked on a value is shown. */
export const asFinding = ({ rule, weight, key, message, mend }: Remark): Finding => ({
  rule,
  weight: WEIGHTS[weight],
  place: key,
  message,
  mend,
});
