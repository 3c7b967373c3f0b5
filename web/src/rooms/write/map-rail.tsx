/** The package map beside the paper: every page small, the one being looked at marked. */
import { useEffect, useRef } from 'react';
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
  const rail = useRef<HTMLDivElement>(null);
  useEffect(() => {
    rail.current?.querySelector('[aria-current="page"]')?.scrollIntoView({ block: 'nearest' });
  }, [here]);
  return (
    <nav ref={rail} aria-label="Package map" className="overflow-y-auto overflow-x-hidden border-r border-blotter-3 py-3">
      {pages.map((p, n) => (
        <div key={p.id}>
          {p.first && (
            <p className="px-2 pb-1 pt-2 text-center text-xs font-semibold text-ink-2" title={p.document.title}>
              {p.document.number || 'came'}
            </p>
          )}
          <button
            type="button"
            aria-label={p.label}
            aria-current={n === here ? 'page' : undefined}
            title={p.label}
            onClick={() => go(p)}
            className={`mx-auto mb-1.5 block border-l-[3px] pl-1 ${n === here ? 'border-green' : 'border-transparent'}`}
          >
            <MiniPage page={p} width={62} lit={lit} />
          </button>
        </div>
      ))}
    </nav>
  );
}
