/** The second step: the code that was just sent to the address of the link, or the answer to the sender's question. */
import { useState } from 'react';
import { Button } from '../primitives/button';
import { Alone } from './alone';
import type { Round } from './asking';
import { Sender } from './sender';
import type { UsedRound } from './use-round';

export function SecondStep({ used, round }: { used: UsedRound; round: Round }) {
  return round.question ? <Question used={used} round={round} /> : <Code used={used} round={round} />;
}

function Question({ used, round }: { used: UsedRound; round: Round }) {
  const [answer, setAnswer] = useState('');
  return (
    <Alone title="Answer a question first">
      <p>Answer this question to see “{round.subject}”. Capitals and spaces don’t matter.</p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void used.run((ask) => ask.code(answer));
        }}
      >
        <label className="wrap-anywhere">
          {round.question}
          <input
            className="field mt-1 block w-full text-base!"
            autoComplete="off"
            maxLength={100}
            autoFocus
            value={answer}
            onChange={(e) => setAnswer(e.target.value)}
          />
        </label>
        {used.trouble && (
          <p role="alert" className="mt-2 text-sm text-wax">
            {used.trouble}
          </p>
        )}
        <Button type="submit" look="act" className="mt-3 min-h-12 w-full text-base!" disabled={used.busy || !answer.trim()}>
          Go on
        </Button>
      </form>
      <Sender sender={round.sender} />
    </Alone>
  );
}

function Code({ used, round }: { used: UsedRound; round: Round }) {
  const [code, setCode] = useState('');
  const [sent, setSent] = useState(false);
  const again = async () => {
    if (await used.run((ask) => ask.code(''))) setSent(true);
  };
  return (
    <Alone title="Enter your code">
      <p>
        We just e-mailed six digits to {round.code_to}. Enter them to see “{round.subject}”.
      </p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void used.run((ask) => ask.code(code));
        }}
      >
        <label className="text-sm">
          Six digits
          <input
            className="field mt-0.5 block w-full text-[1.4rem]! tracking-[0.2em]"
            inputMode="numeric"
            autoComplete="one-time-code"
            maxLength={9}
            autoFocus
            value={code}
            onChange={(e) => setCode(e.target.value)}
          />
        </label>
        {used.trouble && (
          <p role="alert" className="mt-2 text-sm text-wax">
            {used.trouble}
          </p>
        )}
        <Button
          type="submit"
          look="act"
          className="mt-3 min-h-12 w-full text-base!"
          disabled={used.busy || code.replace(/\D/g, '').length !== 6}
        >
          Go on
        </Button>
      </form>
      <p className="text-sm" role="status">
        <Button look="words" disabled={used.busy} onClick={() => void again()}>
          Send another code
        </Button>
        {sent && ' If a minute has passed since the last one, another is on its way.'}
      </p>
      <Sender sender={round.sender} />
    </Alone>
  );
}
