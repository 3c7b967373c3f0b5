/** The header of what is worked on: what it is, its places, and what is done with the whole. In two rows where there is no room. */
import { Link, useRouterState } from '@tanstack/react-router';
import { useEffect, useRef, type ReactNode } from 'react';
import { PageTitle } from './page-title';

interface Props {
  /** What it is; the places never move, however long that gets. */
  children: ReactNode;
  label: string;
  /** What is at hand, as a heading of this part. */
  what: string;
  /** Its own name, for the page's title. */
  name: string;
  /** The places' routes, the parameters that they share, and what they are called. */
  places: readonly (readonly [to: string, label: string])[];
  params: Record<string, string>;
  tools: ReactNode;
}

export function WorkHead({ children, label, what, name, places, params, tools }: Props) {
  const here = useRouterState({ select: (s) => s.location.pathname });
  const nav = useRef<HTMLElement>(null);
  useEffect(() => {
    // In a row that scrolls, the place where one is stays in sight.
    nav.current?.querySelector('.active')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [here]);
  const place = places.find(([to]) => here.endsWith(to.slice(to.lastIndexOf('/'))))?.[1];
  return (
    <section
      aria-label={what}
      className="flex shrink-0 flex-wrap items-center gap-x-5 border-b border-blotter-3 bg-sheet px-5 max-[900px]:px-3"
    >
      <PageTitle of={place ? `${name} · ${place}` : name} />
      <div className="min-w-0 py-1 max-[1099px]:w-0 max-[1099px]:flex-1 min-[1100px]:max-[1199px]:w-[calc(100vw-925px)] min-[1200px]:w-[340px]">
        {children}
      </div>
      <nav
        ref={nav}
        aria-label={label}
        className="flex self-stretch max-[1099px]:order-last max-[1099px]:-mx-3 max-[1099px]:w-[calc(100%+24px)] max-[1099px]:overflow-x-auto max-[1099px]:border-t max-[1099px]:border-hair"
      >
        {places.map(([to, called]) => (
          <Link
            key={to}
            to={to}
            params={params}
            className="flex min-h-10 items-center border-b-2 border-transparent px-3.5 pt-0.5 text-sm font-medium text-ink-2 hover:text-ink min-[1100px]:max-[1199px]:px-2 min-[1200px]:max-[1359px]:px-2.5 [&.active]:border-green [&.active]:text-ink"
          >
            {called}
          </Link>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-1.5">{tools}</div>
    </section>
  );
}
