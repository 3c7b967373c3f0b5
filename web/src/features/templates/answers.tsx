/** How much a template answers, what it leaves open by form, and what one answers in most deals. */
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import type { WrittenTemplate } from '../../api/client';
import { Button } from '../../primitives/button';
import { some } from '../../primitives/format';
import { useWorkspace } from '../workspace/workspace';
import { CoverageBar, CoverageLegend, sumOf } from './coverage';

/** How much it answers, and what it leaves open by form. */
export function Answers({ template }: { template: WrittenTemplate }) {
  const { at, edit } = useWorkspace();
  const [all, setAll] = useState(false);
  const asked = template.left.filter((l) => all || l.by === 'asked');
  const numbers = [...new Set(asked.map((l) => l.number))];
  return (
    <section aria-label="Standing answers" className="border border-hair bg-paper px-5 py-4">
      <h2 className="mb-2 text-sm font-semibold">Of {some(sumOf(template.coverage), 'blank')}</h2>
      <CoverageBar counts={template.coverage} width="100%" />
      <div className="mb-4 mt-2">
        <CoverageLegend counts={template.coverage} />
      </div>
      {template.documents === 0 && (
        <p className="text-sm text-ink-2">
          No forms yet.{' '}
          <Link {...at('package')} className="text-green-2 underline">
            Gather them
          </Link>
        </p>
      )}
      {template.left.length > 0 && (
        <Button look="words" className="-ml-1.25 mb-1" aria-pressed={all} onClick={() => setAll(!all)}>
          {all ? 'Only questions left to ask' : 'All unanswered'}
        </Button>
      )}
      {numbers.map((number) => (
        <section key={number} className="mb-2 text-sm">
          <h3 className="text-xs font-semibold text-ink-2">Form {number}</h3>
          <ul>
            {asked
              .filter((l) => l.number === number)
              .map((l) => (
                <li key={l.document + l.field} className="flex flex-wrap justify-between gap-x-3">
                  <Link
                    {...at('write', { search: { document: l.document, field: l.field } })}
                    className="min-w-0 truncate hover:text-green-2 hover:underline"
                  >
                    {l.label}
                  </Link>
                  {all && <span className="shrink-0 text-xs text-ink-2">{l.by}</span>}
                  {l.habit && (
                    <span className="flex w-full items-center justify-between gap-2 pb-1 text-xs text-ink-2">
                      <span className="min-w-0">
                        in {l.habit.times} of {l.habit.of} deals <span className="font-medium text-ink">{l.habit.shown}</span>
                      </span>
                      <Button
                        className="shrink-0 px-2! py-0.5!"
                        aria-label={`Always ${l.habit.shown} for ${l.label}`}
                        onClick={() => edit({ op: 'type', key: l.key, text: l.habit?.text ?? '' })}
                      >
                        Always
                      </Button>
                    </span>
                  )}
                </li>
              ))}
          </ul>
        </section>
      ))}
    </section>
  );
}
