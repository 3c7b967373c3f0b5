/** The tasks of what is at hand: of a deal with their days, of a template as they will be. */
import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { ownKey } from '../../api/keys';
import type { Task, TaskOp } from '../../api/client';
import { tasksQuery } from '../../api/queries';
import { FileLink } from '../../primitives/file-link';
import { Button } from '../../primitives/button';
import { MenuItem, MoreMenu } from '../../primitives/menu';
import { sayProblem } from '../../primitives/notices';
import { shortDate, some } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { useWorkspace } from '../workspace/workspace';
import { DueRow } from './due-row';
import { DueViews } from './due-views';
import { TaskEditor, type Choices } from './task-editor';
import { useChangeTask } from './use-change-task';

/** `wanted` is the code of a task that an address names. */
export function TasksScreen({ wanted }: { wanted?: string }) {
  const { id, held, isDeal } = useWorkspace();
  const { deal } = useDeal();
  const { data } = useQuery(tasksQuery(id, isDeal ? deal.head.offer : undefined, held.head.seq));
  const [adding, setAdding] = useState(false);
  const [open, setOpen] = useState(wanted ?? '');
  useEffect(() => {
    if (wanted) setOpen(wanted);
  }, [wanted]);
  if (!data) return <p className="p-6 text-ink-2">Loading tasks …</p>;
  const { tasks, ...choices } = data;
  return (
    <div className="h-full overflow-auto px-6 pb-12 pt-5 max-[620px]:px-3">
      <div className="mx-auto max-w-[900px]">
        {!isDeal && (
          <p className="mb-3 text-sm text-ink-2">
            Every deal that starts with this template gets these tasks. A deadline gets its date as soon as its starting date is
            known.
          </p>
        )}
        {adding && <Adding choices={choices} onClose={() => setAdding(false)} />}
        {tasks.length === 0 && !adding && <Nothing isDeal={isDeal} onAdd={() => setAdding(true)} />}
        {tasks.length > 0 && (
          <DueViews
            dues={tasks}
            only={isDeal ? undefined : byOrigin}
            open={(task) => setOpen(task.code)}
            row={(task) => (
              <OneTask task={task} choices={choices} open={open === task.code} setOpen={(is) => setOpen(is ? task.code : '')} />
            )}
            tools={
              <>
                {isDeal && (
                  <FileLink className="text-sm text-green-2 hover:underline" href={`/api/deals/${id}/tasks.ics`}>
                    Calendar file
                  </FileLink>
                )}
                {!adding && (
                  <Button look="act" onClick={() => setAdding(true)}>
                    Add a task
                  </Button>
                )}
              </>
            }
          />
        )}
      </div>
    </div>
  );
}

/** In a template, where nothing has a day yet: what it brings, and what its forms ask for by themselves. */
const byOrigin = (tasks: readonly Task[]) =>
  [
    { title: 'Of this template', rows: tasks.filter((d) => d.own) },
    { title: 'From its forms', rows: tasks.filter((d) => !d.own) },
  ].filter((g) => g.rows.length > 0);

function Nothing({ isDeal, onAdd }: { isDeal: boolean; onAdd: () => void }) {
  return (
    <div className="border border-hair bg-sheet px-8 py-12 text-center">
      <p className="mx-auto mb-4 max-w-[460px] text-ink-2">
        {isDeal
          ? 'Tasks and deadlines of this deal. Deadlines in the forms appear as soon as the package has them.'
          : 'Tasks for every deal of this kind: order inspections, receipt deposits, hand over keys.'}
      </p>
      <Button look="act" onClick={onAdd}>
        Add a task
      </Button>
    </div>
  );
}

/** A new one; the form stays for the next. */
function Adding({ choices, onClose }: { choices: Choices; onClose: () => void }) {
  const [count, setCount] = useState(0);
  return (
    <div className="mb-5 border border-hair">
      <TaskEditor key={count} {...choices} onSaved={() => setCount((n) => n + 1)} onClose={onClose} />
    </div>
  );
}

interface OneProps {
  task: Task;
  choices: Choices;
  open: boolean;
  setOpen: (open: boolean) => void;
}

function OneTask({ task, choices, open, setOpen }: OneProps) {
  const { isDeal, at } = useWorkspace();
  const settle = useChangeTask({ onError: sayProblem });
  const act = (op: TaskOp['op']) => settle.mutate({ op, code: task.code });
  const mayChange = task.own || isDeal;
  return (
    <>
      <DueRow
        due={task}
        busy={settle.isPending}
        settle={isDeal ? (isDone) => act(isDone ? 'done' : 'not done') : undefined}
        title={
          mayChange ? (
            <button type="button" className="text-left hover:text-green-2 hover:underline" onClick={() => setOpen(!open)}>
              {task.what}
            </button>
          ) : (
            task.what
          )
        }
        waits={isDeal}
        told={<Told task={task} />}
        tools={
          mayChange && (
            <MoreMenu label={`More about ${task.what}`} width={220}>
              <MenuItem run={() => setOpen(true)}>Change</MenuItem>
              {isDeal && task.progress !== 'not needed' && <MenuItem run={() => act('not needed')}>Leave out</MenuItem>}
              {isDeal && task.progress === 'not needed' && <MenuItem run={() => act('needed')}>Put back</MenuItem>}
              {task.by_hand && task.ruled && <MenuItem run={() => act('give back')}>Use the calculated day</MenuItem>}
              {task.own && <MenuItem run={() => act('remove')}>Remove from the list</MenuItem>}
            </MoreMenu>
          )
        }
      />
      {open && mayChange && (
        <>
          <TaskEditor task={task} {...choices} onSaved={() => setOpen(false)} onClose={() => setOpen(false)} />
          {task.key && !ownKey(task.key) && (
            <p className="bg-sheet px-4 pb-3 text-xs text-ink-2">
              This date is a fact of the deal.{' '}
              <Link {...at('facts', { search: { fact: task.key } })} className="text-green-2 underline">
                Change it there
              </Link>
            </p>
          )}
        </>
      )}
    </>
  );
}

/** Whose it is, why it is due then, and where it comes from. */
function Told({ task }: { task: Task }) {
  const { isDeal } = useWorkspace();
  const waits = isDeal && task.waits_for.length ? `Waits for ${task.waits_for.join(', ').toLowerCase()}.` : '';
  const done = task.done ? `Done ${shortDate(task.done)}${task.done_by ? ` by ${task.done_by}` : ''}.` : '';
  const ruled = task.by_hand && task.ruled ? `Counted, it would be ${shortDate(task.ruled)}.` : '';
  const said = [done, task.why, ruled, waits, reminds(task.remind)].filter(Boolean).join(' ');
  return (
    <>
      {task.fault && <span className="block text-wax">{task.fault}</span>}
      {[task.named || task.who, said, task.origin].filter(Boolean).join(' · ')}
      {task.note && <span className="block text-ink">{task.note}</span>}
    </>
  );
}

function reminds(days: number | null): string {
  if (days === null) return '';
  return days === 0 ? 'Reminds on the day.' : `Reminds ${some(days, 'day')} before.`;
}
