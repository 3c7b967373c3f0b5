/** The package read once more: what must, should and might be fixed, each with its place and its remedy. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { ownKey } from '../../api/keys';
import { client, got, type Remark } from '../../api/client';
import { proofQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { sayProblem } from '../../primitives/notices';
import { moment, some } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { usePack } from '../workspace/use-pack';

const WEIGHTS = [
  ['must', 'Must be fixed', 'text-wax'],
  ['should', 'Should be fixed', 'text-ochre'],
  ['look', 'Worth a look', 'text-ink-2'],
] as const;

export function ProofScreen() {
  const { deal, id } = useDeal();
  const { data } = useQuery(proofQuery(id, deal.head.offer, deal.head.seq));
  if (!data) return <p className="p-6 text-ink-2">Proofreading …</p>;
  const left = data.remarks.filter((r) => r.left);
  return (
    <div className="h-full overflow-auto px-6 pb-12 pt-5 max-[620px]:px-3">
      <div className="mx-auto max-w-[900px]">
        <Verdict ready={data.ready} remarks={data.remarks} />
        {WEIGHTS.map(([weight, title, ink]) => {
          const rows = data.remarks.filter((r) => r.weight === weight && !r.left);
          return <Group key={weight} title={title} ink={ink} rows={rows} />;
        })}
        <Group title="Kept as is" ink="text-ink-2" rows={left} />
      </div>
    </div>
  );
}

function Verdict({ ready, remarks }: { ready: boolean; remarks: Remark[] }) {
  const count = (weight: Remark['weight']) => remarks.filter((r) => r.weight === weight && !r.left).length;
  const said = WEIGHTS.map(([weight]) => [count(weight), weight] as const).filter(([n]) => n > 0);
  const rest = said.map(([n, weight]) => `${n} ${weight}`).join(', ');
  return (
    <p role="status" className={`mb-4 border px-4 py-3 ${ready ? 'border-green bg-green-wash' : 'border-hair bg-sheet'}`}>
      <span className="font-serif text-[1rem] font-semibold">{ready ? 'Ready' : 'Not ready yet'}</span>
      <span className="ml-3 text-sm text-ink-2">
        {ready
          ? rest
            ? `Nothing left to fix. To review: ${rest}.`
            : 'No findings.'
          : `${some(count('must'), 'thing')} to be fixed, or kept with a reason, before the package goes out.`}
      </span>
    </p>
  );
}

interface GroupProps {
  title: string;
  ink: string;
  rows: Remark[];
}

function Group({ title, ink, rows }: GroupProps) {
  if (rows.length === 0) return null;
  return (
    <section aria-label={title} className="mb-5">
      <h2 className={`mb-1 flex items-baseline gap-2 text-sm font-semibold ${ink}`}>
        {title} <span className="font-normal">{rows.length}</span>
      </h2>
      <ul className="border border-hair bg-paper">
        {rows.map((remark) => (
          <li key={remark.mark} className="border-b border-hair last:border-0">
            <OneRemark remark={remark} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function OneRemark({ remark: r }: { remark: Remark }) {
  const [leaving, setLeaving] = useState(false);
  const leave = useLeave();
  return (
    <div className="px-3 py-2">
      <div className="flex flex-wrap items-start gap-x-3 gap-y-1">
        <p className="min-w-[240px] flex-1 leading-snug">
          {r.message}
          <span className="block text-xs text-ink-2">
            {[r.place, r.mend].filter(Boolean).join(' · ')}
            {r.left && ` · kept by ${r.left.by}, ${moment(r.left.at)}: ${r.left.reason}`}
          </span>
        </p>
        <span className="flex flex-wrap items-center gap-x-3">
          {r.does && !r.left && <DoMend remark={r} />}
          <Place remark={r} />
          {r.left ? (
            <Button look="words" onClick={() => leave.mutate({ mark: r.mark, reason: '' })}>
              Ask again
            </Button>
          ) : (
            <Button look="words" aria-expanded={leaving} onClick={() => setLeaving(!leaving)}>
              Keep as is
            </Button>
          )}
        </span>
      </div>
      {leaving && !r.left && <WhyLeft remark={r} onClose={() => setLeaving(false)} />}
    </div>
  );
}

/** Where it stands: on paper, else among the facts. */
function Place({ remark: r }: { remark: Remark }) {
  const { at } = useDeal();
  const isFact = r.key && !ownKey(r.key);
  const to = r.document
    ? at('write', { search: { document: r.document, ...(r.field && { field: r.field }) } })
    : isFact
      ? at('facts', { search: { fact: r.key } })
      : at('package');
  return (
    <Link {...to} aria-label={`Go to: ${r.message}`} className="text-sm font-medium text-green-2 hover:underline">
      Go to
    </Link>
  );
}

/** The remedy as one change, which undo takes back. */
function DoMend({ remark: r }: { remark: Remark }) {
  const { edit } = useDeal();
  const pack = usePack();
  const mend = r.does;
  if (!mend) return null;
  const run = () => {
    if (mend.add) pack.mutate({ op: 'add', numbers: [mend.add] });
    else if (mend.aside) pack.mutate({ op: 'aside', document: mend.aside });
    else if (mend.clause) edit({ op: 'insert', key: mend.key, text: mend.text, clause: mend.clause });
    else edit({ op: 'type', key: mend.key, text: mend.text });
  };
  return (
    <Button className="py-0.5!" disabled={pack.isPending} onClick={run}>
      {mend.says}
    </Button>
  );
}

function useLeave(onSuccess?: () => void) {
  const { deal, id, params } = useDeal();
  const queries = useQueryClient();
  return useAction({
    mutationFn: (body: { mark: string; reason: string }) => got(client.POST('/api/deals/{deal}/proof', { params, body })),
    onSuccess: (proof) => {
      stands(queries, proofQuery(id, deal.head.offer, deal.head.seq).queryKey, proof);
      onSuccess?.();
    },
    onError: sayProblem,
  });
}

/** Why it is kept as is: kept with whoever says so. */
function WhyLeft({ remark: r, onClose }: { remark: Remark; onClose: () => void }) {
  const kept = useKept(`leave ${r.mark}`, '');
  const leave = useLeave(() => {
    kept.settle('');
    onClose();
  });
  return (
    <form
      className="mt-2 flex flex-wrap gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        leave.mutate({ mark: r.mark, reason: kept.typed.trim() });
      }}
      onKeyDown={(e) => e.key === 'Escape' && onClose()}
    >
      <input
        className="field min-w-[220px] flex-1"
        aria-label="Reason for keeping it as is"
        placeholder="Reason for keeping it as is"
        maxLength={300}
        autoFocus
        value={kept.typed}
        onChange={(e) => kept.set(e.target.value)}
      />
      <Button type="submit" disabled={!kept.typed.trim() || leave.isPending}>
        Keep as is
      </Button>
    </form>
  );
}
