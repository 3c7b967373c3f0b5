/** Before anything is signed: what the papers are, and agreeing to sign them on a screen. */
import { Button } from '../primitives/button';
import { moment, some } from '../primitives/format';
import type { Round } from './asking';
import { askedIn } from './questions';
import { Sender } from './sender';
import type { UsedRound } from './use-round';

export function Agree({ used, round }: { used: UsedRound; round: Round }) {
  const pages = round.papers.reduce((sum, paper) => sum + paper.pages.length, 0);
  const questions = askedIn(round).length;
  const places = round.papers.reduce((sum, paper) => sum + paper.places.filter((p) => p.sign !== 'date').length, 0);
  return (
    <section aria-label="Before you sign" className="mb-4 border border-hair bg-paper px-5 py-5 max-[420px]:px-4">
      <h2 className="mb-2 font-serif text-[1.2rem] font-semibold">Hello {round.name}</h2>
      {round.message && <p className="mb-3 whitespace-pre-wrap border-l-2 border-hair pl-3 wrap-anywhere">{round.message}</p>}
      <p className="mb-3">
        You are asked to sign {some(round.papers.length, 'paper')}, {some(pages, 'page')}, in {some(places, 'place')}
        {questions > 0 && ` and to answer ${some(questions, 'question')}`}
        {round.signs_as && round.signs_as !== round.name && `, as ${round.signs_as}`}. Read them below before you agree; nothing
        is signed until you do it.
        {round.ends && ` They can be signed until ${moment(round.ends)}.`}
      </p>
      {round.at === 'on paper' && (
        <p className="mb-3 border border-ochre bg-ochre-wash px-3 py-2">
          You asked for paper, and {round.sender.name} knows. You can still sign here instead.
        </p>
      )}
      <details className="mb-4 text-sm">
        <summary className="cursor-pointer py-1 font-medium text-green-2">About signing electronically</summary>
        <div className="mt-1.5 space-y-2 leading-relaxed">
          <p>
            Your signature here binds you as one by pen does. What you agree to is these papers alone; you may ask for paper at
            any time before you have signed, at no cost, and you may decline.
          </p>
          <p>
            You need a device with a browser that shows these pages, and a reader of PDF to keep your copy. When everybody has
            signed, a copy comes to you by mail; it stays under your link, too.
          </p>
          <p>
            The time, the address of your connection and each of your steps go on record with the papers. To change your e-mail or
            take your agreement back, write or call before you finish.
          </p>
          <Sender sender={round.sender} />
        </div>
      </details>
      {used.trouble && (
        <p role="alert" className="mb-3 text-wax">
          {used.trouble}
        </p>
      )}
      <Button
        look="act"
        className="min-h-12 w-full text-base! min-[620px]:w-auto min-[620px]:px-6!"
        disabled={used.busy}
        onClick={() => void used.run((ask) => ask.agree())}
      >
        I agree, and sign on this screen
      </Button>
    </section>
  );
}
