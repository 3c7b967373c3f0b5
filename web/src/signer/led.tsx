/** From place to place: one button, one key, until nothing is left. */
import { useCallback, useEffect, useMemo } from 'react';
import { Button } from '../primitives/button';
import { some } from '../primitives/format';
import type { Place, Round } from './asking';
import { askedIn, openIn } from './questions';
import type { UsedRound } from './use-round';

interface Props {
  used: UsedRound;
  round: Round;
  at: string;
  setAt: (place: string) => void;
  makeMark: () => void;
  answerAll: () => void;
}

/** The own places in the order of reading, those for the date left out: they fill themselves. */
const placesOf = (round: Round): Place[] => round.papers.flatMap((paper) => paper.places.filter((p) => p.sign !== 'date'));

/** The next place that is open behind one, and behind the last the first. */
export function nextOpen(places: Place[], at: string): Place | undefined {
  const here = places.findIndex((p) => p.id === at);
  return [...places.slice(here + 1), ...places.slice(0, here + 1)].find((p) => !p.put);
}

function show(place: string) {
  const found = document.querySelector<HTMLElement>(`[data-place="${CSS.escape(place)}"]`);
  found?.scrollIntoView({
    block: 'center',
    behavior: matchMedia('(prefers-reduced-motion: reduce)').matches ? 'auto' : 'smooth',
  });
  found?.focus({ preventScroll: true });
}

export function Led({ used, round, at, setAt, makeMark, answerAll }: Props) {
  const places = useMemo(() => placesOf(round), [round]);
  const here = places.find((p) => p.id === at && !p.put);
  const needs = useMemo(() => [...new Set(places.map((p) => p.sign as 'signature' | 'initials'))], [places]);
  const hasMarks = needs.every((sign) => round[sign]);
  const put = places.filter((p) => p.put).length;
  const left = places.length - put;
  const unanswered = openIn(round);
  const go = useCallback(
    (from: Place[], after: string) => {
      const next = nextOpen(from, after);
      setAt(next?.id ?? '');
      if (next) requestAnimationFrame(() => show(next.id));
    },
    [setAt],
  );
  const sign = async () => {
    if (!here) return;
    const done = await used.run((ask) => ask.put([here.id]));
    if (done)
      go(
        places.map((p) => (p.id === here.id ? { ...p, put: 'now' } : p)),
        here.id,
      );
  };
  useEffect(() => {
    if (here) show(here.id);
  }, [here]);
  const unsigned = places.filter((p) => !p.put).map((p) => p.id);
  return (
    <footer className="border-t border-hair bg-sheet px-4 pb-[max(0.75rem,env(safe-area-inset-bottom))] pt-2.5">
      <div className="mx-auto flex max-w-[860px] flex-wrap items-center gap-x-4 gap-y-2">
        <div className="min-w-0 flex-1 basis-[150px]">
          <p role="status" className="text-sm font-medium">
            {unanswered > 0
              ? `${some(unanswered, 'answer')} wanted before you sign`
              : left === 0
                ? 'Everything is signed'
                : `${put} of ${some(places.length, 'place')} signed`}
          </p>
          <div className="mt-1 h-1.5 bg-blotter-2" aria-hidden="true">
            <div className="h-full bg-green" style={{ width: `${places.length ? (100 * put) / places.length : 100}%` }} />
          </div>
          {used.trouble && (
            <p role="alert" className="mt-1 text-sm text-wax">
              {used.trouble}
            </p>
          )}
        </div>
        {askedIn(round).length > 0 && openIn(round) === 0 && put === 0 && (
          <Button look="words" onClick={answerAll}>
            Change answers
          </Button>
        )}
        {hasMarks && put === 0 && (
          <Button look="words" onClick={makeMark}>
            Change signature
          </Button>
        )}
        {hasMarks && !round.party && unsigned.length > 1 && (
          <Button className="min-h-11" disabled={used.busy} onClick={() => void used.run((ask) => ask.put(unsigned))}>
            Sign all {unsigned.length} places
          </Button>
        )}
        <MainStep
          round={round}
          left={left}
          busy={used.busy}
          hasMarks={hasMarks}
          here={here}
          makeMark={makeMark}
          answerAll={answerAll}
          go={() => go(places, at)}
          sign={() => void sign()}
          finish={() => void used.run((ask) => ask.finish())}
        />
      </div>
    </footer>
  );
}

interface StepProps {
  round: Round;
  left: number;
  busy: boolean;
  hasMarks: boolean;
  here: Place | undefined;
  makeMark: () => void;
  answerAll: () => void;
  go: () => void;
  sign: () => void;
  finish: () => void;
}

/** The one thing to do next. */
function MainStep({ round, left, busy, hasMarks, here, makeMark, answerAll, go, sign, finish }: StepProps) {
  const [said, run] = nextStep();
  function nextStep(): readonly [string, () => void] {
    if (openIn(round) > 0)
      return [hasBegun(round) ? 'Go on answering' : `Answer ${some(askedIn(round).length, 'question')}`, answerAll];
    if (left === 0) return ['Finish', finish];
    if (!hasMarks) return ['Make my signature', makeMark];
    if (here) return [here.sign === 'initials' ? 'Initial here' : 'Sign here', sign];
    return ['To the next place', go];
  }
  return (
    <Button look="act" className="min-h-12 min-w-[170px] px-5! text-base! max-[619px]:w-full" disabled={busy} onClick={run}>
      {said}
    </Button>
  );
}

const hasBegun = (round: Round) => round.papers.some((paper) => paper.questions.some((q) => q.text));
