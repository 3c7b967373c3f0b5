/** What a release changed, form by form: new, retired, blanks and wording. */
import type { ReleaseRead } from '../../api/client';
import { some } from '../../primitives/format';

const WHAT: Record<string, string> = {
  new: 'new',
  gone: 'gone',
  moved: 'moved',
  means: 'asks for something else',
  values: 'has other values',
};

type Difference = ReleaseRead['sheet'][number];

/** What is said otherwise: as it was and as it is. */
function Differences({ of }: { of: Difference[] }) {
  return (
    <ul className="mt-1 space-y-0.5 text-sm">
      {of.map((d) => (
        <li key={d.what} className="wrap-break-word">
          <span className="text-ink-2">{d.what}:</span> {d.was && <del className="text-wax">{d.was}</del>}
          {d.was && d.now && ' '}
          {d.now ? <ins className="text-green-2 no-underline">{d.now}</ins> : <span className="text-ink-2">no longer</span>}
        </li>
      ))}
    </ul>
  );
}

/** Rates, holidays and clock, and the answers of templates: what changes deals without a form being changed. */
function Beside({ read }: { read: ReleaseRead }) {
  return (
    <>
      {read.sheet.length > 0 && (
        <section className="mb-4 border border-hair bg-paper px-4 py-3">
          <h3 className="font-medium">Rates, holidays and clock</h3>
          <Differences of={read.sheet} />
        </section>
      )}
      {read.templates.length > 0 && (
        <section className="mb-4 border border-hair bg-paper px-4 py-3">
          <h3 className="font-medium">Templates</h3>
          <ul>
            {read.templates.map((t) => (
              <li key={t.name} className="mt-1.5">
                <p className="text-sm font-medium">
                  {t.name} <span className="font-normal text-ink-2">{t.what}</span>
                </p>
                <Differences of={t.parts} />
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

export function ReleaseChanges({ read }: { read: ReleaseRead }) {
  const saysNothing = read.changes.length + read.sheet.length + read.templates.length === 0;
  if (saysNothing && read.same > 0)
    return <p className="text-ink-2">No changes: forms, rates, holidays and templates are the same as before.</p>;
  if (saysNothing)
    return <p className="text-ink-2">This is the first release of its association here. There is nothing to compare it with.</p>;
  return (
    <>
      <Beside read={read} />
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
