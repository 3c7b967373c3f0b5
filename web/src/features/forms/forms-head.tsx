/** The head of the Forms screens: the three places, and what a screen adds. */
import { Link } from '@tanstack/react-router';
import type { ReactNode } from 'react';
import { PageTitle } from '../../primitives/page-title';

const PLACES = [
  ['/forms', 'forms', 'Find'],
  ['/forms/papers', 'papers', 'Own papers'],
  ['/forms/releases', 'releases', 'Releases and membership'],
] as const;

export function FormsHead({ here, children }: { here: 'forms' | 'papers' | 'releases'; children?: ReactNode }) {
  return (
    <header className="flex min-h-[52px] shrink-0 flex-wrap items-center gap-3 border-b border-blotter-3 bg-sheet px-6 max-[899px]:py-1.5 max-[620px]:px-3">
      <PageTitle of={`${PLACES.find(([, name]) => name === here)![2]} · Forms`} />
      <h1 className="mr-2 font-serif text-[1.0625rem] font-semibold">Forms</h1>
      <nav aria-label="Sections of Forms" className="mr-3 flex self-stretch overflow-x-auto max-[899px]:min-h-10">
        {PLACES.map(([to, name, label]) => (
          <Link
            key={to}
            to={to}
            aria-current={name === here ? 'page' : undefined}
            className={`flex items-center whitespace-nowrap border-b-2 px-3 pt-0.5 text-sm font-medium ${name === here ? 'border-green text-ink' : 'border-transparent text-ink-2 hover:text-ink'}`}
          >
            {label}
          </Link>
        ))}
      </nav>
      {children}
    </header>
  );
}
