/** The package map beside the paper: every page small, the one being looked at marked. */
import { useEffect, useRef } from 'react';
import { THREE_COLUMNS, useWide } from '../../primitives/use-wide';
import { MiniPage } from '../../primitives/package-map';
import type { Page } from '../assembly/pages';

interface Props {
  pages: Page[];
  /** The place of the page that is being looked at. */
  here: number;
  /** The key whose places stand out. */
  lit: string;
  go: (page: Page) => void;
}

export function MapRail({ pages, here, lit, go }: Props) {
  const rail = useRef<HTMLElement>(null);
  const upright = useWide(THREE_COLUMNS);
  useEffect(() => {
    rail.current?.querySelector('[aria-current="page"]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [here]);
  return (
    <nav
      ref={rail}
      aria-label="Package map"
      className={upright ? 'h-full overflow-y-auto overflow-x-hidden py-3' : 'flex items-end overflow-x-auto px-2 py-1.5'}
    >
      {pages.map((p, n) => (
        <div key={p.id} className={upright ? '' : 'shrink-0'}>
          {p.first && (
            <p
              className={`px-2 text-xs font-semibold text-ink-2 ${upright ? 'pb-1 pt-2 text-center' : 'leading-tight'}`}
              title={p.document.title}
            >
              {p.document.number || 'rec’d'}
            </p>
          )}
          <button
            type="button"
            aria-label={p.label}
            aria-current={n === here ? 'page' : undefined}
            title={p.label}
            onClick={() => go(p)}
            className={`${upright ? 'mx-auto mb-1.5 block border-l-[3px] pl-1' : 'mx-0.5 block border-t-[3px] pt-0.5'} ${n === here ? 'border-green' : 'border-transparent'}`}
          >
            <MiniPage page={p} width={upright ? 62 : 36} lit={lit} />
          </button>
        </div>
      ))}
    </nav>
  );
}
