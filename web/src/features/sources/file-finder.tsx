/** Finding a home in a file: a RESO JSON export, or a county's CSV whose columns are mapped once. */
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { client, got, upload, type SourceFile } from '../../api/client';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { FileButton } from '../../primitives/file-button';
import { some } from '../../primitives/format';

export function FileFinder({ onPick }: { onPick: (file: string, row: number) => void }) {
  const [file, setFile] = useState<SourceFile | null>(null);
  const [mapping, setMapping] = useState(false);
  const read = useAction({
    mutationFn: (chosen: File, key: string) => upload<SourceFile>('/api/property-files', chosen, key),
    onSuccess: (found) => {
      setFile(found);
      setMapping(found.kind === 'roll' && !found.remembered);
    },
  });
  return (
    <div className="mt-3 text-sm">
      <div className="flex items-center gap-2">
        <FileButton label="File with property data" accept=".json,.csv,.txt,.tsv,application/json,text/csv" onFile={read.mutate}>
          {read.isPending
            ? 'Reading the file …'
            : file
              ? 'Another file'
              : 'From a file: a listing export (RESO JSON) or a county’s CSV'}
        </FileButton>
        {file && (
          <span className="text-ink-2">
            {file.name}, {some(file.rows, 'row')}
          </span>
        )}
        {file?.kind === 'roll' && !mapping && (
          <Button look="words" onClick={() => setMapping(true)}>
            {file.remembered ? 'Columns as last time' : 'Columns'}
          </Button>
        )}
      </div>
      {read.error && (
        <p role="alert" className="mt-1 text-wax">
          {read.error.message} {(read.error as { mend?: string }).mend}
        </p>
      )}
      {file && mapping && (
        <Columns
          key={file.id}
          file={file}
          onMapped={(mapped) => {
            setFile(mapped);
            setMapping(false);
          }}
        />
      )}
      {file && !mapping && <Rows file={file} onPick={(row) => onPick(file.id, row)} />}
    </div>
  );
}

/** Which of the file's columns holds what. */
function Columns({ file, onMapped }: { file: SourceFile; onMapped: (file: SourceFile) => void }) {
  const byTheirs = Object.fromEntries(Object.entries(file.mapping).map(([ours, theirs]) => [theirs, ours]));
  const [said, setSaid] = useState<Record<string, string>>(byTheirs);
  const keep = useAction({
    mutationFn: () => {
      const mapping = Object.fromEntries(
        Object.entries(said)
          .filter(([, ours]) => ours)
          .map(([theirs, ours]) => [ours, theirs]),
      );
      return got(client.POST('/api/property-files/{file}', { params: { path: { file: file.id } }, body: { mapping } }));
    },
    onSuccess: onMapped,
  });
  const times = (ours: string) => Object.values(said).filter((o) => o === ours).length;
  return (
    <form
      className="mt-2 border border-hair bg-paper"
      onSubmit={(e) => {
        e.preventDefault();
        keep.mutate();
      }}
    >
      <p className="border-b border-hair px-3 py-2 text-ink-2">
        Match this county’s columns once. We remember them for files with the same columns.
      </p>
      <div className="max-h-[300px] overflow-auto">
        <table className="w-full">
          <thead>
            <tr className="border-b border-hair text-left text-xs text-ink-3">
              {['Column', 'First row', 'Holds'].map((h) => (
                <th key={h} scope="col" className="px-3 py-1 font-medium">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {file.columns.map((c) => (
              <tr key={c.name} className="border-b border-hair last:border-0">
                <th scope="row" className="px-3 py-0.5 text-left font-medium">
                  {c.name}
                </th>
                <td className="max-w-[220px] truncate px-3 py-0.5 text-ink-2">{c.sample}</td>
                <td className="w-[240px] px-3 py-0.5">
                  <select
                    className={`field w-full py-0.5! ${said[c.name] && times(said[c.name] ?? '') > 1 ? 'border-wax!' : ''}`}
                    aria-label={`${c.name} holds`}
                    value={said[c.name] ?? ''}
                    onChange={(e) => setSaid({ ...said, [c.name]: e.target.value })}
                  >
                    <option value="">left out</option>
                    {Object.entries(file.ours).map(([ours, label]) => (
                      <option key={ours} value={ours}>
                        {label}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="flex items-center gap-3 border-t border-hair px-3 py-2">
        <Button type="submit" look="act" disabled={keep.isPending}>
          Use these columns
        </Button>
        {keep.error && (
          <span role="alert" className="text-wax">
            {keep.error.message} {(keep.error as { mend?: string }).mend}
          </span>
        )}
      </div>
    </form>
  );
}

function Rows({ file, onPick }: { file: SourceFile; onPick: (row: number) => void }) {
  const [text, setText] = useState('');
  const find = useDeferredValue(text.trim());
  const { data = file } = useQuery({
    queryKey: ['source-file', file.id, find, file.mapping],
    queryFn: () => got(client.GET('/api/property-files/{file}', { params: { path: { file: file.id }, query: { find } } })),
    placeholderData: (before) => before,
  });
  return (
    <div className="mt-2">
      {file.rows > 3 && (
        <input
          className="field w-full"
          aria-label="Find a home in the file"
          placeholder="Number, address or owner in this file"
          value={text}
          autoFocus
          onChange={(e) => setText(e.target.value)}
        />
      )}
      <ul aria-label="Homes in the file" className="mt-1 border border-hair bg-paper">
        {data.found.map((home) => (
          <li key={home.row} className="border-b border-hair last:border-0">
            <button
              type="button"
              onClick={() => onPick(home.row)}
              className="moves flex w-full items-baseline gap-3 px-3 py-1 text-left hover:bg-green-wash"
            >
              <span className="min-w-0 flex-1 truncate font-medium">{home.address || 'No address'}</span>
              <span className="truncate text-xs text-ink-2">
                {[home.listing && `Listing ${home.listing}`, home.owner, home.parcel && `parcel ${home.parcel}`]
                  .filter(Boolean)
                  .join(' · ')}
              </span>
            </button>
          </li>
        ))}
        {data.found.length === 0 && <li className="px-3 py-2 text-ink-2">No row of the file has “{find}”.</li>}
      </ul>
    </div>
  );
}
