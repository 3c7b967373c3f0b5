/** A month of days, each with what is due on it. */
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { daysOf, monthFrom, MONTH, WEEK } from '../../primitives/months';
import { MonthButton } from '../../primitives/month-button';
import { today, weekday } from '../../primitives/format';
import { nameOf, type Due } from './dues';

/** As many as a cell shows before it says how many more there are. */
const SHOWN = 3;

interface Props<D> {
  dues: readonly D[];
  open: (due: D) => void;
}

export function Month<D extends Due>({ dues, open }: Props<D>) {
  const [first, setFirst] = useState(`${today().slice(0, 7)}-01`);
  const on = new Map<string, D[]>();
  for (const due of dues) if (due.day) on.set(due.day, [...(on.get(due.day) ?? []), due]);
  const days = daysOf(first);
  const isThis = (day: string) => day.slice(0, 7) === first.slice(0, 7);
  const busy = days.filter((day) => isThis(day) && on.has(day));
  return (
    <section aria-label="Month">
      <div className="mb-2 flex items-center gap-1">
        <MonthButton label="Previous month" to={() => setFirst(monthFrom(first, -1))}>
          <ChevronLeft size={18} />
        </MonthButton>
        <h2 aria-live="polite" className="w-[170px] text-center font-serif text-[1rem] font-semibold">
          {MONTH.format(new Date(`${first}T00:00:00Z`))}
        </h2>
        <MonthButton label="Next month" to={() => setFirst(monthFrom(first, 1))}>
          <ChevronRight size={18} />
        </MonthButton>
      </div>
      <div className="grid grid-cols-7 border-l border-t border-hair bg-paper max-[759px]:hidden">
        {WEEK.map((d) => (
          <p key={d} className="border-b border-r border-hair bg-sheet px-2 py-1 text-xs font-medium text-ink-2">
            {d}
          </p>
        ))}
        {days.map((day) => (
          <div key={day} className={`min-h-[86px] border-b border-r border-hair p-1 ${isThis(day) ? '' : 'bg-sheet'}`}>
            <p
              className={`mb-0.5 inline-block px-1 text-xs ${day === today() ? 'bg-green font-semibold text-on-green' : isThis(day) ? 'text-ink-2' : 'text-ink-3'}`}
            >
              {Number(day.slice(8))}
            </p>
            <Cell dues={on.get(day) ?? []} open={open} />
          </div>
        ))}
      </div>
      <ul className="min-[760px]:hidden">
        {busy.map((day) => (
          <li key={day} className="mb-2 border border-hair bg-paper px-3 py-2">
            <p className="text-xs font-semibold text-ink-2">{weekday(day)}</p>
            <Cell dues={on.get(day) ?? []} open={open} all />
          </li>
        ))}
      </ul>
      {busy.length === 0 && <p className="py-3 text-sm text-ink-2">Nothing due this month.</p>}
    </section>
  );
}

function Cell<D extends Due>({ dues, open, all = false }: { dues: D[]; open: (due: D) => void; all?: boolean }) {
  const [whole, setWhole] = useState(all);
  const shown = whole ? dues : dues.slice(0, SHOWN);
  return (
    <ul className="space-y-0.5 text-xs">
      {shown.map((due) => (
        <li key={nameOf(due)}>
          <button
            type="button"
            title={[due.what, due.address || due.deal_name].filter(Boolean).join(' · ')}
            onClick={() => open(due)}
            className={`moves block min-h-6 w-full truncate px-1 text-left hover:bg-green-wash ${due.urgency === 'late' ? 'text-wax' : ''} ${due.progress === 'done' || due.progress === 'not needed' ? 'text-ink-3 line-through' : ''}`}
          >
            {due.what}
          </button>
        </li>
      ))}
      {dues.length > shown.length && (
        <li>
          <button type="button" className="min-h-6 px-1 text-green-2 hover:underline" onClick={() => setWhole(true)}>
            {dues.length - shown.length} more
          </button>
        </li>
      )}
    </ul>
  );
}
