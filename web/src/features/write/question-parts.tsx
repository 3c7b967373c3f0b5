/** The parts of the work with how much each still asks, and which forms are run through. */
import { useEffect, useMemo, useRef } from 'react';
import { Button } from '../../primitives/button';
import { Mark } from '../../primitives/mark';
import { Menu, MenuCheck } from '../../primitives/menu';
import { THREE_COLUMNS, useWide } from '../../primitives/use-wide';
import { useWorkspace } from '../workspace/workspace';
import { CalledFor } from './called-for';
import type { Part, Question } from './questions';

interface Props {
  parts: Part[];
  open: Question[];
  at: Question | undefined;
  /** The documents that are run through; none: all. */
  wanted: ReadonlySet<string>;
  onWanted: (wanted: ReadonlySet<string>) => void;
  go: (question: Question) => void;
}

export function QuestionParts({ parts, open, at, wanted, onWanted, go }: Props) {
  const upright = useWide(THREE_COLUMNS);
  const rail = useRef<HTMLElement>(null);
  useEffect(() => {
    rail.current?.querySelector('[aria-current="step"]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [at?.section]);
  const isOpen = useMemo(() => new Set(open.map((q) => q.key)), [open]);
  return (
    <nav
      ref={rail}
      aria-label="Parts of the work"
      className={upright ? 'h-full overflow-y-auto py-3' : 'flex items-center gap-1 overflow-x-auto px-3 py-1.5'}
    >
      <ul className={upright ? '' : 'order-2 flex gap-1'}>
        {parts.map((part) => {
          const left = part.questions.filter((q) => isOpen.has(q.key));
          const here = at !== undefined && part.questions.some((q) => q.key === at.key);
          return (
            <li key={part.section} className={upright ? '' : 'shrink-0'}>
              <button
                type="button"
                aria-current={here ? 'step' : undefined}
                onClick={() => {
                  const first = left[0] ?? part.questions[0];
                  if (first) go(first);
                }}
                className={`flex w-full items-baseline gap-2 px-4 py-1.5 text-left text-sm hover:bg-green-wash ${upright ? 'border-l-[3px]' : 'min-h-9 rounded-sm border-b-2 px-2'} ${here ? 'border-green font-medium' : 'border-transparent'} ${left.length || here ? '' : 'text-ink-2'}`}
              >
                <span className={`min-w-0 flex-1 ${upright ? '' : 'whitespace-nowrap'}`}>{part.title}</span>
                <span className={`shrink-0 text-xs tabular-nums ${left.length ? '' : 'text-ink-2'}`}>
                  {left.length ? (
                    <span className="inline-flex items-center gap-1">
                      <Mark name="open" quiet size={10} />
                      {left.length}
                      <span className="sr-only"> to ask</span>
                    </span>
                  ) : (
                    <span className="sr-only">nothing to ask</span>
                  )}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      <div className={upright ? 'px-3 pt-3' : 'order-1 shrink-0'}>
        <WhichForms wanted={wanted} onWanted={onWanted} />
        {upright && <CalledFor />}
      </div>
    </nav>
  );
}

function WhichForms({ wanted, onWanted }: Pick<Props, 'wanted' | 'onWanted'>) {
  const { documents } = useWorkspace().held;
  const forms = documents.filter((d) => d.edition && !d.set_aside);
  const said = wanted.size === 0 ? 'All forms' : `Over ${wanted.size} of ${forms.length} forms`;
  const turn = (id: string) => {
    const next = new Set(wanted);
    if (!next.delete(id)) next.add(id);
    onWanted(next);
  };
  if (forms.length < 2) return null;
  return (
    <Menu align="start" width={340} trigger={<Button className="px-2! text-xs!">{said}</Button>}>
      <MenuCheck checked={wanted.size === 0} turn={() => onWanted(new Set())}>
        All forms
      </MenuCheck>
      {forms.map((d) => (
        <MenuCheck
          key={d.id}
          checked={wanted.has(d.id)}
          turn={() => turn(d.id)}
          note={d.open ? `${d.open} unanswered` : undefined}
        >
          {d.number} {d.title}
        </MenuCheck>
      ))}
    </Menu>
  );
}
