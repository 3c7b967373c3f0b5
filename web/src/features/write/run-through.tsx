/** The run-through: what is open, each question once, in the order of the work, with its place on the paper beside it. */
import { useNavigate, useSearch } from '@tanstack/react-router';
import { ChevronUp } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { Blank } from '../../api/client';
import { Button } from '../../primitives/button';
import { Columns } from '../../primitives/columns';
import { Mark } from '../../primitives/mark';
import { THREE_COLUMNS, useWide } from '../../primitives/use-wide';
import { pageIdOf } from '../assembly/pages';
import { useWorkspace, useOutbox } from '../workspace/workspace';
import { idOf, keepPlace, wayOf } from '../workspace/way';
import { CalledFor } from './called-for';
import { PlaceOnPaper } from './place-on-paper';
import { QuestionCard } from './question-card';
import { QuestionParts } from './question-parts';
import { openQuestions, questionBeside, questionsOf, type Question } from './questions';

const NONE: ReadonlySet<string> = new Set();

export function RunThrough({ switcher }: { switcher: ReactNode }) {
  const { held } = useWorkspace();
  const [wanted, setWanted] = useState(NONE);
  const parts = useMemo(() => questionsOf(held, wanted), [held, wanted]);
  const answered = useAnswered();
  const open = useMemo(() => openQuestions(held, parts, answered), [held, parts, answered]);
  const all = useMemo(() => parts.flatMap((part) => part.questions), [parts]);
  const { question, go, step } = useQuestion(all, open);
  const [place, setPlace] = useState<Blank | null>(null);
  const shown = question?.blanks.find((b) => place && idOf(b) === idOf(place)) ?? question?.blanks[0];
  return (
    <Columns
      widths={[200, 560]}
      way={<QuestionParts parts={parts} open={open} at={question} wanted={wanted} onWanted={setWanted} go={go} />}
      edged
      edge={
        <>
          {switcher}
          <Count open={open.length} step={step} />
        </>
      }
      inHand={null}
      lens={shown && <PlaceOnPaper blank={shown} onBlank={(b) => goToBlank(b, all, go)} />}
    >
      <div className="h-full overflow-auto">
        {question ? (
          <QuestionCard
            key={question.key}
            question={question}
            isOpen={open.some((q) => q.key === question.key)}
            place={shown ?? question.blanks[0]}
            onPlace={setPlace}
            onNext={() => step(false)}
          />
        ) : (
          <AllAnswered some={wanted.size > 0} onAll={() => setWanted(NONE)} />
        )}
      </div>
    </Columns>
  );
}

/** The keys that were answered here and that the server has not confirmed yet. */
function useAnswered(): ReadonlySet<string> {
  const { echo } = useOutbox();
  return useMemo(() => new Set([...echo].filter(([, text]) => text.trim() !== '').map(([key]) => key)), [echo]);
}

function goToBlank(blank: Blank, all: Question[], go: (q: Question) => void) {
  const found = all.find((q) => q.blanks.some((b) => idOf(b) === idOf(blank)));
  if (found) go(found);
}

/** The question at hand: that of the blank that was in hand last, else the first open one; and the ways on and back. */
function useQuestion(all: Question[], open: Question[]) {
  const { outbox } = useWorkspace();
  const search = useSearch({ strict: false });
  const [at, setAt] = useState('');
  const go = useCallback(
    (q: Question) => {
      outbox.flush(); // what is typed is on its way before the question is left
      const place = q.blanks.find((b) => b.state === 'open') ?? q.blanks[0];
      keepPlace(outbox.name, { blank: idOf(place), page: pageIdOf(place) });
      setAt(q.key);
    },
    [outbox],
  );
  const asked = useMemo(() => {
    const wanted = search.document && search.field ? `${search.document}/${search.field}` : wayOf(outbox.name).blank;
    return all.find((q) => q.blanks.some((b) => idOf(b) === wanted));
  }, [all, search.document, search.field, outbox.name]);
  const [first] = open;
  const came = asked && (search.document || open.some((q) => q.key === asked.key)) ? asked : first;
  const question = all.find((q) => q.key === at) ?? came;
  const step = useCallback(
    (back: boolean) => {
      const next = questionBeside(all, open, question?.key ?? '', back);
      if (next) go(next);
      else setAt('');
    },
    [all, open, question, go],
  );
  useAnsweredMeanwhile(question?.key ?? '', open, step);
  useEffect(() => {
    const way = wayOf(outbox.name);
    way.step = step;
    return () => {
      way.step = null;
    };
  }, [step, outbox.name]);
  return { question, go, step };
}

/** What the answer to a question may settle beside it is known so soon after it was saved. */
const SETTLES_MS = 1000;

/** A question that was answered by the answer before it, as the server says a moment later, is passed over after all. */
function useAnsweredMeanwhile(key: string, open: Question[], step: (back: boolean) => void) {
  const { state } = useOutbox();
  const isOpen = open.some((q) => q.key === key);
  const arrived = useRef({ key: '', waits: false });
  useEffect(() => {
    if (arrived.current.key !== key) arrived.current = { key, waits: state === 'saving' && isOpen };
    if (!arrived.current.waits || state !== 'saved') return;
    if (!isOpen) {
      arrived.current.waits = false;
      if (open.length > 0) step(false);
      return;
    }
    const late = setTimeout(() => {
      arrived.current.waits = false;
    }, SETTLES_MS);
    return () => clearTimeout(late);
  }, [key, isOpen, open, state, step]);
}

function Count({ open, step }: { open: number; step: (back: boolean) => void }) {
  if (open === 0) return <span className="py-1">No questions left.</span>;
  return (
    <>
      <Mark name="open" quiet size={13} />
      <span className="whitespace-nowrap" aria-live="polite">
        {open} to ask
      </span>
      <Button
        className="ml-auto px-2! max-[420px]:hidden"
        onClick={() => step(true)}
        aria-label="Previous question"
        title="Ctrl + Shift + Enter"
      >
        <ChevronUp size={16} />
      </Button>
      <Button onClick={() => step(false)} title="Ctrl + Enter. It is asked again at the end.">
        Skip
      </Button>
    </>
  );
}

function AllAnswered({ some, onAll }: { some: boolean; onAll: () => void }) {
  const { at, isDeal, id } = useWorkspace();
  const navigate = useNavigate();
  const upright = useWide(THREE_COLUMNS);
  return (
    <div className="grid h-full grid-cols-1 place-items-center px-6">
      <div className="max-w-[420px] text-center">
        <h2 className="mb-2 font-serif text-[1.375rem] leading-snug">
          {some ? 'These forms have no unanswered blanks.' : 'Every question is answered.'}
        </h2>
        <p className="mb-5 text-ink-2">Calculated values and questions for the client are not asked here.</p>
        {some ? (
          <Button look="act" autoFocus onClick={onAll}>
            Ask about all forms
          </Button>
        ) : isDeal ? (
          <Button look="act" autoFocus onClick={() => void navigate({ to: '/deals/$deal/proof', params: { deal: id } })}>
            Proofread
          </Button>
        ) : (
          <Button look="act" autoFocus onClick={() => void navigate(at('package'))}>
            To the package
          </Button>
        )}
        {!upright && <CalledFor />}
      </div>
    </div>
  );
}
