/** Beside the pages of a paper: what it is called, what is still to be confirmed, and the blank in hand. */
import { useChoices } from '../../api/choices';
import type { CatalogFact, PaperInWork, Placed } from '../../api/client';
import { Labelled } from './paper-words';
import { PlacedGroups } from './placed-groups';
import { PlacedInHand } from './placed-in-hand';
import type { usePlacing } from './use-placing';

export interface Props {
  paper: PaperInWork;
  said: PaperInWork['paper'];
  setSaid: (what: Partial<PaperInWork['paper']>) => void;
  placed: Placed[];
  faults: PaperInWork['faults'];
  catalog: CatalogFact[];
  placing: ReturnType<typeof usePlacing>;
}

export function PaperLens(props: Props) {
  const { paper, said, setSaid } = props;
  const { chosen } = props.placing;
  const sides = useChoices().sides.map((s) => s.side);
  return (
    <section
      aria-label="Lens"
      className="flex min-h-0 flex-col overflow-auto border-blotter-3 bg-sheet text-sm max-[899px]:border-t min-[900px]:border-l"
    >
      <div className="space-y-2 border-b border-hair px-4 py-3">
        <div className="grid grid-cols-[84px_1fr] gap-2">
          <Labelled label="Number">
            <input
              className="field w-full"
              value={said.number}
              onChange={(e) => setSaid({ number: e.target.value })}
              placeholder="951"
            />
          </Labelled>
          <Labelled label="Title">
            <input className="field w-full" value={said.title} onChange={(e) => setSaid({ title: e.target.value })} />
          </Labelled>
        </div>
        <Labelled label="Purpose">
          <input className="field w-full" value={said.purpose ?? ''} onChange={(e) => setSaid({ purpose: e.target.value })} />
        </Labelled>
        <fieldset className="flex flex-wrap gap-x-3 gap-y-1">
          <legend className="sr-only">Used when</legend>
          {sides.map((side) => (
            <label key={side} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={said.sides?.includes(side) ?? true}
                onChange={(e) =>
                  setSaid({
                    sides: sides.filter((s) => (s === side ? e.target.checked : (said.sides ?? sides).includes(s))),
                  })
                }
              />
              {side}
            </label>
          ))}
        </fieldset>
        {paper.removed.length > 0 && <p className="text-xs text-ochre">Left out for safety: {paper.removed.join(', ')}.</p>}
        {paper.told && (
          <p className="text-xs text-ink-2">
            Compared with the previous edition: {paper.told.new.length} new, {paper.told.gone.length} gone,{' '}
            {paper.told.moved.length} moved.
          </p>
        )}
      </div>
      {chosen ? <PlacedInHand key={chosen.id} {...props} p={chosen} /> : <PlacedGroups {...props} />}
    </section>
  );
}
