/** One page: its picture, the blanks where they will print, and the margin's marks. */
import { memo, useMemo } from 'react';
import type { Blank } from '../../api/client';
import { Mark, markOf, MARKS, type MarkName } from '../../primitives/mark';
import type { Page } from '../assembly/pages';
import { ContinuationPaper } from './continuation-page';
import { BoxBlank, SignSpot, TextBlank } from './blank';

export const PaperPage = memo(function PaperPage(props: {
  page: Page;
  width: number;
  inHand: string | null;
  lit: string;
  onHand: (id: string | null) => void;
}) {
  const { page, width, inHand, lit, onHand } = props;
  const scale = width / page.size.width;
  const behind = page.continuation;
  const dense = window.devicePixelRatio > 1.3;
  const sharp = dense ? 220 : 165;
  // What can't be read is explained once a page, at its first place.
  const first = useMemo(() => new Map([...page.blanks].reverse().map((b) => [b.key, `${b.document}/${b.field}`])), [page.blanks]);
  if (behind) return <ContinuationPaper label={page.label} page={behind} size={page.size} scale={scale} />;
  return (
    <section
      aria-label={page.label}
      className="relative h-full w-full border border-blotter-3 bg-paper"
      style={{ contain: 'strict' }}
    >
      <img
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
      <Margin blanks={page.blanks} scale={scale} />
    </section>
  );
});

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
