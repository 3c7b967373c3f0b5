/** A form looked at before it is used: what it is for, its pages, and what each blank asks for. */
import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import type { components } from '../../api/schema';
import type { FormChoice } from '../../api/client';
import { formSheetQuery } from '../../api/queries';
import { Mark } from '../../primitives/mark';
import { PagePicture } from '../../primitives/page-picture';
import { shortDate } from '../../primitives/format';

type Blank = components['schemas']['FormSheet']['fields_on_pages'][number];

/** Drawn when its release was taken in, and sharp on dense screens. */
const DOTS = 165;

export function FormPreview({ form: f }: { form: FormChoice }) {
  const { data: sheet } = useQuery(formSheetQuery(f.edition));
  const [lit, setLit] = useState('');
  useEffect(() => setLit(''), [f.edition]);
  const blanks = sheet?.edition === f.edition ? sheet.fields_on_pages : [];
  return (
    <section aria-label={`Form ${f.number}`} className="flex min-h-0 flex-1 flex-col">
      <About form={f} lit={lit} />
      <div className="min-h-0 flex-1 overflow-auto bg-blotter-2 px-5 py-4" tabIndex={0} aria-label="Pages">
        {Array.from({ length: f.pages }, (_, n) => {
          const [width = 612, height = 792] = sheet?.sizes[n] ?? [];
          return (
            <div
              key={`${f.edition}-${n}`}
              className="on-paper relative mx-auto mb-4 max-w-[620px] border border-blotter-3 bg-paper"
            >
              <PagePicture
                src={`/api/editions/${f.edition}/pages/${n + 1}/${DOTS}.png`}
                alt={`Page ${n + 1}`}
                loading="lazy"
                width={width}
                height={height}
                className="block h-auto w-full"
              />
              {blanks
                .filter((b) => b.page === n + 1)
                .map((b) => (
                  <Spot key={b.id} blank={b} width={width} height={height} say={setLit} />
                ))}
            </div>
          );
        })}
      </div>
    </section>
  );
}

/** What the form is for and whose it is to fill; under it, what the blank pointed at asks for. */
function About({ form: f, lit }: { form: FormChoice; lit: string }) {
  return (
    <div className="border-b border-blotter-3 px-5 py-3">
      <h2 className="font-serif text-lg font-semibold leading-tight">
        {f.number} {f.title}
      </h2>
      {f.purpose && <p className="mt-1 text-sm">{f.purpose}</p>}
      <p className="mt-1 text-xs text-ink-2">
        Edition of {shortDate(f.released)}, {f.association}. For {f.audience.join(' and ')}.{' '}
        {f.filled_by.length > 0 && f.filled_by.length < f.sides.length
          ? `Ours to fill when ${f.filled_by.join(' or ')}; otherwise expected from the other side.`
          : `Used when ${f.sides.join(', ')}.`}
        {f.own && (
          <>
            {' '}
            <Link
              to="/forms/papers"
              search={{ replaces: f.edition, of: `${f.number} ${f.title}` }}
              className="text-green-2 underline"
            >
              Read its next edition
            </Link>
          </>
        )}
      </p>
      <p className="mt-1 h-4 truncate text-xs" aria-live="polite">
        {lit ? (
          <>
            <Mark name="open" quiet size={10} /> {lit}
          </>
        ) : (
          <span className="text-ink-3">Point at a blank to see what it asks for.</span>
        )}
      </p>
    </div>
  );
}

function Spot({ blank: b, width, height, say }: { blank: Blank; width: number; height: number; say: (text: string) => void }) {
  const [left = 0, bottom = 0, right = 0, top = 0] = b.rect;
  const asks = [b.label, b.key, b.who.replace('.', ' ')].filter(Boolean).join(' · ');
  return (
    <span
      onMouseEnter={() => say(asks)}
      onMouseLeave={() => say('')}
      className="absolute mix-blend-multiply hover:bg-green-wash hover:outline hover:outline-green"
      style={{
        left: `${(left / width) * 100}%`,
        top: `${(1 - top / height) * 100}%`,
        width: `${((right - left) / width) * 100}%`,
        height: `${((top - bottom) / height) * 100}%`,
      }}
    />
  );
}
