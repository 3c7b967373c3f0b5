/** Writing on the paper: the package as it will print, the map beside it, the lens for the blank in hand. */
import { useCallback, useMemo, useState, type ReactNode } from 'react';
import type { Blank } from '../../api/client';
import { Columns } from '../../primitives/columns';
import { pagesOf, type Page } from '../assembly/pages';
import { useContinuation } from '../assembly/use-continuation';
import { useWorkspace } from '../workspace/workspace';
import { idOf } from '../workspace/way';
import { BlankInHand, HowToWrite, NothingYet, OpenCount } from './beside-paper';
import type { Hit } from './find';
import { FindBar } from './find-bar';
import { MapRail } from './map-rail';
import { PaperPage } from './paper-page';
import { PaperTools } from './paper-tools';
import { usePrinting } from './printing';
import { useArrival, useKeptPlace } from './use-arrival';
import { useFind, useFindKey, type Find } from './use-find';
import { usePaper } from './use-paper';
import { useRemarks, type Remarks } from './use-remarks';
import { useWorkedOn } from './use-worked-on';
import { useZoom } from './zoom';

export function OnPaper({ switcher }: { switcher: ReactNode }) {
  const { held, outbox } = useWorkspace();
  const further = useContinuation();
  const remarks = useRemarks();
  const pages = useMemo(() => pagesOf(held, further), [held, further]);
  const [inHand, setInHand] = useState<string | null>(null);
  const here = useMemo(() => held.blanks.find((b) => idOf(b) === inHand) ?? null, [held.blanks, inHand]);
  const [zoom, choose] = useZoom();
  const paper = usePaper(pages, here, zoom);
  const { showBlank, showPage } = paper;
  const goTo = useCallback(
    (blank: Blank) => {
      outbox.flush(); // what is typed is on its way before the place is left
      if (showBlank(blank)) setInHand(idOf(blank));
    },
    [showBlank, outbox],
  );
  useKeptPlace({ inHand, page: pages[paper.middle]?.id ?? '', goTo });
  useArrival(pages, goTo, showPage);
  const find = useFind(pages, paper.middle, paper.showPlace);
  const { sheets, print } = usePrinting(pages);
  const worked = useWorkedOn(pages, paper);
  useFindKey(find.begin);
  const endFinding = () => {
    const blank = find.hits[find.at]?.blank ?? here;
    find.end();
    if (blank) goTo(blank);
    else paper.scroller.current?.focus();
  };
  if (pages.length === 0) return <NothingYet />;
  return (
    <Columns
      widths={[104, 290]}
      way={<MapRail pages={pages} here={paper.middle} lit={here?.key ?? ''} go={(p) => showPage(pages.indexOf(p))} />}
      edged
      edge={
        <>
          <span className="flex items-center justify-between gap-2 min-[900px]:basis-full">
            {switcher}
            <PaperTools zoom={zoom} choose={choose} find={find.begin} print={print} {...worked.tools} />
          </span>
          <OpenCount />
        </>
      }
      inHand={worked.inHand ?? inHand}
      lens={
        worked.lens ?? (here ? <BlankInHand blank={here} goTo={goTo} said={remarks.get(idOf(here)) ?? []} /> : <HowToWrite />)
      }
    >
      {find.open && <FindBar find={find} close={endFinding} />}
      {sheets}
      <Sheets
        paper={paper}
        find={find}
        inHand={inHand}
        lit={here?.key ?? ''}
        onHand={setInHand}
        remarks={remarks}
        layer={worked.layer}
        putting={worked.putting}
      />
    </Columns>
  );
}

interface SheetsProps {
  paper: ReturnType<typeof usePaper>;
  find: Find;
  inHand: string | null;
  lit: string;
  onHand: (id: string | null) => void;
  remarks: Remarks;
  /** What is laid over a page while it is worked on by hand. */
  layer: (page: Page, scale: number) => ReactNode;
  putting: boolean;
}

/** The pages that are in view, and a few around them. */
function Sheets({ paper, find, inHand, lit, onHand, remarks, layer, putting }: SheetsProps) {
  const hit = find.hits[find.at] ?? null;
  const byPage = useMemo(() => {
    const found = new Map<number, Hit[]>();
    for (const h of find.hits) found.set(h.at, [...(found.get(h.at) ?? []), h]);
    return found;
  }, [find.hits]);
  return (
    <div
      ref={paper.scroller}
      className={`absolute inset-0 overflow-auto outline-none ${find.open ? 'top-12' : ''}`}
      data-testid="paper"
      tabIndex={-1}
    >
      <div style={{ height: paper.height, minWidth: paper.width + 8 }} className="relative">
        {paper.shown.map(({ page, at, top, height }) => (
          <div
            key={page.id}
            className="absolute left-1/2"
            style={{ top, width: paper.width, height, transform: 'translateX(-50%)' }}
          >
            <PaperPage
              page={page}
              width={paper.width}
              inHand={inHand}
              lit={lit}
              onHand={onHand}
              remarks={remarks}
              hits={byPage.get(at)}
              hit={hit?.at === at ? hit : null}
              putting={putting}
            >
              {layer(page, paper.width / page.size.width)}
            </PaperPage>
          </div>
        ))}
      </div>
    </div>
  );
}
