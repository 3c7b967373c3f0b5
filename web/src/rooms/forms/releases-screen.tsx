/** Releases of the associations' packs, what each changed, and the member numbers that open them. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { client, got, upload, type ReleaseRead } from '../../api/client';
import { useAction } from '../../api/use-action';
import { membershipsQuery, releaseChangesQuery, releasesQuery, sessionQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { notify } from '../../primitives/notices';
import { shortDate, some } from '../../primitives/words';
import { FormsHead } from './forms-head';

export function ReleasesScreen() {
  const { data: releases } = useQuery(releasesQuery);
  const { data: session } = useQuery(sessionQuery);
  const [chosen, setChosen] = useState<string | null>(null);
  const shown = chosen ?? releases?.find((r) => r.newest && !r.own)?.id ?? null;
  const { data: changes } = useQuery({ ...releaseChangesQuery(shown ?? ''), enabled: shown !== null });
  const [file, setFile] = useState<File | null>(null);
  const queries = useQueryClient();
  const read = useAction({
    mutationFn: ({ pack, take }: { pack: File; take: boolean }, key: string) =>
      upload<ReleaseRead>('/api/releases', pack, key, take ? { take: 'true' } : {}),
    onSuccess: (found) => {
      if (!found.taken) return;
      notify(`The release of ${shortDate(found.released ?? '')} is in use. Open deals keep the editions they began with.`);
      setFile(null);
      setChosen(null);
      void queries.invalidateQueries();
    },
  });
  const picker = useRef<HTMLInputElement>(null);
  const looked = file ? read.data : undefined;
  return (
    <main className="flex h-full flex-col">
      <FormsHead here="releases" />
      <div className="grid min-h-0 flex-1 grid-cols-[380px_minmax(0,1fr)]">
        <div className="overflow-auto border-r border-blotter-3 px-6 py-5">
          <Memberships />
          <h2 className="mb-1.5 mt-7 text-sm font-semibold text-ink-2">Releases</h2>
          <ul className="border border-hair bg-paper">
            {(releases ?? []).map((r) => (
              <li key={r.id} className="flex items-center gap-2 border-b border-hair px-3 py-2 last:border-0">
                <button
                  type="button"
                  aria-current={r.id === shown}
                  onClick={() => setChosen(r.id)}
                  className="min-w-0 flex-1 text-left"
                >
                  <span className={`block text-sm ${r.id === shown ? 'font-semibold' : ''}`}>{shortDate(r.released)}</span>
                  <span className="block text-xs text-ink-2">
                    {r.association}, {some(r.forms, 'form')}
                    {r.newest && !r.own && ', in use for new deals'}
                  </span>
                </button>
                <a
                  href={`/api/releases/${r.id}.zip`}
                  download
                  className="text-sm text-green-2 hover:underline"
                  aria-label={`Export the release of ${shortDate(r.released)}`}
                >
                  ZIP
                </a>
              </li>
            ))}
          </ul>
          {session?.role === 'broker' && (
            <div className="mt-4">
              <input
                ref={picker}
                type="file"
                accept=".zip,application/zip"
                className="sr-only"
                tabIndex={-1}
                aria-label="Release to read"
                onChange={(e) => {
                  const pack = e.target.files?.[0] ?? null;
                  setFile(pack);
                  if (pack) read.mutate({ pack, take: false });
                  e.target.value = '';
                }}
              />
              <Button disabled={read.isPending} onClick={() => picker.current?.click()}>
                {read.isPending ? 'Reading the release …' : 'Read a release'}
              </Button>
              <p className="mt-1.5 text-xs text-ink-2">A pack as ZIP. Nothing changes before you have seen what it does.</p>
            </div>
          )}
        </div>
        <div className="overflow-auto px-7 py-5" tabIndex={0} aria-label="What a release changes">
          {read.error && file && <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">{read.error.message}</p>}
          {looked && looked.faults.length > 0 && (
            <div className="border border-wax bg-wax-wash px-4 py-3">
              <p className="mb-2 font-medium text-wax">
                {some(looked.faults.length, 'fault')} in {file?.name}. Nothing was changed.
              </p>
              <ul className="space-y-1 text-sm">
                {looked.faults.slice(0, 40).map((f, n) => (
                  <li key={n}>
                    <span className="font-medium">{f.place}</span> {f.message} {f.mend}
                  </li>
                ))}
              </ul>
            </div>
          )}
          {looked && looked.faults.length === 0 ? (
            <>
              <div className="mb-4 flex items-center gap-3">
                <h2 className="font-serif text-lg font-semibold">
                  The release of {shortDate(looked.released ?? '')} would change this
                </h2>
                <Button
                  look="act"
                  className="ml-auto"
                  disabled={read.isPending}
                  onClick={() => file && read.mutate({ pack: file, take: true })}
                >
                  Take it in
                </Button>
                <Button onClick={() => setFile(null)}>Leave it</Button>
              </div>
              <Changes read={looked} />
            </>
          ) : (
            !looked &&
            changes && (
              <>
                <h2 className="mb-4 font-serif text-lg font-semibold">
                  What the release of {shortDate(changes.released ?? '')} changed
                </h2>
                <Changes read={changes} />
              </>
            )
          )}
        </div>
      </div>
    </main>
  );
}

const WHAT: Record<string, string> = { new: 'new', gone: 'gone', moved: 'moved', means: 'asks for something else' };

function Changes({ read }: { read: ReleaseRead }) {
  if (read.changes.length === 0)
    return <p className="text-ink-2">It is the first of its association here; there is nothing to compare it with.</p>;
  return (
    <>
      <ul>
        {read.changes.map((c) => {
          const told = c.blanks.filter((b) => b.what !== 'moved');
          const movedCount = c.blanks.length - told.length;
          return (
            <li key={c.number} className="-mt-px border border-hair bg-paper px-4 py-3">
              <p className="flex items-baseline gap-3">
                <span className="w-9 font-semibold">{c.number}</span>
                <span className="font-medium">{c.title}</span>
                <span
                  className={`ml-auto text-sm ${c.what === 'retired' ? 'text-wax' : c.what === 'new' ? 'text-green-2' : 'text-ink-2'}`}
                >
                  {c.what}
                </span>
              </p>
              {(told.length > 0 || movedCount > 0) && (
                <p className="mt-1 pl-12 text-sm">
                  {[...new Set(told.map((b) => `${b.label}: ${WHAT[b.what] ?? b.what}`))].join('; ')}
                  {told.length > 0 && movedCount > 0 && '; '}
                  {movedCount > 0 && `${some(movedCount, 'blank')} moved`}
                </p>
              )}
              {c.wording.length > 0 && (
                <ul className="mt-1.5 space-y-0.5 pl-12 text-sm">
                  {c.wording.map((line, n) => (
                    <li key={n} className={line.startsWith('+') ? 'text-green-2' : 'text-wax line-through decoration-1'}>
                      {line.slice(2)}
                    </li>
                  ))}
                </ul>
              )}
            </li>
          );
        })}
      </ul>
      <p className="mt-3 text-sm text-ink-2">
        {some(read.same, 'form')} stay as they were. Open deals keep the editions they began with.
      </p>
    </>
  );
}

function Memberships() {
  const { data: memberships } = useQuery(membershipsQuery);
  const queries = useQueryClient();
  const [numbers, setNumbers] = useState<Record<string, string>>({});
  const check = useAction({
    mutationFn: (body: { association: string; number: string }) => got(client.POST('/api/memberships', { body })),
    onSuccess: (m) => {
      notify(m.open ? `Member ${m.number} is active; the forms are open.` : `Member ${m.number} is not active.`, {
        wrong: !m.open,
      });
      void queries.invalidateQueries();
    },
  });
  const forgotten = useAction({
    mutationFn: async (association: string) => ({ association, ...(await got(client.GET('/api/memberships/forgotten'))) }),
    onSuccess: ({ numbers, association }) => {
      const number = numbers[0];
      if (number) setNumbers((n) => ({ ...n, [association]: number }));
      else notify('The registry knows nobody of your name and licence.', { wrong: true });
    },
    onError: (error) => notify(error.message, { wrong: true }),
  });
  return (
    <>
      <h2 className="mb-1.5 text-sm font-semibold text-ink-2">Your memberships</h2>
      {(memberships ?? []).map((m) => {
        const number = numbers[m.association] ?? m.number;
        return (
          <form
            key={m.association}
            className="mb-2 border border-hair bg-paper px-3 py-2.5"
            onSubmit={(e) => {
              e.preventDefault();
              check.mutate({ association: m.association, number });
            }}
          >
            <p className="text-sm font-medium leading-snug">{m.association}</p>
            <p className={`mb-2 text-xs ${m.open ? 'text-ink-2' : 'text-wax'}`}>
              {m.open
                ? `active until ${shortDate(m.expires)}`
                : m.number
                  ? `not active, last known until ${shortDate(m.expires)}; its forms are closed`
                  : 'no number yet; its forms are closed'}
            </p>
            <div className="flex gap-2">
              <input
                className="field w-[130px]"
                aria-label={`Member number with ${m.association}`}
                placeholder="CL-12345"
                value={number}
                onChange={(e) => setNumbers({ ...numbers, [m.association]: e.target.value })}
              />
              <Button type="submit" disabled={check.isPending || !number.trim()}>
                Check
              </Button>
              <Button look="words" disabled={forgotten.isPending} onClick={() => forgotten.mutate(m.association)}>
                Forgotten?
              </Button>
            </div>
            {check.error && check.variables.association === m.association && (
              <p role="alert" className="mt-2 text-xs text-wax">
                {check.error.message} {'mend' in check.error ? String(check.error.mend) : ''}
              </p>
            )}
          </form>
        );
      })}
    </>
  );
}
