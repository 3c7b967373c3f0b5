/** The letter of a round: its subject, a few words, until when it can be signed, and reminders. Kept while it is typed. */
import { useEffect, useState } from 'react';
import type { WholeRound } from '../../api/client';
import { useKept } from '../../api/use-kept';
import { calls, useOnRound, type ChangeRound } from './use-rounds';

export function RoundLetter({ row, save }: { row: WholeRound; save: (body: ChangeRound) => void }) {
  const [asks, setAsks] = useState(row.question !== '');
  return (
    <section aria-label="The letter">
      <h2 className="mb-1.5 text-sm font-semibold text-ink-2">The letter</h2>
      <div className="space-y-3 border border-hair bg-paper px-3 py-3 text-sm">
        <Typed round={row.id} of="subject" label="Subject" saved={row.subject} />
        <Typed round={row.id} of="message" label="Message" saved={row.message} />
        <div className="flex flex-wrap gap-x-5 gap-y-3">
          <label>
            To be signed by
            <input
              type="datetime-local"
              className="field mt-0.5 block"
              value={asLocal(row.ends)}
              onChange={(e) => save({ ends: e.target.value ? new Date(e.target.value).toISOString() : null })}
            />
          </label>
          <label>
            Reminders
            <select
              className="field mt-0.5 block"
              value={row.remind_every}
              onChange={(e) => save({ remind_every: Number(e.target.value) })}
            >
              <option value={0}>none</option>
              <option value={1}>every day</option>
              {[2, 3, 7].map((days) => (
                <option key={days} value={days}>
                  every {days} days
                </option>
              ))}
              {![0, 1, 2, 3, 7].includes(row.remind_every) && (
                <option value={row.remind_every}>every {row.remind_every} days</option>
              )}
            </select>
          </label>
          <label>
            Identity check
            <select
              className="field mt-0.5 block"
              value={asks ? 'question' : row.code ? 'code' : ''}
              onChange={(e) => {
                const chosen = e.target.value;
                setAsks(chosen === 'question'); // until a question is typed, the code stays on
                if (chosen !== 'question') save({ code: chosen === 'code', question: '' });
              }}
            >
              <option value="code">Code by e-mail</option>
              <option value="question">A question you agreed on</option>
              <option value="">None</option>
            </select>
          </label>
        </div>
        {!asks && !row.code && (
          <p className="text-ochre">
            Anyone who gets the link can sign. The record of signatures will say that you turned the code off.
          </p>
        )}
        {asks && (
          <div className="grid gap-x-5 gap-y-3 min-[620px]:grid-cols-[1fr_240px]">
            <Typed round={row.id} of="question" label="Question" saved={row.question} />
            <Answer row={row} />
          </div>
        )}
      </div>
    </section>
  );
}

/** The answer to the question: told to the signers by other means, and never shown again. */
function Answer({ row }: { row: WholeRound }) {
  const { mutate, error, isPending } = useOnRound<ChangeRound>(row.id, calls.change(row.id), () => setTyped(''));
  const [typed, setTyped] = useState('');
  const save = () => typed.trim() !== '' && mutate({ answer: typed });
  return (
    <label className="block">
      Answer
      <input
        className="field mt-0.5 block w-full"
        autoComplete="off"
        maxLength={100}
        disabled={isPending || row.question === ''}
        placeholder={row.has_answer ? 'kept; type another one' : 'as you told it to them'}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={save}
        onKeyDown={(e) => e.key === 'Enter' && save()}
      />
      <span className={`text-xs ${error ? 'text-wax' : 'text-ink-2'}`}>
        {error ? 'Not saved yet.' : 'Tell them by phone. Capitals and spaces don’t matter.'}
      </span>
    </label>
  );
}

/** A moment as the browser's own field shows it, where its reader is. */
function asLocal(iso: string | null): string {
  if (!iso) return '';
  const at = new Date(iso);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

interface TypedProps {
  round: string;
  of: 'subject' | 'message' | 'question';
  label: string;
  saved: string;
}

const PAUSE = 900;
const AGAIN = 6_000;

/** A text that is kept in this browser as it is typed, and sent after a pause and when it is left. */
function Typed({ round, of, label, saved }: TypedProps) {
  const { typed, set } = useKept(`round ${round} ${of}`, saved);
  const { mutate, error, isPending } = useOnRound<ChangeRound>(round, calls.change(round));
  const differs = typed.trim() !== saved.trim(); // blanks at the end are nothing to be kept
  const fits = of !== 'subject' || typed.trim() !== '';
  useEffect(() => {
    if (!differs || !fits) return;
    // Not taken (a session ended, no network), it is sent again.
    const timer = setTimeout(() => mutate({ [of]: typed }), error ? AGAIN : PAUSE);
    return () => clearTimeout(timer);
  }, [typed, differs, fits, of, error, isPending]); // eslint-disable-line react-hooks/exhaustive-deps -- `mutate` is another one at each look
  const field = {
    className: 'field mt-0.5 block w-full',
    value: typed,
    'aria-invalid': !fits || undefined,
    onChange: (e: { target: { value: string } }) => set(e.target.value),
    onBlur: () => fits && differs && mutate({ [of]: typed }),
  };
  return (
    <label className="block">
      {label}
      {of === 'message' ? (
        <textarea rows={3} maxLength={4000} {...field} />
      ) : (
        <input maxLength={of === 'subject' ? 150 : 200} {...field} />
      )}
      {!fits && <span className="text-xs text-wax">Enter a subject. {saved ? `“${saved}” stands so far.` : ''}</span>}
      {error && differs && <span className="text-xs text-wax">Not saved yet. Your text is kept in this browser.</span>}
    </label>
  );
}
