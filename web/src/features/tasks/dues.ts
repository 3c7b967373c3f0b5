/** Tasks in groups: by day, by how far they are, by who does them. */
import type { DueRow, Task } from '../../api/client';
import { capital } from '../../primitives/format';

/** What views know of a task, be it of the deal at hand or of one among many. */
export type Due = Pick<Task, 'code' | 'what' | 'who' | 'named' | 'day' | 'why' | 'note' | 'progress' | 'urgency'> &
  Partial<Pick<DueRow, 'deal' | 'deal_name' | 'address' | 'agent'>>;

export interface Group<D> {
  title: string;
  /** Whether somebody should look at it at once. */
  pressing?: boolean;
  rows: D[];
}

/** Names a task on a screen that has several deals'. */
export const nameOf = (due: Due) => `${due.deal ?? ''}/${due.code}`;

/** Titles of the groups by day, in their order; which one a task is in, the core says. */
const URGENCIES: Record<Due['urgency'], string> = {
  late: 'Late',
  today: 'Today',
  'within seven days': 'Within seven days',
  later: 'Later',
  'no day set': 'No day set',
  'waiting for a date': 'Waiting for a date',
  settled: 'Settled',
};

export function byDay<D extends Due>(dues: readonly D[]): Group<D>[] {
  const urgencies = Object.keys(URGENCIES) as Due['urgency'][];
  return some(
    urgencies.map((urgency) => ({
      title: URGENCIES[urgency],
      pressing: urgency === 'late',
      rows: dues.filter((d) => d.urgency === urgency),
    })),
  );
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
