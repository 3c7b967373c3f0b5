/** Papers that were delivered to somebody by a link. */
import { useEffect, useState } from 'react';
import { FileLink } from '../primitives/file-link';
import { Wordmark } from '../primitives/wordmark';
import { moment } from '../primitives/format';
import { Alone } from './alone';
import { inWords, openPapers, type ForYou } from './asking';
import { Sender } from './sender';

export function PapersPage({ recipient, secret }: { recipient: string; secret: string }) {
  const [found, setFound] = useState<ForYou | null>(null);
  const [refused, setRefused] = useState('');
  useEffect(() => {
    openPapers(recipient, secret).then(setFound, (error: unknown) => setRefused(inWords(error)));
  }, [recipient, secret]);
  useEffect(() => {
    if (found) document.title = `${found.subject} · Good Quill`;
  }, [found]);
  if (refused) return <Alone title="These papers can’t be opened">{refused}</Alone>;
  if (!found) return <Alone title="Opening the papers …">One moment.</Alone>;
  return (
    <main className="mx-auto min-h-full max-w-[720px] px-2 py-4 min-[620px]:px-4">
      <div className="border border-hair bg-paper px-5 py-5 max-[420px]:px-4">
        <Wordmark />
        <h1 className="mb-1 mt-3 font-serif text-[1.3rem] font-semibold leading-snug wrap-anywhere">{found.subject}</h1>
        <p className="mb-3 text-sm text-ink-2">
          for {found.name}, from {found.sender.name}, {found.sender.firm}
        </p>
        {found.message && <p className="mb-3 whitespace-pre-wrap border-l-2 border-hair pl-3 wrap-anywhere">{found.message}</p>}
        <ul className="mb-3 border-t border-hair">
          {found.files.map((file) => (
            <li key={file.id} className="flex flex-wrap items-center gap-x-3 border-b border-hair py-1.5">
              <span className="min-w-0 flex-1 basis-[200px] wrap-anywhere">{file.name}</span>
              <span className="text-xs text-ink-2">{Math.max(1, Math.round(file.size / 1000))} kB</span>
              <FileLink
                className="inline-flex min-h-11 items-center px-1 font-medium text-green-2 hover:underline"
                href={`/api/papers-for/${recipient}/${file.id}`}
              >
                Download<span className="sr-only"> {file.name}</span>
              </FileLink>
            </li>
          ))}
        </ul>
        {found.ends && <p className="mb-3 text-sm text-ink-2">This link ends {moment(found.ends)}.</p>}
        <Sender sender={found.sender} />
      </div>
    </main>
  );
}
