/** A sum asked backwards: which price nets the seller so much? */
import { useMutation } from '@tanstack/react-query';
import { useId, useState, type FormEvent } from 'react';
import { client, got, type Reckoned, type Solved } from '../../api/client';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { sayProblem } from '../../primitives/notices';
import { useDeal } from '../deals/use-deal';
import { asColumn, type Case } from './use-reckoned';

type Ask = Reckoned['asks'][number];

interface Props {
  reckoned: Reckoned;
  cases: Case[];
  onType: (at: string, key: string, text: string) => void;
}

export function AskBackwards({ reckoned, cases, onType }: Props) {
  const { id, deal, edit } = useDeal();
  const [which, setWhich] = useState(0);
  const { typed: wanted, set: setWanted } = useKept(`ask-${id}-${reckoned.sheet}`, '');
  const amount = useId();
  const asked = reckoned.asks[which] ?? reckoned.asks[0];
  const { mutate, data, isPending, reset } = useMutation({
    mutationFn: (ask: Ask) => {
      const column = asColumn({ offer: deal.head.offer, otherwise: {} });
      const body = { column, vary: ask.vary, of: ask.of, wanted };
      return got(client.POST('/api/deals/{deal}/estimates/solve', { params: { path: { deal: id } }, body }));
    },
    onError: sayProblem,
  });
  if (!asked) return null;
  const ask = (e: FormEvent) => {
    e.preventDefault();
    mutate(asked);
  };
  const trial = cases.find((c) => c.offer === null);
  return (
    <section aria-label="Work backward" className="mt-5">
      <form onSubmit={ask} className="flex flex-wrap items-center gap-2 print:hidden">
        <select
          className="field"
          aria-label="Question"
          value={which}
          onChange={(e) => {
            setWhich(Number(e.target.value));
            reset();
          }}
        >
          {reckoned.asks.map((one, n) => (
            <option key={`${one.vary} ${one.of}`} value={n}>
              {one.says}
            </option>
          ))}
        </select>
        <label htmlFor={amount} className="sr-only">
          Amount
        </label>
        <input
          id={amount}
          className="field values w-[130px] text-right"
          placeholder="400,000"
          value={wanted}
          onChange={(e) => {
            setWanted(e.target.value);
            reset();
          }}
        />
        <Button type="submit" disabled={!wanted.trim() || isPending}>
          Ask
        </Button>
      </form>
      <div role="status">
        {data && (
          <Answer
            found={data}
            onUse={() => edit({ op: 'type', key: asked.vary, text: data.text })}
            onTry={trial && (() => onType(trial.id, asked.vary, data.text))}
          />
        )}
      </div>
    </section>
  );
}

function Answer({ found, onUse, onTry }: { found: Solved; onUse: () => void; onTry?: () => void }) {
  if (!found.text) {
    return (
      <p className="mt-2 text-sm text-ochre">
        {found.message} {found.mend}
      </p>
    );
  }
  return (
    <p className="mt-2 flex flex-wrap items-center gap-x-2 gap-y-1 text-sm">
      <span className="font-serif text-[1.25rem]">{found.shown}</span>
      <span className="text-ink-2">
        {found.exact ? `makes it ${found.reached}, to the cent.` : `comes nearest: ${found.reached}.`}
      </span>
      {onTry && (
        <Button look="words" onClick={onTry}>
          Try it beside
        </Button>
      )}
      <Button look="words" onClick={onUse}>
        Use it in the deal
      </Button>
    </p>
  );
}
