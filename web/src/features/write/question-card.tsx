/** One question: in words, why it is asked, what answers it, and what else can be done with it. */
import { useLayoutEffect, useRef, type KeyboardEvent } from 'react';
import type { Blank, Edit } from '../../api/client';
import { Button } from '../../primitives/button';
import { useScreenKeys } from '../../primitives/screen-keys';
import { capital, some } from '../../primitives/format';
import { DayPicker } from '../facts/day-picker';
import { FactInput } from '../facts/fact-input';
import { onThisForm } from '../facts/lens';
import { Parties } from '../facts/parties';
import { useRecorded } from '../facts/use-recorded';
import { ClashNote } from '../workspace/clash-note';
import { Findings } from '../workspace/findings';
import { useEcho, useWorkspace } from '../workspace/workspace';
import { idOf } from '../workspace/way';
import type { Field } from './clause-names';
import { ClausesHere, takesWording } from './clauses-here';
import { Earlier, toEarlier } from './earlier';
import { asked, formsOf, type Question } from './questions';

interface Props {
  question: Question;
  /** Whether it still wants an answer. */
  isOpen: boolean;
  /** Which of its places is shown beside it. */
  place: Blank;
  onPlace: (blank: Blank) => void;
  onNext: () => void;
}

export function QuestionCard(props: Props) {
  const { question, place, onPlace } = props;
  const { held } = useWorkspace();
  const [first] = question.blanks;
  const document = held.documents.find((d) => d.id === place.document);
  const help = first.help || (held.catalog.byKey.get(first.fact)?.help ?? '');
  return (
    <div className="mx-auto max-w-[560px] px-6 pb-10 pt-8 max-[560px]:px-4 max-[560px]:pt-4">
      <p className="mb-1 text-xs text-ink-2">{question.title}</p>
      <h2 className="mb-1.5 font-serif text-[1.5rem] leading-snug">{asked(held.catalog, question)}</h2>
      {help && <p className="mb-1.5 text-sm text-ink-2">{help}</p>}
      {place.beside && (
        <p className="mb-4 text-sm text-ink-2">
          <span className="font-semibold">{document?.number}</span> <q className="font-serif">{place.beside}</q>
        </p>
      )}
      {question.group ? <NamedHere {...props} /> : <Answer {...props} />}
      <Fills question={question} place={place} onPlace={onPlace} />
    </div>
  );
}

const CHOICE = ['choice', 'yes_no'];
const MOST_KEYS = 9;

function Answer({ question, isOpen, onNext }: Props) {
  const { facts, edit } = useWorkspace();
  const [first] = question.blanks;
  const fact = facts.get(question.key) ?? onThisForm(first.marked ? first : (question.blanks.find((b) => b.marked) ?? first));
  const choices = first.kind === 'yes_no' ? ['yes', 'no'] : first.options;
  const isChoice = choices.length > 0 && (CHOICE.includes(fact.kind) || first.shape === 'box');
  const box = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => box.current?.querySelector<HTMLElement>('input, textarea, button')?.focus(), []);
  const say = (...edits: Edit[]) => {
    edit(...edits);
    onNext();
  };
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.altKey && e.code === 'KeyC') leave();
    else if (e.altKey && e.code === 'KeyN') empty();
    else if (e.key === 'Enter' && !e.ctrlKey && !e.metaKey && e.target instanceof HTMLInputElement) onNext();
    else if (e.key === 'ArrowDown' && e.target instanceof HTMLInputElement) {
      toEarlier(box.current);
    } else return;
    e.preventDefault();
  };
  const leave = () => say({ op: 'leave', key: question.key });
  const empty = () => say({ op: 'empty', key: question.key });
  return (
    <div ref={box} onKeyDown={onKeyDown}>
      {isChoice ? (
        <Choices
          choices={choices}
          explained={first.explained}
          question={question}
          onChoose={(text) => say(typed(question, text))}
        />
      ) : (
        <>
          <div className="flex gap-2">
            <div className="min-w-0 flex-1">
              <FactInput key={question.key} fact={{ ...fact, example: '' }} label={fact.label} />
            </div>
            {fact.kind === 'date' && (
              <DayPicker shown={fact.shown} label={fact.label} onPick={(day) => say(typed(question, day))} />
            )}
          </div>
          {fact.example && <p className="mt-1 text-xs text-ink-2">For example {fact.example}</p>}
        </>
      )}
      <Findings of={question.blanks.flatMap((b) => b.findings)} />
      {!isChoice && takesWording(fact.kind) && (
        <div className="mt-3">
          <ClausesHere
            of={question.key}
            short={fact.kind !== 'long_text'}
            fieldOf={() => box.current?.querySelector<Field>('input, textarea') ?? null}
          />
        </div>
      )}
      {!isChoice && <Earlier of={question.key} onTake={(text) => say(typed(question, text))} />}
      <Otherwise isOpen={isOpen} left={fact.left} onLeave={leave} onEmpty={empty} onNext={onNext} />
    </div>
  );
}

const typed = (question: Question, text: string): Edit => ({ op: 'type', key: question.key, text });

interface ChoicesProps {
  choices: string[];
  explained: Blank['explained'];
  question: Question;
  onChoose: (text: string) => void;
}

/** Yes and no, or what else there is to choose: each by one key. */
function Choices({ choices, explained, question, onChoose }: ChoicesProps) {
  const { facts } = useWorkspace();
  const echo = useEcho(question.key);
  const marked = question.blanks.find((b) => b.marked);
  const isYesNo = choices.join() === 'yes,no';
  const stated = facts.get(question.key)?.edit ?? marked?.value ?? '';
  const now = (echo ?? stated).toLowerCase();
  const keyOf = (n: number) => (isYesNo ? (choices[n]?.[0] ?? '') : n < MOST_KEYS ? String(n + 1) : '');
  useScreenKeys((e) => {
    const typing = e.target instanceof Element && e.target.closest('input, textarea, select, [role="menu"], [role$="dialog"]');
    if (typing || e.repeat || e.ctrlKey || e.metaKey || e.altKey) return;
    const at = choices.findIndex((_, n) => keyOf(n) === e.key.toLowerCase());
    const chosen = choices[at];
    if (chosen === undefined) return;
    e.preventDefault();
    onChoose(chosen);
  });
  const { clashes } = question.blanks[0];
  return (
    <>
      <div role="group" aria-label="Answers" className="flex flex-col gap-1.5">
        {choices.map((choice, n) => (
          <button
            key={choice}
            type="button"
            aria-pressed={now === choice.toLowerCase()}
            aria-keyshortcuts={keyOf(n) || undefined}
            onClick={() => onChoose(choice)}
            className="answer moves"
          >
            <kbd aria-hidden="true">{keyOf(n)}</kbd>
            <span>
              {capital(choice)}
              {explained[choice] && <span className="block text-xs text-ink-2">{explained[choice]}</span>}
            </span>
          </button>
        ))}
      </div>
      <ClashNote clashes={clashes} of={question.key} shown={stated} />
    </>
  );
}

interface OtherwiseProps {
  isOpen: boolean;
  left: boolean;
  onLeave: () => void;
  onEmpty: () => void;
  onNext: () => void;
}

function Otherwise({ isOpen, left, onLeave, onEmpty, onNext }: OtherwiseProps) {
  const { isDeal } = useWorkspace();
  return (
    <div className="mt-4 flex flex-wrap items-center gap-2">
      <Button look="act" onClick={onNext} title="Enter">
        Next
      </Button>
      {isDeal && !left && (
        <Button onClick={onLeave} title="Alt + C: they answer it when they sign">
          Leave to the client
        </Button>
      )}
      <Button onClick={onEmpty} title="Alt + N: the paper says so">
        Leave blank on purpose
      </Button>
      {left && <span className="text-sm text-ink-2">Left to the client.</span>}
      {!isOpen && !left && <span className="text-sm text-ink-2">Answered.</span>}
    </div>
  );
}

/** The parties, named here; those that the roll records by one key. */
function NamedHere({ question, onNext }: Props) {
  const { isDeal, held } = useWorkspace();
  const { group } = question;
  const { named, confirm } = useRecorded(group);
  const takes = isDeal && named.length > 0 && (held.parties[group] ?? []).length === 0;
  const box = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => box.current?.querySelector<HTMLElement>('[data-takes], input, button')?.focus(), []);
  return (
    <div ref={box}>
      {takes && (
        <Button
          look="act"
          data-takes
          className="mb-3"
          onClick={() => {
            confirm();
            onNext();
          }}
        >
          Name {named.map((n) => n.name).join(' and ')}
        </Button>
      )}
      {isDeal ? (
        <Parties group={group} onHand={() => undefined} />
      ) : (
        <p className="text-ink-2">A template names nobody: each deal has its own.</p>
      )}
      <div className="mt-4">
        <Button look={takes ? 'plain' : 'act'} onClick={onNext}>
          Next
        </Button>
      </div>
    </div>
  );
}

/** How many blanks it fills, and where. */
function Fills({ question, place, onPlace }: Pick<Props, 'question' | 'place' | 'onPlace'>) {
  const { held } = useWorkspace();
  const { blanks } = question;
  const seen = new Set<string>();
  const pages = blanks.filter((b) => {
    const page = `${b.document}/${b.page}`;
    return !seen.has(page) && seen.add(page);
  });
  const number = (b: Blank) => held.documents.find((d) => d.id === b.document)?.number || 'paper';
  return (
    <div className="mt-6 border-t border-hair pt-3 text-sm text-ink-2">
      <p className="mb-1.5">
        Fills {some(blanks.length, 'blank')} in {some(formsOf(question), 'form')}
      </p>
      <div className="flex flex-wrap gap-1">
        {pages.map((b) => (
          <button
            key={idOf(b)}
            type="button"
            aria-pressed={b.document === place.document && b.page === place.page}
            onClick={() => onPlace(b)}
            className="moves min-h-6 rounded-sm border border-transparent px-1.5 text-xs tabular-nums hover:bg-green-wash aria-pressed:border-green aria-pressed:text-ink"
          >
            {number(b)} p. {b.page}
          </button>
        ))}
      </div>
    </div>
  );
}
