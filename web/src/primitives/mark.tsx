/** Margin marks: where a value came from, as an editor's mark. Shape and ink both say it. */
import type { ReactNode } from 'react';

export type MarkName =
  | 'typed'
  | 'signer'
  | 'listing'
  | 'roll'
  | 'template'
  | 'profile'
  | 'form'
  | 'worked_out'
  | 'differs'
  | 'open'
  | 'must'
  | 'remark';

export const MARKS: Record<MarkName, { label: string; ink: string; shape: ReactNode }> = {
  typed: { label: 'typed here', ink: 'var(--color-src-typed)', shape: <path d="M2.5 10.5 7 3.5l4.5 7" /> },
  signer: {
    label: 'answered by a party',
    ink: 'var(--color-src-signer)',
    shape: <path d="M1.5 8.5c2-5 4-5 5.5-1s3.500 4 5.500-1" />,
  },
  listing: {
    label: 'from the listing',
    ink: 'var(--color-src-listing)',
    shape: <path d="M4.500 2.500v9M9.500 2.500v9M2.500 7h9" />,
  },
  roll: { label: 'from the tax roll', ink: 'var(--color-src-roll)', shape: <path d="M3 3h8M3 7h8M3 11h5" /> },
  template: { label: 'standing answer', ink: 'var(--color-src-template)', shape: <path d="M7 1.800v10.400M3.600 5h6.800" /> },
  profile: { label: 'from the profile', ink: 'var(--color-src-profile)', shape: <path d="M4 11.500V6.500a3 3 0 0 1 6 0v5" /> },
  form: { label: "the form's own", ink: 'var(--color-src-form)', shape: <path d="M7 6.900v.2" strokeWidth="3.4" /> },
  worked_out: { label: 'calculated', ink: 'var(--color-src-worked)', shape: <path d="M2.500 5.200h9M2.500 8.800h9" /> },
  differs: {
    label: 'sources differ',
    ink: 'var(--color-ochre)',
    shape: <path d="M2.500 5.200h9M2.500 8.800h9M9.200 2.200 4.800 11.800" />,
  },
  must: { label: 'must be fixed', ink: 'var(--color-wax)', shape: <path d="M3.500 2.500H8v9H3.500M11 2.500v9" /> },
  remark: { label: 'to review', ink: 'var(--color-ochre)', shape: <path d="M4.500 2.500H9v9H4.500" /> },
  open: { label: 'unanswered', ink: 'var(--color-wax)', shape: <circle cx="7" cy="7" r="4" /> },
};

/** One mark, 14 px unless said otherwise; with `quiet` it is left to its neighbour text to say what it means. */
export function Mark({ name, size = 14, quiet = false }: { name: MarkName; size?: number; quiet?: boolean }) {
  const mark = MARKS[name];
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 14 14"
      fill="none"
      stroke={mark.ink}
      strokeWidth="1.7"
      strokeLinecap="round"
      strokeLinejoin="round"
      role={quiet ? 'presentation' : 'img'}
      aria-label={quiet ? undefined : mark.label}
      className="inline-block shrink-0 align-[-2px]"
    >
      {!quiet && <title>{mark.label}</title>}
      {mark.shape}
    </svg>
  );
}

/** The mark that a source or a state calls for. */
export const markOf = (source: string | null, differs = false): MarkName | null =>
  differs ? 'differs' : source && source in MARKS ? (source as MarkName) : null;

/** What the marks mean, once; `without` those that the screen doesn't show. */
export function Legend({ without = [] }: { without?: MarkName[] }) {
  return (
    <ul className="flex flex-wrap gap-x-4 gap-y-1 text-xs text-ink-2">
      {(Object.keys(MARKS) as MarkName[])
        .filter((n) => n !== 'signer' && n !== 'form' && !without.includes(n))
        .map((name) => (
          <li key={name} className="flex items-center gap-1.5 whitespace-nowrap">
            <Mark name={name} quiet size={12} /> {MARKS[name].label}
          </li>
        ))}
    </ul>
  );
}
