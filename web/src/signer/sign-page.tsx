/** A round as its signer goes through it: agree, read, make a signature, be led from place to place, finish. */
import { useEffect, useState } from 'react';
import { Button } from '../primitives/button';
import { Wordmark } from '../primitives/wordmark';
import { Adopt } from './adopt';
import { Agree } from './agree';
import { Alone } from './alone';
import { inWords, type Asking, type Round } from './asking';
import { SecondStep } from './second-step';
import { Done } from './done';
import { Led } from './led';
import { NotNow } from './not-now';
import { Pages } from './pages';
import { askedIn, Questions } from './questions';
import { Sender } from './sender';
import { useRound, type UsedRound } from './use-round';

/** `start` is the place at which signing begins, '' for the first. */
export function SignPage({ ask, secret, start }: { ask: Asking; secret: string; start: string }) {
  const used = useRound(ask, secret);
  const { round, refused } = used;
  useEffect(() => {
    if (round) document.title = `${round.subject} · Good Quill`;
  }, [round]);
  if (refused) return <Alone title="These papers can’t be opened">{refused}</Alone>;
  if (!round) return <Alone title="Opening your papers …">One moment.</Alone>;
  if (round.ended) return <Ended used={used} round={round} />;
  if (round.over) return <Over round={round} />;
  if (round.wants_code) return <SecondStep used={used} round={round} />;
  if (round.copied && !round.sealed)
    return <Alone title="Not everyone has signed yet">You will get your copy by e-mail when everyone has signed.</Alone>;
  if (round.at === 'waits') return <WaitsForTurn round={round} />;
  if (round.copied || round.at === 'done' || round.state === 'finished') return <Done used={used} round={round} />;
  return <Signing used={used} round={round} start={start} />;
}

function Over({ round }: { round: Round }) {
  return (
    <Alone title={round.over!.message}>
      <p>{round.over!.mend}</p>
      <Sender sender={round.sender} />
    </Alone>
  );
}

/** A finished round's link shows the papers for 30 days; then its owner asks for a new one. */
function Ended({ used, round }: { used: UsedRound; round: Round }) {
  const [asked, setAsked] = useState(false);
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const ask = () => {
    setBusy(true);
    used.ask
      .newLink()
      .then(
        () => setAsked(true),
        (error: unknown) => setTrouble(inWords(error)),
      )
      .finally(() => setBusy(false));
  };
  return (
    <Alone title="This link has expired">
      <p>For your safety, links to “{round.subject}” work for 30 days. A new one can be sent to your e-mail address.</p>
      <p role="status">{asked && 'A new link is on its way. Check your e-mail.'}</p>
      {trouble && (
        <p role="alert" className="text-sm text-wax">
          {trouble}
        </p>
      )}
      {!asked && (
        <Button look="act" className="min-h-12 w-full text-base!" disabled={busy} onClick={ask}>
          Send a new link
        </Button>
      )}
      <Sender sender={round.sender} />
    </Alone>
  );
}

function WaitsForTurn({ round }: { round: Round }) {
  const waits = round.others.filter((o) => !o.done).map((o) => o.name);
  return (
    <Alone title="It isn’t your turn yet">
      <p>
        “{round.subject}” is first signed by {waits.join(', ')}. You get a letter as soon as it is your turn.
      </p>
      <Sender sender={round.sender} />
    </Alone>
  );
}

function Signing({ used, round, start }: { used: UsedRound; round: Round; start: string }) {
  const [adopting, setAdopting] = useState(false);
  const [at, setAt] = useState(start);
  const [answering, setAnswering] = useState(false);
  const agreed = round.at === 'agreed';
  return (
    <div className="flex h-full flex-col">
      <header className="border-b border-hair bg-sheet px-4 py-2.5">
        <div className="mx-auto flex max-w-[860px] flex-wrap items-center gap-x-3 gap-y-1">
          <Wordmark />
          <div className="min-w-0 flex-1 basis-[180px]">
            <h1 className="font-serif text-[1.0625rem] font-semibold leading-tight wrap-anywhere max-[619px]:line-clamp-2">
              {round.subject}
            </h1>
            <p className="truncate text-xs text-ink-2">from {round.sender.name}</p>
          </div>
          <NotNow used={used} round={round} />
        </div>
      </header>
      {answering && agreed && askedIn(round).length > 0 ? (
        <main className="min-h-0 flex-1 p-2 min-[620px]:p-4">
          <Questions used={used} round={round} close={() => setAnswering(false)} />
        </main>
      ) : (
        <main className="min-h-0 flex-1 overflow-auto px-2 pb-8 pt-3 min-[620px]:px-4" id="papers">
          <div className="mx-auto max-w-[860px]">
            {!agreed && <Agree used={used} round={round} />}
            <Pages round={round} ask={used.ask} at={at} choose={agreed ? setAt : undefined} />
          </div>
        </main>
      )}
      {agreed && !answering && (
        <Led
          used={used}
          round={round}
          at={at}
          setAt={setAt}
          makeMark={() => setAdopting(true)}
          answerAll={() => setAnswering(true)}
        />
      )}
      {adopting && <Adopt used={used} round={round} close={() => setAdopting(false)} />}
    </div>
  );
}
