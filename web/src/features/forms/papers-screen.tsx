/** Own papers: a PDF is dropped, its blanks are found, and it can be gone on with later. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useEffect, useRef, useState } from 'react';
import { client, got, upload, type PaperInWork, type PaperRow } from '../../api/client';
import { useAction } from '../../api/use-action';
import { formsQuery, papersQuery } from '../../api/queries';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { moment, some } from '../../primitives/format';
import { FormsHead } from './forms-head';

/** A few files are read at a time; one that waits for its turn says so. */
function Reading() {
  const [long, setLong] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLong(true), 6000);
    return () => clearTimeout(timer);
  }, []);
  return <>{long ? 'Still reading. Other files may be ahead of yours …' : 'Reading the paper …'}</>;
}

export function PapersScreen() {
  const { replaces, of } = useSearch({ from: '/forms/papers' });
  return (
    <div className="flex h-full flex-col">
      <FormsHead here="papers" />
      <div className="min-h-0 flex-1 overflow-auto">
        <div className="mx-auto w-full max-w-[860px] px-6 pb-12 pt-6">
          <DropHere replaces={replaces} of={of} />
          <InWork />
          <OwnForms />
        </div>
      </div>
    </div>
  );
}

/** A PDF dropped or chosen is read; with `replaces` as the next edition of a form, called `of`. */
function DropHere({ replaces, of }: { replaces: string | undefined; of: string | undefined }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const read = useAction({
    mutationFn: (file: File, key: string) => upload<PaperInWork>('/api/papers', file, key, replaces ? { replaces } : {}),
    onSuccess: (paper) => {
      stands(queries, ['paper', paper.id], paper);
      void queries.invalidateQueries({ queryKey: ['papers'] });
      void navigate({ to: '/forms/papers/$paper', params: { paper: paper.id } });
    },
  });
  return (
    <div
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        const file = e.dataTransfer.files[0];
        if (file) read.mutate(file);
      }}
      className={`border border-dashed px-8 py-10 text-center ${over ? 'border-green bg-green-wash' : 'border-ink-3 bg-sheet'}`}
    >
      <p className="mb-1 font-medium">{of ? `Drop the next edition of ${of} here` : 'Drop a PDF here'}</p>
      <p className="mx-auto mb-4 max-w-[540px] text-sm text-ink-2">
        {of
          ? 'Its blanks keep their meaning. New, removed and moved blanks are shown.'
          : 'Fillable forms are read with their blanks, and what each probably asks for is suggested. On papers without fields you place the blanks yourself. Scripts and actions are left out. Only you can see it until you share it.'}
      </p>
      <input
        ref={picker}
        type="file"
        accept="application/pdf,.pdf"
        className="sr-only"
        aria-label="PDF to read"
        tabIndex={-1}
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) read.mutate(file);
          e.target.value = '';
        }}
      />
      <Button look="act" disabled={read.isPending} onClick={() => picker.current?.click()}>
        {read.isPending ? <Reading /> : 'Choose a file'}
      </Button>
      {read.error && (
        <p role="alert" className="mx-auto mt-4 max-w-[540px] border border-wax bg-wax-wash px-3 py-2 text-sm text-wax">
          {read.error.message} {'mend' in read.error ? String(read.error.mend) : ''}
        </p>
      )}
    </div>
  );
}

/** Who can open a paper in work, in words. */
function whoSees(paper: PaperRow): string {
  if (paper.shared) return 'Everyone in your brokerage can see it.';
  return paper.proposed_by ? 'You and whoever approves forms can see it.' : 'Only you can see it.';
}

/** Papers that aren't forms yet. */
function InWork() {
  const { data: papers } = useQuery(papersQuery);
  const queries = useQueryClient();
  const drop = useAction({
    mutationFn: (id: string) => got(client.DELETE('/api/papers/{reading}', { params: { path: { reading: id } } })),
    onSuccess: (_, id) => {
      const again = () => queries.invalidateQueries({ queryKey: ['papers'] });
      const back = () => got(client.POST('/api/papers/{reading}', { params: { path: { reading: id } } })).then(again, sayProblem);
      notify('The draft was removed.', { action: { label: 'Undo', run: () => void back() } });
      return again();
    },
    onError: sayProblem,
  });
  const share = useAction({
    mutationFn: ({ id, shared }: { id: string; shared: boolean }) =>
      got(client.POST('/api/papers/{reading}/share', { params: { path: { reading: id } }, body: { shared } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['papers'] }),
    onError: sayProblem,
  });
  return (
    <>
      <h2 className="mb-1.5 mt-7 text-sm font-semibold text-ink-2">Drafts</h2>
      <ul className="border border-hair bg-paper">
        {(papers ?? []).map((p) => (
          <li key={p.id} className="flex items-center gap-3 border-b border-hair px-3 py-2 last:border-0">
            <span className="min-w-0 flex-1">
              <Link to="/forms/papers/$paper" params={{ paper: p.id }} className="font-medium hover:text-green-2 hover:underline">
                {p.title || p.name}
              </Link>
              <span className="block text-xs text-ink-2">
                {p.name}, {some(p.pages, 'page')},{' '}
                {p.blanks ? `${p.confirmed} of ${some(p.blanks, 'blank')} confirmed` : 'no blanks yet'}, {p.by}, {moment(p.made)}
                {p.proposed_by && <span className="font-medium text-ochre">, proposed by {p.proposed_by}</span>}
              </span>
              <span className="block text-xs text-ink-2">{whoSees(p)}</span>
            </span>
            {p.mine && (
              <Button look="words" disabled={share.isPending} onClick={() => share.mutate({ id: p.id, shared: !p.shared })}>
                {p.shared ? 'Stop sharing' : 'Share'}
              </Button>
            )}
            <Button
              look="words"
              className={p.mine ? '' : 'invisible'}
              disabled={drop.isPending || !p.mine}
              onClick={() => drop.mutate(p.id)}
              aria-label={`Drop ${p.title || p.name}`}
            >
              Drop
            </Button>
          </li>
        ))}
        {papers?.length === 0 && <li className="px-3 py-3 text-sm text-ink-2">No drafts.</li>}
      </ul>
    </>
  );
}

function OwnForms() {
  const { data: forms } = useQuery(formsQuery({ find: '', side: '', kind: '' }));
  const own = (forms ?? []).filter((f) => f.own);
  return (
    <>
      <h2 className="mb-1.5 mt-7 text-sm font-semibold text-ink-2">Forms of the brokerage</h2>
      <ul className="border border-hair bg-paper">
        {own.map((f) => (
          <li key={f.edition} className="flex items-center gap-3 border-b border-hair px-3 py-2 last:border-0">
            <span className="w-10 shrink-0 font-semibold">{f.number}</span>
            <span className="min-w-0 flex-1">
              <Link to="/forms" search={{ edition: f.edition }} className="font-medium hover:text-green-2 hover:underline">
                {f.title}
              </Link>
              <span className="block text-xs text-ink-2">
                {some(f.pages, 'page')}, {some(f.blanks, 'blank')}. {f.purpose}
              </span>
            </span>
            <Link
              to="/forms/papers"
              search={{ replaces: f.edition, of: `${f.number} ${f.title}` }}
              className="text-sm text-green-2 hover:underline"
            >
              Next edition
            </Link>
          </li>
        ))}
        {forms && own.length === 0 && (
          <li className="px-3 py-3 text-sm text-ink-2">The brokerage has no forms of its own yet.</li>
        )}
      </ul>
    </>
  );
}
