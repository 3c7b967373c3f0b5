/** One property as the county's roll has it: to read, to print, and to start a deal from. */
import { useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { Download, Printer } from 'lucide-react';
import type { ReactNode } from 'react';
import type { PropertyReport } from '../../api/client';
import { reportQuery } from '../../api/queries';
import { FileLink } from '../../primitives/file-link';
import { Button } from '../../primitives/button';
import { PageTitle } from '../../primitives/page-title';
import { PropertyFinder } from './property-finder';

export function PropertyScreen() {
  const { parcel = '', county = '', listing = '' } = useSearch({ from: '/property' });
  const navigate = useNavigate();
  const { data, error, isFetching } = useQuery(reportQuery(parcel, county));
  const which = new URLSearchParams({ parcel, county }).toString();
  return (
    <div className="flex h-full flex-col">
      <header className="flex min-h-[52px] shrink-0 flex-wrap items-center gap-3 border-b border-blotter-3 bg-sheet px-6 py-2">
        <PageTitle of="Property" />
        <h1 className="mr-2 font-serif text-[1.0625rem] font-semibold">Property</h1>
        <div className="w-[560px] max-w-full">
          <PropertyFinder
            key={parcel}
            label="Find a property"
            autoFocus={!parcel}
            onPick={(h) =>
              void navigate({ to: '/property', search: { parcel: h.parcel, county: h.county, listing: h.listing || undefined } })
            }
          />
        </div>
        {data && (
          <span className="ml-auto flex gap-2">
            <FileLink
              href={`/api/properties/report.pdf?${which}`}

              className="moves inline-flex items-center gap-1.5 rounded-md border border-blotter-3 bg-sheet px-3 py-1.5 text-sm font-medium hover:bg-paper"
            >
              <Download size={15} /> PDF
            </FileLink>
            <Button onClick={() => window.print()}>
              <Printer size={15} /> Print
            </Button>
            <Button
              look="act"
              onClick={() =>
                void navigate({
                  to: '/new',
                  search: { parcel: data.parcel, county: data.county, listing: listing || undefined, address: data.address },
                })
              }
            >
              Start a deal
            </Button>
          </span>
        )}
      </header>
      <div role="region" aria-label="Report" tabIndex={0} className="min-h-0 flex-1 overflow-auto px-6 py-5">
        {error && (
          <p role="alert" className="max-w-[720px] border border-wax bg-wax-wash px-4 py-3 text-wax">
            {error.message} {(error as { mend?: string }).mend}
          </p>
        )}
        {!parcel && (
          <p className="max-w-[720px] border border-hair bg-sheet px-6 py-10 text-center text-ink-2">
            See owners, legal description, assessments, taxes and sales of any parcel. Search by address, owner, parcel or listing
            number.
          </p>
        )}
        {parcel && isFetching && !data && <p className="text-ink-2">Asking the county’s tax roll …</p>}
        {data && <Report report={data} />}
      </div>
    </div>
  );
}

function Report({ report }: { report: PropertyReport }) {
  return (
    <article className="max-w-[900px] border border-hair bg-paper px-9 py-7 max-[620px]:px-4">
      <h2 className="font-serif text-[1.375rem] font-semibold leading-tight">{report.address || 'No address on the roll'}</h2>
      <p className="text-ink-2">
        Parcel {report.parcel}, {report.county} County
      </p>
      {report.sections.map((s) => (
        <Section key={s.title} title={s.title}>
          <dl className="grid grid-cols-[170px_minmax(0,1fr)] gap-y-0.5 max-[620px]:grid-cols-[110px_minmax(0,1fr)] max-[620px]:gap-x-3">
            {s.rows.map((r) => (
              <Line key={r.label} label={r.label}>
                {r.text}
              </Line>
            ))}
            {s.title === 'Ownership' && report.owners.length > 0 && (
              <Line label="Read as">
                {report.owners.map((o, n) => (
                  <span key={n} className="block">
                    {o.name}
                    {o.capacity && `, ${o.capacity}`}
                    {o.ask && <span className="text-ochre"> {o.ask}</span>}
                  </span>
                ))}
              </Line>
            )}
          </dl>
        </Section>
      ))}
      <div className="grid grid-cols-2 gap-x-10 max-[620px]:grid-cols-1">
        <Section title="Assessment and taxes by year">
          <Table
            heads={['Year', 'Assessed', 'Change', 'Tax']}
            rows={report.years.map((y) => [String(y.year), y.assessed, y.change, y.tax])}
            none="The county has no earlier years."
          />
        </Section>
        <Section title="Sales">
          <Table
            heads={['Date', 'Price', 'Per sq ft']}
            rows={report.sales.map((s) => [s.on, s.price, s.per_foot])}
            none="No sales on record."
          />
        </Section>
      </div>
    </article>
  );
}

const Section = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="mt-5">
    <h3 className="mb-1.5 border-b border-ink pb-0.5 font-serif text-[0.9375rem] font-semibold">{title}</h3>
    {children}
  </section>
);

const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  <>
    <dt className="text-ink-2">{label}</dt>
    <dd className="wrap-break-word">{children}</dd>
  </>
);

function Table({ heads, rows, none }: { heads: string[]; rows: string[][]; none: string }) {
  if (rows.length === 0) return <p className="text-ink-2">{none}</p>;
  return (
    <table className="w-full">
      <thead>
        <tr className="text-xs text-ink-3">
          {heads.map((h, n) => (
            <th key={h} scope="col" className={`font-medium ${n ? 'text-right' : 'text-left'}`}>
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row[0]}>
            {row.map((cell, n) => (
              <td key={n} className={`whitespace-nowrap py-0.5 ${n ? 'text-right' : ''}`}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
