/** After the signer's part: who still signs, and the finished papers once all have. */
import { FileLink } from '../primitives/file-link';
import { Wordmark } from '../primitives/wordmark';
import { moment } from '../primitives/format';
import type { Round } from './asking';
import { Pages } from './pages';
import { Sender } from './sender';
import type { UsedRound } from './use-round';

export function Done({ used, round }: { used: UsedRound; round: Round }) {
  const waits = round.others.filter((o) => !o.done);
  const title = round.sealed
    ? 'Signed and sealed'
    : round.state === 'finished'
      ? 'Everyone who was asked has signed'
      : 'Thank you, you have signed';
  return (
    <div className="h-full overflow-auto px-2 pb-10 min-[620px]:px-4">
      <main className="mx-auto max-w-[860px]">
        <section aria-label={title} className="my-4 border border-hair bg-paper px-5 py-5 max-[420px]:px-4">
          <Wordmark />
          <h1 className="mb-1 mt-3 font-serif text-[1.3rem] font-semibold">{title}</h1>
          <p className="mb-3 text-ink-2 wrap-anywhere">{round.subject}</p>
          {round.in_person && (
            <p className="mb-3 border border-ochre bg-ochre-wash px-3 py-2">
              You signed on {round.sender.name}’s device: please hand it back.{' '}
              <a className="underline" href="/">
                To the sign-in page
              </a>
            </p>
          )}
          <div role="status" className="mb-3 space-y-2">
            {round.sealed ? (
              <p>Sealed {moment(round.sealed)}. Download your copies and keep them; this link stays as well.</p>
            ) : round.state === 'finished' ? (
              <p>The papers are being sealed. They appear here in a moment, and you get an e-mail.</p>
            ) : (
              <p>
                Still to sign: {waits.map((o) => `${o.name} (${o.role})`).join(', ')}. Your copy comes by mail when all have
                signed; you can close this page.
              </p>
            )}
          </div>
          {round.sealed && (
            <ul className="mb-3 border-t border-hair">
              {round.papers.map((paper) => (
                <li key={paper.id} className="flex flex-wrap items-center gap-x-3 border-b border-hair py-1.5">
                  <span className="min-w-0 flex-1 basis-[200px] wrap-anywhere">{paper.title}</span>
                  <FileLink
                    className="inline-flex min-h-11 items-center px-1 font-medium text-green-2 hover:underline"
                    href={used.ask.file(paper.id)}
                  >
                    Download<span className="sr-only"> {paper.title}, signed</span>
                  </FileLink>
                </li>
              ))}
            </ul>
          )}
          {round.sealed && (
            <p className="mb-3 text-sm text-ink-2">
              Whether such a file is whole and unchanged, any reader of PDF can tell, and so does{' '}
              <a className="text-green-2 underline" href="/verify">
                our page that checks files
              </a>
              .
            </p>
          )}
          <Sender sender={round.sender} />
        </section>
        {!round.sealed && !round.copied && <Pages round={round} ask={used.ask} at="" />}
      </main>
    </div>
  );
}
