/**
 * The package on the browser's printer: every page as it stands in the PDF, and nothing else. On the screen only the pages in view
 * are drawn, so all of them are drawn for printing, out of sight, and their pictures waited for.
 */
import { useEffect, useRef, useState } from 'react';
import { createPortal, flushSync } from 'react-dom';
import { announce, notify } from '../../primitives/notices';
import { PagePicture } from '../../primitives/page-picture';
import { useScreenKeys } from '../../primitives/screen-keys';
import type { Page } from '../assembly/pages';
import { BoxMark, blankPlace, SetLines } from './blank';
import { ContinuationPaper } from './continuation-page';
import { HandMarks } from './hand-marks';
import { HandSpots } from './hand-spots';

/** A point of paper in the browser's pixels. */
const SCALE = 96 / 72;
/** As sharp as office printers show: twice that is not told apart, and is four times as much to hold. */
const DOTS = 220;
/** Sizes of paper that a sheet of its own is asked for, in points; pages of other sizes are made to fit the first. */
const SHEETS = { letter: [612, 792], legal: [612, 1008], a4: [595, 842] } as const;

const sheetFor = ({ size }: Page) =>
  (Object.entries(SHEETS).find(([, [w, h]]) => Math.abs(w - size.width) < 2 && Math.abs(h - size.height) < 2)?.[0] ??
    'letter') as keyof typeof SHEETS;

interface Printing {
  /** All pages, out of sight; null where nothing is being printed. */
  sheets: React.ReactNode;
  print: () => void;
}

const LOOKS_EVERY = 100;
/** As long as a refused picture is asked for again (`PagePicture`), in milliseconds. */
const LONGEST = 32_000;

/** Whether all pictures have come. */
async function pictures(box: HTMLElement): Promise<boolean> {
  for (let waited = 0; waited < LONGEST; waited += LOOKS_EVERY) {
    if ([...box.querySelectorAll('img')].every((one) => one.complete && one.naturalWidth > 0)) return true;
    if (!navigator.onLine) return false;
    await new Promise((wake) => setTimeout(wake, LOOKS_EVERY));
  }
  return false;
}

/** Ctrl + P and the browser's own command print the pages. */
export function usePrinting(pages: Page[]): Printing {
  const [on, setOn] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  const print = async () => {
    if (on) return;
    flushSync(() => setOn(true));
    announce('Preparing the pages to print');
    const all = box.current && (await pictures(box.current));
    if (!all) {
      setOn(false);
      return notify('Some pages could not be loaded, so nothing was printed. Try again when you are online.', {
        wrong: true,
      });
    }
    window.print();
  };
  useScreenKeys((e) => {
    if (!(e.ctrlKey || e.metaKey) || e.altKey || e.shiftKey || e.key.toLowerCase() !== 'p') return;
    e.preventDefault();
    void print();
  });
  useEffect(() => {
    // From the browser's menu there is no waiting: what has not been fetched yet is missing in its preview at first.
    const before = () => flushSync(() => setOn(true));
    const after = () => setOn(false);
    window.addEventListener('beforeprint', before);
    window.addEventListener('afterprint', after);
    return () => {
      window.removeEventListener('beforeprint', before);
      window.removeEventListener('afterprint', after);
    };
  }, []);
  const sheets = on
    ? createPortal(
        <div ref={box} className="sheets" aria-hidden="true">
          {pages.map((page) => (
            <Sheet key={page.id} page={page} />
          ))}
        </div>,
        document.body,
      )
    : null;
  return { sheets, print: () => void print() };
}

/** One page, in the middle of its sheet. */
function Sheet({ page }: { page: Page }) {
  const name = sheetFor(page);
  const [wide, high] = SHEETS[name];
  const fit = Math.min(1, wide / page.size.width, high / page.size.height);
  const scale = SCALE * fit;
  return (
    <div className={`sheet sheet-${name}`} style={{ width: wide * SCALE, height: high * SCALE }}>
      <div className="on-paper relative mx-auto" style={{ width: page.size.width * scale, height: page.size.height * scale }}>
        {page.continuation ? (
          <ContinuationPaper label={page.label} page={page.continuation} size={page.size} scale={scale} />
        ) : (
          <Printed page={page} scale={scale} />
        )}
      </div>
    </div>
  );
}

function Printed({ page, scale }: { page: Page; scale: number }) {
  return (
    <>
      <PagePicture
        src={`/api/editions/${page.document.edition}/pages/${page.number}/${DOTS}.png`}
        alt=""
        className="absolute inset-0 h-full w-full"
      />
      {page.blanks.map((b) => (
        <div key={b.field} className="absolute" style={blankPlace(b, scale, page.size)}>
          {b.shape === 'text' && <SetLines blank={b} scale={scale} />}
          {b.shape === 'box' && b.marked && <BoxMark />}
        </div>
      ))}
      <HandMarks changes={page.document.by_hand} page={page.number} size={page.size} scale={scale} />
      <HandSpots spots={page.document.spots} page={page.number} size={page.size} scale={scale} printed />
    </>
  );
}
