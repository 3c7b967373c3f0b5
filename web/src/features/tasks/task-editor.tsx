/** What is said of a task: what, whose, by when, what settles it, when to remind. Nothing typed here is lost by leaving. */
import { useId } from 'react';
import type { Task, TaskOp } from '../../api/client';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { useWorkspace } from '../workspace/workspace';
import { useChangeTask } from './use-change-task';

type Said = Pick<TaskOp, 'what' | 'who' | 'when' | 'settled_by' | 'note'> & { remind: string };

export interface Choices {
  key_dates: { key: string; label: string }[];
  papers: { name: string; title: string }[];
  who: string[];
}

interface Props extends Choices {
  /** The task; without one a new one is made. */
  task?: Task;
  onSaved: () => void;
  onClose: () => void;
}

const NEW: Said = { what: '', who: '', when: '', settled_by: '', note: '', remind: '' };
/** What a form says of a task that it asks for itself. */
const OF_ITS_FORM: (keyof Said)[] = ['what', 'when', 'settled_by'];
const saidOf = (d: Task): Said => ({
  what: d.what,
  who: d.who as Said['who'],
  when: d.when,
  settled_by: d.settled_by,
  note: d.note,
  remind: d.remind === null ? '' : String(d.remind),
});

export function TaskEditor({ task, onSaved, onClose, key_dates: dates, papers, who }: Props) {
  const { id } = useWorkspace();
  const kept = useKept<Said>(`task ${id} ${task?.code ?? ''}`, task ? saidOf(task) : NEW);
  const { typed: said } = kept;
  const change = useChangeTask({
    onSuccess: () => {
      kept.settle(task ? said : NEW);
      onSaved();
    },
  });
  const put = (part: Partial<Said>) => kept.set({ ...said, ...part });
  const isForms = task !== undefined && !task.own;
  const save = () => {
    const values = { ...said, remind: said.remind === '' ? null : Number(said.remind) };
    // Of a task that is there only what was typed: another may have said something else of it meanwhile.
    const isSent = (name: keyof Said) => !(isForms && OF_ITS_FORM.includes(name)) && !(task && said[name] === kept.over[name]);
    const sent = Object.entries(values).filter(([name]) => isSent(name as keyof Said));
    change.mutate({ op: task ? 'set' : 'add', code: task?.code ?? '', ...Object.fromEntries(sent) });
  };
  return (
    <form
      aria-label={task ? `Change ${task.what}` : 'Add a task'}
      className="grid grid-cols-12 gap-x-3 gap-y-2 bg-sheet px-4 py-3"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
      onKeyDown={(e) => e.key === 'Escape' && onClose()}
    >
      {!isForms && (
        <Text
          label="Task name"
          className="col-span-12"
          value={said.what ?? ''}
          set={(what) => put({ what })}
          autoFocus
          most={200}
        />
      )}
      {!isForms && <When value={said.when ?? ''} set={(when) => put({ when })} dates={dates} />}
      <Choice
        label="Who"
        className="col-span-4 max-[620px]:col-span-12"
        value={said.who ?? ''}
        set={(w) => put({ who: w as Said['who'] })}
      >
        {who.map((w) => [w, w])}
      </Choice>
      {!isForms && (
        <Choice
          label="Completed when this arrives"
          className="col-span-6 max-[620px]:col-span-12"
          value={said.settled_by ?? ''}
          set={(settled_by) => put({ settled_by })}
        >
          {papers.map((p) => [p.name, p.title])}
        </Choice>
      )}
      <Choice
        label="Remind by e-mail"
        className="col-span-6 max-[620px]:col-span-12"
        value={said.remind}
        set={(remind) => put({ remind })}
      >
        {[0, 1, 2, 3, 5, 7, 14].map((n) => [String(n), n === 0 ? 'on the day' : n === 1 ? 'the day before' : `${n} days before`])}
      </Choice>
      <Text label="Note" className="col-span-12" value={said.note ?? ''} set={(note) => put({ note })} most={300} />
      <Foot isNew={!task} change={change} isKept={kept.restored} onClose={onClose} />
    </form>
  );
}

interface FootProps {
  isNew: boolean;
  change: ReturnType<typeof useChangeTask>;
  isKept: boolean;
  onClose: () => void;
}

/** Saving, and why it couldn't be. */
function Foot({ isNew, change, isKept, onClose }: FootProps) {
  const problem = change.error as (Error & { mend?: string }) | null;
  return (
    <>
      {problem && (
        <p role="alert" className="col-span-12 text-sm text-wax">
          {problem.message} {problem.mend} Your text is still here.
        </p>
      )}
      <div className="col-span-12 flex flex-wrap items-center gap-3">
        <Button look="act" type="submit" disabled={change.isPending}>
          {isNew ? 'Add' : 'Save'}
        </Button>
        <Button look="words" onClick={onClose}>
          Close
        </Button>
        {isKept && <span className="text-xs text-ink-2">Not saved yet</span>}
      </div>
    </>
  );
}

interface TextProps {
  label: string;
  className: string;
  value: string;
  set: (text: string) => void;
  autoFocus?: boolean;
  most: number;
  list?: string;
  placeholder?: string;
}

function Text({ label, className, value, set, most, ...rest }: TextProps) {
  return (
    <label className={`block text-xs text-ink-2 ${className}`}>
      {label}
      <input
        {...rest}
        className="field block w-full text-base text-ink"
        maxLength={most}
        value={value}
        onChange={(e) => set(e.target.value)}
      />
    </label>
  );
}

/** A day, or a period as people say it; what one can count from is offered. */
function When({ value, set, dates }: { value: string; set: (text: string) => void; dates: Choices['key_dates'] }) {
  const id = useId();
  return (
    <div className="col-span-8 max-[620px]:col-span-12">
      <Text
        label="By when"
        className=""
        value={value}
        set={set}
        most={300}
        list={id}
        placeholder="Jun 3, or 3 business days after acceptance"
      />
      <datalist id={id}>
        {dates
          .slice(0, 4)
          .flatMap(({ key, label }) => [
            <option key={`${key} 3`} value={`3 business days after ${label.toLowerCase()}`} />,
            <option key={`${key} -5`} value={`5 days before ${label.toLowerCase()}`} />,
          ])}
        {dates.map(({ key, label }) => (
          <option key={key} value={label.toLowerCase()} />
        ))}
      </datalist>
    </div>
  );
}

interface ChoiceProps {
  label: string;
  className: string;
  value: string;
  set: (value: string) => void;
  children: (readonly [value: string, label: string])[];
}

/** One of some, or none; what is chosen already stays on the list. */
function Choice({ label, className, value, set, children }: ChoiceProps) {
  const options = children.some(([v]) => v === value) || !value ? children : [[value, value] as const, ...children];
  return (
    <label className={`block text-xs text-ink-2 ${className}`}>
      {label}
      <select className="field block w-full text-base text-ink" value={value} onChange={(e) => set(e.target.value)}>
        <option value=""> </option>
        {options.map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}
