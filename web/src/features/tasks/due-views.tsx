/** Tasks by day, as a month, by how far they are, and by who does them. */
import { ToggleGroup } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { byDay, byPerson, byProgress, nameOf, type Due, type Group } from './dues';
import { Month } from './month';

const VIEWS = ['By day', 'Month', 'By progress', 'By person'] as const;
type View = (typeof VIEWS)[number];
const GROUPED = { 'By day': byDay, 'By progress': byProgress, 'By person': byPerson };

interface Props<D> {
  dues: readonly D[];
  row: (due: D) => ReactNode;
  /** The one way to group them, where there is no choice of views. */
  only?: (dues: readonly D[]) => Group<D>[];
  /** Go to one that stands in the month. */
  open: (due: D) => void;
  /** What stands beside the choice of a view. */
  tools?: ReactNode;
}

export function DueViews<D extends Due>({ dues, row, open, only, tools }: Props<D>) {
  const [view, setView] = useState<View>('By day');
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-2">
        {!only && <Choice view={view} setView={setView} />}
        <div className="ml-auto flex flex-wrap items-center gap-3">{tools}</div>
      </div>
      {!only && view === 'Month' ? (
        <Month
          dues={dues}
          open={(due) => {
            setView('By day');
            open(due);
          }}
        />
      ) : (
        (only ?? GROUPED[view as keyof typeof GROUPED])(dues).map((group) => (
          <Rows key={group.title} group={group as Group<D>} row={row} />
        ))
      )}
    </>
  );
}

function Choice({ view, setView }: { view: View; setView: (view: View) => void }) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label="View"
      value={view}
      onValueChange={(v) => v && setView(v as View)}
      className="flex flex-wrap border border-blotter-3 bg-sheet text-sm"
    >
      {VIEWS.map((v) => (
        <ToggleGroup.Item
          key={v}
          value={v}
          className="min-h-8 px-3 text-ink-2 hover:bg-paper data-[state=on]:bg-green-wash data-[state=on]:font-semibold data-[state=on]:text-ink"
        >
          {v}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

function Rows<D extends Due>({ group, row }: { group: Group<D>; row: Props<D>['row'] }) {
  return (
    <section className="mb-5">
      <h2 className={`mb-1 flex items-baseline gap-2 text-sm font-semibold ${group.pressing ? 'text-wax' : 'text-ink-2'}`}>
        {group.title} <span className="font-normal">{group.rows.length}</span>
      </h2>
      <ul className="border border-hair bg-paper">
        {group.rows.map((due) => (
          <li key={nameOf(due)} className="border-b border-hair last:border-0">
            {row(due)}
          </li>
        ))}
      </ul>
    </section>
  );
}
