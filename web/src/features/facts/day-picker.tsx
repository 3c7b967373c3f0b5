/** A day chosen from a month that shows on which days no business is done. */
import { useQuery } from '@tanstack/react-query';
import { CalendarDays, ChevronLeft, ChevronRight } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react';
import { useAfloat } from '../../primitives/use-afloat';
import { daysOf, MONTH, monthFrom, WEEK } from '../../primitives/months';
import { MonthButton } from '../../primitives/month-button';
import { daysAfter, today } from '../../primitives/format';
import { useWorkspace } from '../workspace/workspace';

const LONG = new Intl.DateTimeFormat('en-US', { dateStyle: 'full', timeZone: 'UTC' });
const MOVES: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 };

/** "March 9, 2027" as a day; today where it is none. */
function dayOf(text: string): string {
  const at = Date.parse(`${text} UTC`);
  return Number.isNaN(at) ? today() : new Date(at).toISOString().slice(0, 10);
}

export function DayPicker({ shown, label, onPick }: { shown: string; label: string; onPick: (day: string) => void }) {
  const { root, container } = useAfloat();
  return (
    <Popover.Root {...root}>
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={`Pick a day, ${label}`}
          title="Pick a day from the calendar"
          className="moves grid h-8 w-8 shrink-0 place-items-center rounded-md border border-blotter-3 bg-sheet text-green-2 hover:bg-paper"
        >
          <CalendarDays size={16} />
        </button>
      </Popover.Trigger>
      <Popover.Portal container={container}>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label="Pick a day"
          className="z-50 rounded-md border border-blotter-3 bg-paper p-3 shadow-lg"
        >
          <Days
            chosen={dayOf(shown)}
            onPick={(day) => {
              root.onOpenChange(false);
              onPick(day);
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** The holidays of a year, and of the one before and after it where a month's weeks reach there. */
function useHolidays(days: string[]): ReadonlyMap<string, string> {
  const { calls, outbox } = useWorkspace();
  const year = Number(days[10]?.slice(0, 4));
  const { data } = useQuery({
    queryKey: ['holidays', outbox.name, year],
    queryFn: () => calls.holidays(year),
    staleTime: Infinity,
    retry: false,
  });
  return new Map(data?.map((h) => [h.day, h.name]));
}

function Days({ chosen, onPick }: { chosen: string; onPick: (day: string) => void }) {
  const [at, setAt] = useState(chosen);
  const grid = useRef<HTMLDivElement>(null);
  const first = `${at.slice(0, 7)}-01`;
  const days = daysOf(first);
  const holidays = useHolidays(days);
  useLayoutEffect(() => grid.current?.querySelector<HTMLElement>(`[data-day="${at}"]`)?.focus(), [at]);
  const onKeyDown = (e: KeyboardEvent) => {
    const by = MOVES[e.key];
    if (by === undefined && e.key !== 'PageUp' && e.key !== 'PageDown') return;
    e.preventDefault();
    if (by !== undefined) setAt(daysAfter(at, by));
    else setAt(monthFrom(first, e.key === 'PageUp' ? -1 : 1));
  };
  const named = days.filter((day) => day.startsWith(at.slice(0, 7)) && holidays.has(day));
  return (
    <div ref={grid} role="group" aria-label="Days" onKeyDown={onKeyDown} className="w-[252px]">
      <div className="mb-2 flex items-center">
        <MonthButton label="Previous month" to={() => setAt(monthFrom(first, -1))}>
          <ChevronLeft size={18} />
        </MonthButton>
        <span aria-live="polite" className="flex-1 text-center font-serif font-semibold">
          {MONTH.format(new Date(`${first}T00:00:00Z`))}
        </span>
        <MonthButton label="Next month" to={() => setAt(monthFrom(first, 1))}>
          <ChevronRight size={18} />
        </MonthButton>
      </div>
      <div className="grid grid-cols-7 text-center text-sm">
        {WEEK.map((d) => (
          <span key={d} className="pb-1 text-xs text-ink-2">
            {d.slice(0, 2)}
          </span>
        ))}
        {days.map((day, n) => {
          const closed = n % 7 === 0 || n % 7 === 6 || holidays.has(day);
          const here = day.slice(0, 7) === at.slice(0, 7);
          const name = [LONG.format(new Date(`${day}T00:00:00Z`)), holidays.get(day)].filter(Boolean).join(', ');
          return (
            <button
              key={day}
              type="button"
              data-day={day}
              tabIndex={day === at ? 0 : -1}
              aria-label={name}
              aria-current={day === chosen ? 'date' : undefined}
              title={holidays.get(day)}
              onClick={() => onPick(day)}
              className={`moves h-9 rounded-sm tabular-nums hover:bg-green-wash ${closed ? 'bg-blotter text-ink-2' : ''} ${here ? '' : 'text-ink-3'} ${holidays.has(day) ? 'underline decoration-ochre decoration-2 underline-offset-2' : ''} ${day === chosen ? 'font-semibold outline-2 outline-green -outline-offset-2' : ''}`}
            >
              {Number(day.slice(8))}
            </button>
          );
        })}
      </div>
      {named.length > 0 && (
        <ul className="mt-2 text-xs text-ink-2">
          {named.map((day) => (
            <li key={day}>
              {Number(day.slice(8))}: {holidays.get(day)}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
