/** Duties by day, as a month, by how far they are, and by who does them. */
import { useState, type ReactNode } from 'react';
import { byDay, byPerson, byProgress, nameOf, type Due, type Group } from './dues';
import { Month } from './month';

const VIEWS = ['By day', 'Month', 'By progress', 'By person'] as const;
type View = (typeof VIEWS)[number];
const GROUPED = { 'By day': byDay, 'By progress': byProgress, 'By person': byPerson };

interface Props<D> {
  dues: readonly D[];
  row: (due: D) => ReactNode;
  /** Go to one that stands in the month. */
  open: (due: D) => void;
  /** What stands beside the choice of a view. */
  tools?: ReactNode;
}

export function DueViews<D extends Due>({ dues, row, open, tools }: Props<D>) {
  const [view, setView] = useState<View>('By day');
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-2">
        <div role="radiogroup" aria-label="View" className="flex flex-wrap border border-blotter-3 bg-sheet text-sm">
          {VIEWS.map((v) => (
            <button
              key={v}
              type="button"
              role="radio"
              aria-checked={v === view}
              onClick={() => setView(v)}
              className={`min-h-8 px-3 ${v === view ? 'bg-green-wash font-semibold' : 'text-ink-2 hover:bg-paper'}`}
            >
              {v}
            </button>
          ))}
        </div>
        <div className="ml-auto flex flex-wrap items-center gap-3">{tools}</div>
      </div>
      {view === 'Month' ? (
        <Month
          dues={dues}
          open={(due) => {
            setView('By day');
            open(due);
          }}
        />
      ) : (
        GROUPED[view](dues).map((group) => <Rows key={group.title} group={group as Group<D>} row={row} />)
      )}
    </>
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
