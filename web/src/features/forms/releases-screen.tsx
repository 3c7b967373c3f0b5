/** Releases of the associations' packs, what each changed, and the member numbers that open them. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { client, got, upload, type ReleaseRead } from '../../api/client';
import { useAction } from '../../api/use-action';
import { releaseChangesQuery, releasesQuery, sessionQuery } from '../../api/queries';
import { FileLink } from '../../primitives/file-link';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { shortDate, some } from '../../primitives/format';
import { FormsHead } from './forms-head';
import { Memberships } from './memberships';
import { ReleaseChanges } from './release-changes';

export function ReleasesScreen() {
  const { data: releases } = useQuery(releasesQuery);
  const { data: session } = useQuery(sessionQuery);
  const [chosen, setChosen] = useState<string | null>(null);
  const shown = chosen ?? releases?.find((r) => r.newest && !r.own)?.id ?? null;
  const { data: changes, isLoading: isComparing } = useQuery({ ...releaseChangesQuery(shown ?? ''), enabled: shown !== null });
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
  const looked = file ? read.data : undefined;
  const look = (pack: File) => {
    setFile(pack);
    read.mutate({ pack, take: false });
  };
  return (
    <div className="flex h-full flex-col">
      <FormsHead here="releases" />
      <div className="grid min-h-0 flex-1 max-[899px]:block max-[899px]:overflow-auto min-[900px]:grid-cols-[380px_minmax(0,1fr)]">
        <div className="overflow-auto border-blotter-3 px-6 py-5 max-[620px]:px-3 min-[900px]:border-r">
          <Memberships />
          <h2 className="mb-1.5 mt-7 text-sm font-semibold text-ink-2">Releases</h2>
          <ul className="border border-hair bg-paper">
            {releases?.map((r) => (
              <ReleaseRow key={r.id} release={r} isShown={r.id === shown} show={() => setChosen(r.id)} />
            ))}
          </ul>
          {session?.role === 'broker' && <ReadOne isBusy={read.isPending} onFile={look} />}
        </div>
        <div className="overflow-auto px-7 py-5" tabIndex={0} aria-label="Changes in a release">
          {file && read.error && <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">{read.error.message}</p>}
          {file && looked && looked.faults.length > 0 && <Faults of={looked} file={file.name} />}
          {file && looked?.faults.length === 0 && (
            <>
              <div className="mb-4 flex items-center gap-3">
                <h2 className="font-serif text-lg font-semibold">
                  The release of {shortDate(looked.released ?? '')} would change this
                </h2>
                <Button
                  look="act"
                  className="ml-auto"
                  disabled={read.isPending}
                  onClick={() => read.mutate({ pack: file, take: true })}
                >
                  Use this release
                </Button>
                <Button onClick={() => setFile(null)}>Cancel</Button>
              </div>
              <ReleaseChanges read={looked} />
            </>
          )}
          {!looked && isComparing && <p className="text-ink-2">Comparing with the previous release …</p>}
          {!looked && changes && (
            <>
              <h2 className="mb-4 font-serif text-lg font-semibold">
                Changes in the release of {shortDate(changes.released ?? '')}
              </h2>
              <ReleaseChanges read={changes} />
            </>
          )}
        </div>
      </div>
    </div>
  );
}

type Release = NonNullable<Awaited<ReturnType<NonNullable<(typeof releasesQuery)['queryFn']>>>>[number];

interface RowProps {
  release: Release;
  isShown: boolean;
  show: () => void;
}

function ReleaseRow({ release: r, isShown, show }: RowProps) {
  const queries = useQueryClient();
  const use = useAction({
    mutationFn: (again: boolean) =>
      got(client.POST('/api/releases/{release}/use', { params: { path: { release: r.id } }, body: { use: again } })),
    onSuccess: (_, again) => {
      notify(
        again
          ? `The release of ${shortDate(r.released)} is in use again for new deals.`
          : `New deals begin with the previous release. Open deals keep what they have.`,
      );
      void queries.invalidateQueries();
    },
    onError: sayProblem,
  });
  return (
    <li className="flex items-center gap-2 border-b border-hair px-3 py-2 last:border-0">
      <button type="button" aria-current={isShown} onClick={show} className="min-w-0 flex-1 text-left">
        <span className={`block text-sm ${isShown ? 'font-semibold' : ''}`}>{shortDate(r.released)}</span>
        <span className="block text-xs text-ink-2">
          {r.association}, {some(r.forms, 'form')}
          {r.newest && !r.own && ', in use for new deals'}
          {r.left && ', not used: your brokerage went back'}
        </span>
      </button>
      {r.may_change && (
        <Button
          look="words"
          disabled={use.isPending}
          aria-label={`${r.left ? 'Use again' : 'Go back from'} the release of ${shortDate(r.released)}`}
          onClick={() => use.mutate(r.left)}
        >
          {r.left ? 'Use again' : 'Go back'}
        </Button>
      )}
      <FileLink
        href={`/api/releases/${r.id}.zip`}

        className="text-sm text-green-2 hover:underline"
        aria-label={`ZIP of the release of ${shortDate(r.released)}`}
      >
        ZIP
      </FileLink>
    </li>
  );
}

function ReadOne({ isBusy, onFile }: { isBusy: boolean; onFile: (pack: File) => void }) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <div className="mt-4">
      <input
        ref={picker}
        type="file"
        accept=".zip,application/zip"
        className="sr-only"
        tabIndex={-1}
        aria-label="Release to read"
        onChange={(e) => {
          const pack = e.target.files?.[0];
          if (pack) onFile(pack);
          e.target.value = '';
        }}
      />
      <Button disabled={isBusy} onClick={() => picker.current?.click()}>
        {isBusy ? 'Reading the release …' : 'Read a release'}
      </Button>
      <p className="mt-1.5 text-xs text-ink-2">A pack as ZIP. Nothing changes before you have seen what it does.</p>
    </div>
  );
}

const MOST_FAULTS = 40;

function Faults({ of, file }: { of: ReleaseRead; file: string }) {
  return (
    <div className="border border-wax bg-wax-wash px-4 py-3">
      <p className="mb-2 font-medium text-wax">
        {some(of.faults.length, 'fault')} in {file}. Nothing was changed.
      </p>
      <ul className="space-y-1 text-sm">
        {of.faults.slice(0, MOST_FAULTS).map((f, n) => (
          <li key={n}>
            <span className="font-medium">{f.place}</span> {f.message} {f.mend}
          </li>
        ))}
      </ul>
    </div>
  );
}
