/** Tasks in groups: by day, by how far they are, by who does them. */
import type { DueRow, Task } from '../../api/client';
import { capital, daysAfter, today } from '../../primitives/format';

/** What views know of a task, be it of the deal at hand or of one among many. */
export type Due = Pick<Task, 'code' | 'what' | 'who' | 'named' | 'day' | 'why' | 'note' | 'progress' | 'late'> &
  Partial<Pick<DueRow, 'deal' | 'deal_name' | 'address' | 'agent'>>;

export interface Group<D> {
  title: string;
  /** Whether somebody should look at it at once. */
  pressing?: boolean;
  rows: D[];
}

/** Names a task on a screen that has several deals'. */
export const nameOf = (due: Due) => `${due.deal ?? ''}/${due.code}`;

const isOpen = (d: Due) => d.progress === 'to do' || d.progress === 'waiting';

export function byDay<D extends Due>(dues: readonly D[]): Group<D>[] {
  const now = today();
  const week = daysAfter(now, 7);
  const on = (fits: (day: string) => boolean) => dues.filter((d) => isOpen(d) && d.day !== null && fits(d.day));
  return some([
    { title: 'Late', pressing: true, rows: on((day) => day < now) },
    { title: 'Today', rows: on((day) => day === now) },
    { title: 'Within seven days', rows: on((day) => day > now && day <= week) },
    { title: 'Later', rows: on((day) => day > week) },
    { title: 'No day set', rows: dues.filter((d) => d.progress === 'to do' && d.day === null) },
    { title: 'Waiting for a date', rows: dues.filter((d) => d.progress === 'waiting') },
    { title: 'Settled', rows: dues.filter((d) => !isOpen(d)) },
  ]);
}

export function byProgress<D extends Due>(dues: readonly D[]): Group<D>[] {
  const as = (progress: Due['progress']) => dues.filter((d) => d.progress === progress);
  return some([
    { title: 'To do', rows: as('to do') },
    { title: 'Waiting for a date', rows: as('waiting') },
    { title: 'Done', rows: as('done') },
    { title: 'Not needed', rows: as('not needed') },
  ]);
}

export function byPerson<D extends Due>(dues: readonly D[]): Group<D>[] {
  const people = new Map<string, D[]>();
  for (const d of dues) {
    const who = d.named ? `${d.named}, ${d.who}` : d.who || 'Nobody named';
    people.set(who, [...(people.get(who) ?? []), d]);
  }
  const titled = [...people].map(([title, rows]) => ({ title: capital(title), rows }));
  return titled.sort((a, b) => a.title.localeCompare(b.title));
}

const some = <D>(groups: Group<D>[]) => groups.filter((g) => g.rows.length > 0);
