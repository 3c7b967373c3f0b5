/** The template tried on one of one's own deals: how it would come out, and as paper. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { WrittenTemplate } from '../../api/client';
import { sampleQuery } from '../../api/queries';
import { useWorkspace } from '../workspace/workspace';

export function Sample({ template }: { template: WrittenTemplate }) {
  const { held } = useWorkspace();
  const [deal, setDeal] = useState<string>();
  const { data, error } = useQuery(sampleQuery(template.id, deal, held.head.seq));
  if (!data && !error) return null;
  return (
    <section aria-label="Tried on a deal" className="border border-hair bg-paper px-5 py-4 text-sm">
      <h2 className="mb-2 font-semibold">Tried on a deal</h2>
      {error && !data ? (
        <p className="text-ink-2">{error.message}</p>
      ) : (
        data && (
          <>
            <select
              aria-label="Deal that it is tried on"
              className="field mb-2 block w-full"
              value={data.deal}
              onChange={(e) => setDeal(e.target.value)}
            >
              {data.deals.map((d) => (
                <option key={d.id} value={d.id}>
                  {d.name}
                </option>
              ))}
            </select>
            <p className="mb-2">
              {data.filled} filled, {data.open} unanswered.{' '}
              {template.documents > 0 && (
                <a
                  className="text-green-2 underline"
                  href={`/api/templates/${template.id}/sample.pdf?deal=${data.deal}`}
                  target="_blank"
                  rel="noreferrer"
                >
                  See it as paper
                </a>
              )}
            </p>
            {data.formulas.length > 0 && (
              <dl className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-3">
                {data.formulas.map((f) => (
                  <div key={f.key} className="contents">
                    <dt className="truncate text-ink-2">{f.label}</dt>
                    <dd className={f.fault ? 'text-wax' : ''}>
                      {f.fault || f.shown || `waits for ${f.waits_for.join(', ').toLowerCase()}`}
                    </dd>
                  </div>
                ))}
              </dl>
            )}
          </>
        )
      )}
    </section>
  );
}
