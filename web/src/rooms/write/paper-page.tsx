/** One page: its picture, the blanks where they will print, and the margin's marks. */
import { memo, useMemo } from 'react';
import type { Blank } from '../../api/client';
import { Mark, markOf, MARKS, type MarkName } from '../../primitives/mark';
import type { Page } from '../assembly/pages';
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
  const dense = window.devicePixelRatio > 1.3;
  const sharp = dense ? 220 : 165;
  // What can't be read is explained once a page, at its first place.
  const first = useMemo(() => new Map([...page.blanks].reverse().map((b) => [b.key, `${b.document}/${b.field}`])), [page.blanks]);
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
      <Margin blanks={page.blanks} scale={scale} height={page.size.height} />
    </section>
  );
});

/** Beside each line, in the left margin, the marks of what stands on it. */
function Margin({ blanks, scale, height }: { blanks: Blank[]; scale: number; height: number }) {
  const lines = useMemo(() => {
    const rows: { y: number; marks: Set<MarkName> }[] = [];
    for (const b of blanks) {
      const mark: MarkName | null =
        b.clashes.length > 0
          ? 'differs'
          : b.draft || b.state === 'open'
            ? 'open'
            : b.state === 'filled' && (b.shape === 'text' || b.marked)
              ? markOf(b.source)
              : null;
      if (!mark) continue;
      const [, bottom = 0, , top = 0] = b.rect;
      const y = height - (b.lines > 1 ? top - (top - bottom) / b.lines / 2 : (top + bottom) / 2);
      const row = rows.find((r) => Math.abs(r.y - y) < 7);
      if (row) row.marks.add(mark);
      else rows.push({ y, marks: new Set([mark]) });
    }
    return rows;
  }, [blanks, height]);
  return (
    <div aria-hidden="true" className="pointer-events-none">
      {lines.map(({ y, marks }) => (
        <span
          key={y}
          className="absolute flex justify-end gap-[1px]"
          style={{ top: y * scale - 6, left: 2, width: 44 * scale }}
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
