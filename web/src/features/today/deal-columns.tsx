/** The columns of a list of deals, in their order: heading, width, and what each row shows there. */
import { Link } from '@tanstack/react-router';
import type { ReactNode } from 'react';
import type { DealRow } from '../../api/client';
import { moment, shortDate } from '../../primitives/format';
import { Mark } from '../../primitives/mark';
import { MapStrip, readTicks } from '../../primitives/package-map';

interface Column {
  title: string;
  /** In pixels; the column without one takes what is left. */
  width?: number;
  className?: string;
  /** Set at the right, heading and all. */
  right?: boolean;
  /** Where rows are blocks, this one has a line of its own. */
  wide?: boolean;
  /** Shown only where the list has more than one agent's deals. */
  ofAgents?: boolean;
  cell: (deal: DealRow) => ReactNode;
}

const COLUMNS: Column[] = [
  { title: 'Deal', wide: true, cell: (deal) => <Named deal={deal} /> },
  { title: 'Package', width: 250, wide: true, cell: (deal) => <Pages deal={deal} /> },
  { title: 'Blanks', width: 140, className: 'whitespace-nowrap text-sm', cell: (deal) => <Unanswered deal={deal} /> },
  { title: 'Price', width: 124, className: 'whitespace-nowrap text-sm', right: true, cell: (deal) => <Price deal={deal} /> },
  {
    title: 'Next date',
    width: 120,
    className: 'whitespace-nowrap text-sm max-[760px]:ml-auto',
    cell: (deal) => <NextDate deal={deal} />,
  },
  { title: 'Agent', width: 150, className: 'text-sm leading-tight text-ink-2', ofAgents: true, cell: (deal) => deal.agent },
];

export const columnsFor = (agents: boolean): Column[] => COLUMNS.filter((column) => agents || !column.ofAgents);

/** A deal in its row. */
export function Cells({ deal, columns }: { deal: DealRow; columns: Column[] }) {
  return columns.map(({ title, className = '', right, wide, cell }) => (
    <td
      key={title}
      className={`px-3 py-2 max-[760px]:py-1 ${wide ? 'max-[760px]:w-full' : ''} ${right ? 'text-right' : ''} ${className}`}
    >
      {cell(deal)}
    </td>
  ));
}

function Named({ deal }: { deal: DealRow }) {
  return (
    <>
      <Link
        to="/deals/$deal/write"
        params={{ deal: deal.id }}
        className="block font-semibold leading-snug after:absolute after:inset-0 group-hover:text-green-2"
      >
        {deal.name}
      </Link>
      <span className="text-xs text-ink-2">
        {deal.side}
        {deal.touched_by && ` · ${moment(deal.touched)}, ${deal.touched_by}`}
      </span>
    </>
  );
}

function Pages({ deal }: { deal: DealRow }) {
  if (deal.map.length === 0) return <span className="text-xs text-ink-3">no forms yet</span>;
  const pages = deal.map.map((page, n) => ({ id: String(n), label: '', ticks: readTicks(page) }));
  return <MapStrip pages={pages} label={`${pages.length} pages, ${deal.open} of ${deal.blanks} blanks unanswered`} />;
}

function Unanswered({ deal }: { deal: DealRow }) {
  if (deal.stage !== 'filling' || !deal.blanks) return null;
  if (deal.open === 0) return <span className="text-ink-2">all answered</span>;
  return (
    <span className="flex items-center gap-1.5">
      <Mark name="open" quiet size={12} /> {deal.open} unanswered
    </span>
  );
}

function Price({ deal }: { deal: DealRow }) {
  return (
    <>
      {deal.price.replace(/\.00$/, '')}
      {deal.price && deal.priced !== 'Purchase price' && (
        <span className="block text-xs text-ink-3">{deal.priced.toLowerCase()}</span>
      )}
    </>
  );
}

function NextDate({ deal }: { deal: DealRow }) {
  return (
    deal.next && (
      <>
        {shortDate(deal.next.date)}{' '}
        <span className="block truncate text-xs text-ink-3" title={deal.next.label}>
          {deal.next.label}
        </span>
      </>
    )
  );
}
