/** One page: its picture, the blanks where they will print, and the margin's marks. */
import { memo, useMemo, type ReactNode } from 'react';
import type { Blank, Remark } from '../../api/client';
import { Mark, markOf, MARKS, type MarkName } from '../../primitives/mark';
import { PagePicture } from '../../primitives/page-picture';
import type { Page, Size } from '../assembly/pages';
import { ContinuationPaper } from './continuation-page';
import { BoxBlank, SignSpot, TextBlank } from './blank';
import type { Hit } from './find';
import { HandMarks } from './hand-marks';
import { HandSpots } from './hand-spots';
import type { Remarks } from './use-remarks';
import { dotsFor, useDensity } from './zoom';

export const PaperPage = memo(function PaperPage(props: {
  page: Page;
  width: number;
  inHand: string | null;
  lit: string;
  onHand: (id: string | null) => void;
  remarks?: Remarks;
  /** What is found on it, and the place of it that is looked at. */
  hits?: Hit[];
  hit?: Hit | null;
  /** Whether places to sign are being put on it: they are drawn by what is laid over it then. */
  putting?: boolean;
  /** What is laid over it. */
  children?: ReactNode;
}) {
  const { page, width, inHand, lit, onHand, remarks, hits, hit, putting = false, children } = props;
  const scale = width / page.size.width;
  const behind = page.continuation;
  const sharp = dotsFor(width * useDensity(), page.size.width);
  // What can't be read is explained once a page, at its first place.
  const first = useMemo(() => new Map([...page.blanks].reverse().map((b) => [b.key, `${b.document}/${b.field}`])), [page.blanks]);
  const found = hits && <Found hits={hits} hit={hit ?? null} size={page.size} scale={scale} />;
  if (behind) {
    return (
      <ContinuationPaper label={page.label} page={behind} size={page.size} scale={scale}>
        {found}
        {children}
      </ContinuationPaper>
    );
  }
  return (
    <section
      aria-label={page.label}
      className="on-paper relative h-full w-full border border-blotter-3 bg-paper"
      style={{ contain: 'strict' }}
    >
      <PagePicture
        src={`/api/editions/${page.document.edition}/pages/${page.number}/${sharp}.png`}
        alt=""
        width={width}
        height={width * (page.size.height / page.size.width)}
        draggable={false}
        className="pointer-events-none absolute inset-0 h-full w-full select-none"
      />
      {page.blanks.map((b) => {
        const id = `${b.document}/${b.field}`;
        const common = { key: id, blank: b, scale, paper: page.size, lit: b.key === lit };
        if (b.shape === 'sign') return <SignSpot {...common} key={id} />;
        return b.shape === 'box' ? (
          <BoxBlank {...common} key={id} onHand={() => onHand(id)} chosen={id === inHand} />
        ) : (
          <TextBlank {...common} key={id} onHand={() => onHand(id)} chosen={id === inHand} tells={first.get(b.key) === id} />
        );
      })}
      <HandMarks changes={page.document.by_hand} page={page.number} size={page.size} scale={scale} />
      {!putting && <HandSpots spots={page.document.spots} page={page.number} size={page.size} scale={scale} />}
      <Margin blanks={page.blanks} scale={scale} />
      {remarks && remarks.size > 0 && <RemarkMargin blanks={page.blanks} scale={scale} remarks={remarks} />}
      {found}
      {children}
    </section>
  );
});

/** What is found on a page, marked; the place looked at more than the others. */
function Found({ hits, hit, size, scale }: { hits: Hit[]; hit: Hit | null; size: Size; scale: number }) {
  return (
    <div aria-hidden="true" className="pointer-events-none">
      {hits.flatMap((h, n) =>
        h.boxes.map(([left, bottom, right, top], m) => (
          <span
            key={`${n}-${m}`}
            data-found={h === hit ? 'here' : 'too'}
            className={`absolute mix-blend-multiply ${h === hit ? 'bg-[#f2d48a] outline-2 outline-ochre' : 'bg-ochre-wash'}`}
            style={{
              left: left * scale - 1,
              top: (size.height - top) * scale - 1,
              width: (right - left) * scale + 2,
              height: (top - bottom) * scale + 2,
            }}
          />
        )),
      )}
    </div>
  );
}

/** In the right margin, beside its line, what the proofread remarks on. */
function RemarkMargin({ blanks, scale, remarks }: { blanks: Blank[]; scale: number; remarks: Remarks }) {
  const lines = useMemo(() => {
    const found = new Map<number, Remark[]>();
    for (const b of blanks) {
      const here = remarks.get(`${b.document}/${b.field}`);
      if (here) found.set(b.line, [...(found.get(b.line) ?? []), ...here]);
    }
    return [...found];
  }, [blanks, remarks]);
  return (
    <>
      {lines.map(([line, said]) => (
        <span
          key={line}
          className="absolute leading-none"
          style={{ top: line * scale - 7, right: 14 * scale }}
          title={said.map((r) => r.message).join('\n')}
        >
          <Mark name={said.some((r) => r.weight === 'must') ? 'must' : 'remark'} size={14} />
        </span>
      ))}
    </>
  );
}

/** What the margin says of one blank; nothing of one that asks for nothing. */
function marginMark(b: Blank): MarkName | null {
  if (b.clashes.length > 0) return 'differs';
  if (b.draft || b.state === 'open') return 'open';
  const shows = b.state === 'filled' && (b.shape === 'text' || b.marked);
  return shows ? markOf(b.source) : null;
}

/** Beside each line of print, in the left margin, the marks of what stands on it. */
function Margin({ blanks, scale }: { blanks: Blank[]; scale: number }) {
  const lines = useMemo(() => {
    const found = new Map<number, Set<MarkName>>();
    for (const b of blanks) {
      const mark = marginMark(b);
      if (mark) found.set(b.line, (found.get(b.line) ?? new Set()).add(mark));
    }
    return [...found];
  }, [blanks]);
  return (
    <div aria-hidden="true" className="pointer-events-none">
      {lines.map(([line, marks]) => (
        <span
          key={line}
          className="absolute flex justify-end gap-[1px]"
          style={{ top: line * scale - 6, left: 2, width: 44 * scale }}
          title={[...marks].map((m) => MARKS[m].label).join(', ')}
        >
          {[...marks].slice(0, 4).map((m) => (
            <Mark key={m} name={m} size={12} quiet />
          ))}
        </span>
      ))}
    </div>
  );
}
