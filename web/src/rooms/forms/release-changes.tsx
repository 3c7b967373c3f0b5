/** What a release changed, form by form: new, retired, blanks and wording. */
import type { ReleaseRead } from '../../api/client';
import { some } from '../../primitives/words';

const WHAT: Record<string, string> = { new: 'new', gone: 'gone', moved: 'moved', means: 'asks for something else' };

export function ReleaseChanges({ read }: { read: ReleaseRead }) {
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
