/** What the papers ask of the signer alone: one question after the other, with the paper beside it where there is room. */
import { useEffect, useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react';
import { Button } from '../primitives/button';
import { onPage } from '../primitives/on-page';
import { PagePicture } from '../primitives/page-picture';
import { some } from '../primitives/format';
import type { Question, Round, SignersPaper } from './asking';
import { Answer } from './pages';
import type { UsedRound } from './use-round';

interface Props {
  used: UsedRound;
  round: Round;
  close: () => void;
}

interface Asked {
  paper: SignersPaper;
  question: Question;
}

/** The questions that apply, in the order of the papers. */
export const askedIn = (round: Round): Asked[] =>
  round.papers.flatMap((paper) => paper.questions.filter((q) => q.applies).map((question) => ({ paper, question })));

export const openIn = (round: Round): number => askedIn(round).filter((a) => a.question.open).length;

const nameOf = ({ paper, question }: Asked) => `${paper.id} ${question.key}`;

export function Questions({ used, round, close }: Props) {
  const asked = askedIn(round);
  const [at, setAt] = useState(() => nameOf(asked.find((a) => a.question.open) ?? asked[0]!));
  const n = Math.max(
    0,
    asked.findIndex((a) => nameOf(a) === at),
  );
  const here = asked[n]!;
  const left = openIn(round);
  const go = (to: number) => setAt(nameOf(asked[Math.min(Math.max(to, 0), asked.length - 1)]!));
  const nextOpen = (of: Asked[], from: string) => {
    const stands = of.findIndex((a) => nameOf(a) === from);
    return [...of.slice(stands + 1), ...of.slice(0, stands)].find((a) => a.question.open) ?? of[stands + 1];
  };
  /** Keep the answer; answered, the next one is asked. */
  const answer = async (text: string) => {
    let seen: Round | null = null;
    const done = await used.run(async (ask) => (seen = await ask.answer(here.paper.id, here.question.key, text)));
    if (!done || !seen) return false;
    const now = askedIn(seen);
    const own = now.find((a) => nameOf(a) === at);
    if (own?.question.wrong) return false;
    const next = nextOpen(now, at);
    if (next) setAt(nameOf(next));
    return true;
  };
  return (
    <div className="mx-auto grid h-full max-w-[1180px] gap-5 min-[1000px]:grid-cols-[minmax(0,1fr)_400px]">
      <Beside here={here} used={used} />
      <section aria-label="Questions" className="flex min-h-0 flex-col border border-hair bg-paper">
        <div className="border-b border-hair px-4 py-2.5 text-sm text-ink-2">
          <p className="wrap-anywhere">{here.paper.title}</p>
          <p role="status">
            Question {n + 1} of {asked.length} · {left === 0 ? 'no questions left' : `${some(left, 'answer')} wanted`}
          </p>
        </div>
        <div className="min-h-0 flex-1 overflow-auto px-4 py-4">
          <OneQuestion key={at} asked={here} used={used} answer={answer} />
        </div>
        <div className="flex flex-wrap items-center gap-2 border-t border-hair px-4 py-2.5">
          <Button className="min-h-11" disabled={n === 0} onClick={() => go(n - 1)}>
            Back
          </Button>
          <Button className="min-h-11" disabled={n === asked.length - 1} onClick={() => go(n + 1)}>
            Later
          </Button>
          <Button look={left === 0 ? 'act' : 'plain'} className="ml-auto min-h-11" onClick={close}>
            {left === 0 ? 'Go on to signing' : 'See the papers'}
          </Button>
        </div>
      </section>
    </div>
  );
}

interface OneProps {
  asked: Asked;
  used: UsedRound;
  answer: (text: string) => Promise<boolean>;
}

function OneQuestion({ asked: { paper, question: q }, used, answer }: OneProps) {
  const heading = useRef<HTMLHeadingElement>(null);
  useLayoutEffect(() => heading.current?.focus(), []);
  // Options are chosen by their numbers, too.
  const byKey = (e: KeyboardEvent) => {
    const chosen = q.options[Number(e.key) - 1];
    if (chosen && !used.busy && !e.repeat && !e.ctrlKey && !e.altKey && !e.metaKey) void answer(chosen);
  };
  return (
    <div onKeyDown={byKey}>
      <h2 ref={heading} tabIndex={-1} className="mb-1 font-serif text-[1.2rem] font-semibold leading-snug outline-none">
        {q.asked}
      </h2>
      {q.help && <p className="mb-2 text-sm text-ink-2">{q.help}</p>}
      {!q.must && <p className="mb-2 text-sm text-ink-2">You may leave this blank.</p>}
      {q.options.length > 0 ? (
        <Options question={q} busy={used.busy} answer={answer} />
      ) : (
        <Typed
          name={`${paper.id} ${q.key}`}
          question={q}
          busy={used.busy}
          answer={answer}
          keep={(text) => void used.keep((ask) => ask.answer(paper.id, q.key, text))}
        />
      )}
      {(q.wrong || used.trouble) && (
        <p role="alert" className="mt-3 text-sm text-wax">
          {used.trouble || q.wrong}
        </p>
      )}
    </div>
  );
}

interface AnswerProps {
  question: Question;
  busy: boolean;
  answer: (text: string) => Promise<boolean>;
}

function Options({ question: q, busy, answer }: AnswerProps) {
  return (
    <div role="group" aria-label={q.asked} className="mt-3 grid gap-2">
      {q.options.map((option, n) => (
        <button
          key={option}
          type="button"
          className="answer min-h-12! items-center!"
          aria-pressed={q.text === option}
          disabled={busy}
          onClick={() => void answer(option)}
        >
          <kbd aria-hidden="true">{n + 1}</kbd>
          {option}
        </button>
      ))}
      {q.text && (
        <Button look="words" className="justify-self-start" disabled={busy} onClick={() => void answer('')}>
          Clear answer
        </Button>
      )}
    </div>
  );
}

const PAUSE = 1_500;

/** An answer in words: kept in this browser as it is typed, and sent after a pause and when it is left. */
function Typed({ name, question: q, busy, answer, keep }: AnswerProps & { name: string; keep: (text: string) => void }) {
  const key = `answer ${name}`;
  const [text, setText] = useState(() => sessionStorage.getItem(key) ?? q.text);
  const sent = useRef(q.text);
  const now = useRef(text);
  const type = (typed: string) => {
    setText(typed);
    now.current = typed;
    sessionStorage.setItem(key, typed);
  };
  useEffect(() => {
    // What the server has is no longer to be kept here.
    if (q.text === now.current.trim()) sessionStorage.removeItem(key);
  }, [key, q.text]);
  const latest = useRef(keep);
  useEffect(() => {
    latest.current = keep;
  });
  useEffect(() => {
    const send = () => {
      if (now.current.trim() === sent.current) return;
      sent.current = now.current.trim();
      latest.current(now.current);
    };
    const timer = setTimeout(send, PAUSE);
    return () => clearTimeout(timer);
  }, [text]);
  // Whatever takes the question away finds what was typed sent.
  useEffect(
    () => () => {
      if (now.current.trim() !== sent.current) latest.current(now.current);
    },
    [],
  );
  return (
    <form
      className="mt-3"
      onSubmit={(e) => {
        e.preventDefault();
        sent.current = text.trim();
        void answer(text).then((done) => done && sessionStorage.removeItem(key));
      }}
    >
      {q.lines > 1 ? (
        <textarea
          className="field w-full text-base!"
          rows={Math.min(q.lines + 1, 8)}
          aria-label={q.asked}
          maxLength={4_000}
          value={text}
          onChange={(e) => type(e.target.value)}
        />
      ) : (
        <input
          className="field w-full text-base!"
          aria-label={q.asked}
          maxLength={300}
          value={text}
          onChange={(e) => type(e.target.value)}
        />
      )}
      <Button type="submit" look="act" className="mt-3 min-h-12 w-full text-base!" disabled={busy || (q.must && !text.trim())}>
        {text.trim() || q.must ? 'Keep and go on' : 'Leave it empty'}
      </Button>
    </form>
  );
}

/** The page that the question is on, where there is room beside it. */
function Beside({ here: { paper, question: q }, used }: { here: Asked; used: UsedRound }) {
  const size = paper.pages[q.page - 1]!;
  const mark = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    mark.current?.scrollIntoView({ block: 'center' });
  }, [q.key]);
  return (
    <div className="hidden min-h-0 overflow-auto min-[1000px]:block" role="region" aria-label="The paper" tabIndex={0}>
      <div
        className="on-paper relative w-full border border-blotter-3 bg-paper [container-type:inline-size]"
        style={{ aspectRatio: `${size.width} / ${size.height}` }}
      >
        <PagePicture
          src={used.ask.picture(paper.id, q.page, 110)}
          alt={`Page ${q.page} of ${paper.title}`}
          className="absolute inset-0 h-full w-full"
        />
        {paper.written
          .filter((w) => w.page === q.page)
          .map((w, n) => (
            <Answer key={n} one={w} size={size} />
          ))}
        <span
          ref={mark}
          aria-hidden="true"
          className="absolute border-2 border-green bg-green/25"
          style={onPage(q.rect, size, 2)}
        />
      </div>
    </div>
  );
}
