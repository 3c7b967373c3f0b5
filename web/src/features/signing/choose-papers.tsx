/** The papers of a round, in the order in which they are read and signed. */
import { ArrowDown, ArrowUp } from 'lucide-react';
import type { WholeRound } from '../../api/client';
import { placesIn } from './places';
import { PutPlaces } from './put-places';
import type { ChangeRound } from './use-rounds';

type Choice = NonNullable<WholeRound['choice']>;

interface Props {
  choice: Choice;
  save: (body: ChangeRound) => void;
}

export function ChoosePapers({ choice, save }: Props) {
  const chosen = choice.papers.filter((p) => p.chosen).map((p) => p.document);
  const toggle = (id: string, on: boolean) => {
    const rows = choice.papers.filter((p) => (p.document === id ? on : p.chosen));
    save({ papers: rows.map((p) => p.document) });
  };
  const move = (n: number, by: number) => {
    const order = [...chosen];
    [order[n], order[n + by]] = [order[n + by]!, order[n]!];
    save({ papers: order });
  };
  return (
    <section aria-label="Papers of this round">
      <h2 className="mb-1.5 text-sm font-semibold text-ink-2">
        Papers <span className="font-normal">{chosen.length}</span>
      </h2>
      <ul className="border border-hair bg-paper">
        {choice.papers.map((paper) => {
          const n = chosen.indexOf(paper.document);
          const name = `${paper.number} ${paper.title}`.trim();
          const counted = paper.signatures + paper.initials + paper.dates;
          return (
            <li
              key={paper.document}
              className="flex flex-wrap items-center gap-x-3 border-b border-hair px-3 py-1.5 text-sm last:border-0"
            >
              <label className="flex min-h-8 min-w-0 flex-1 basis-[240px] items-center gap-2.5">
                <input type="checkbox" checked={paper.chosen} onChange={(e) => toggle(paper.document, e.target.checked)} />
                <span className="min-w-0">
                  <span className={`wrap-anywhere ${paper.chosen ? 'font-medium' : 'text-ink-2'}`}>{name}</span>
                  <span className="block text-xs text-ink-2">{counted ? placesIn(paper) : 'no places to sign'}</span>
                </span>
              </label>
              <PutPlaces document={paper.document} name={name} none={counted === 0} />
              {paper.chosen && chosen.length > 1 && (
                <span className="flex">
                  <Step label={`Move ${name} up`} off={n === 0} run={() => move(n, -1)} up />
                  <Step label={`Move ${name} down`} off={n === chosen.length - 1} run={() => move(n, 1)} />
                </span>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function Step({ label, off, run, up = false }: { label: string; off: boolean; run: () => void; up?: boolean }) {
  const Arrow = up ? ArrowUp : ArrowDown;
  return (
    <button
      type="button"
      aria-label={label}
      disabled={off}
      onClick={run}
      className="moves grid h-8 w-8 place-items-center rounded-md text-ink-2 hover:bg-blotter disabled:opacity-30"
    >
      <Arrow size={15} />
    </button>
  );
}
