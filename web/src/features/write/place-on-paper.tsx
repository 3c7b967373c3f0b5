/** Where on the paper a question's answer stands, live: its page, scrolled to the place. */
import { useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { Blank } from '../../api/client';
import { pagesOf } from '../assembly/pages';
import { useWorkspace } from '../workspace/workspace';
import { idOf } from '../workspace/way';
import { PaperPage } from './paper-page';

const EDGE = 12;

export function PlaceOnPaper({ blank, onBlank }: { blank: Blank; onBlank: (blank: Blank) => void }) {
  const { held } = useWorkspace();
  const page = useMemo(
    () => pagesOf(held).find((p) => p.document.id === blank.document && p.number === blank.page),
    [held, blank.document, blank.page],
  );
  const scroller = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const { size } = page ?? {};
  const height = size ? Math.round((width * size.height) / size.width) : 0;
  const top = size ? (1 - (blank.rect[3] ?? 0) / size.height) * height : 0;
  useLayoutEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const watch = new ResizeObserver(() => setWidth(Math.max(280, node.clientWidth - 2 * EDGE)));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  useLayoutEffect(() => {
    const node = scroller.current;
    if (node) node.scrollTop = Math.max(0, top - node.clientHeight / 3);
  }, [top, blank.document, blank.page]);
  const blanks = page?.blanks;
  const byId = useMemo(() => new Map(blanks?.map((b) => [idOf(b), b])), [blanks]);
  return (
    <div ref={scroller} className="h-full overflow-auto bg-blotter" style={{ padding: EDGE }} data-testid="place">
      {page && width > 0 && (
        <>
          <p className="mb-1.5 text-xs text-ink-2">{page.label}</p>
          <div style={{ width, height }} className="relative">
            <PaperPage
              page={page}
              width={width}
              inHand={idOf(blank)}
              lit={blank.key}
              onHand={(id) => {
                const found = id ? byId.get(id) : undefined;
                if (found && found.key !== blank.key) onBlank(found);
              }}
            />
          </div>
        </>
      )}
    </div>
  );
}
