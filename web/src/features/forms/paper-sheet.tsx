/** One page of a paper with what is placed on it: chosen, moved, resized and drawn with the pointer. */
import type { PointerEvent } from 'react';
import type { Placed } from '../../api/client';
import { Mark } from '../../primitives/mark';
import { PagePicture } from '../../primitives/page-picture';
import { Corner } from './corner';
import type { Rect, Size } from './placing';
import { useDrawing } from './use-drawing';

export type Tool = 'hand' | Placed['shape'];

interface Props {
  picture: string;
  page: number;
  size: Size;
  placed: Placed[];
  faulty: Set<string>;
  chosen: string | null;
  tool: Tool;
  choose: (id: string | null) => void;
  place: (id: string, rect: Rect) => void;
  add: (rect: Rect) => void;
}

/** A rectangle in points from the lower left as shares of the page. */
const styleOf = ([l, b, r, t]: Rect, size: Size) => ({
  left: `${(l / size.width) * 100}%`,
  top: `${(1 - t / size.height) * 100}%`,
  width: `${((r - l) / size.width) * 100}%`,
  height: `${((t - b) / size.height) * 100}%`,
});

export function PaperSheet(props: Props) {
  const { picture, page, size, placed, faulty, chosen, tool, choose } = props;
  const { sheet, press, grab, rectOf, fresh } = useDrawing(props);
  return (
    <div
      ref={sheet}
      data-page={page}
      onPointerDown={press}
      className={`on-paper relative mx-auto mb-4 max-w-[800px] touch-none border border-blotter-3 bg-paper ${tool === 'hand' ? '' : 'cursor-crosshair'}`}
      style={{ aspectRatio: `${size.width} / ${size.height}` }}
    >
      <PagePicture
        src={picture}
        alt={`Page ${page}`}
        draggable={false}
        className="pointer-events-none absolute inset-0 h-full w-full select-none"
      />
      {placed.map((p) => (
        <PlacedBlank
          key={p.id}
          p={p}
          style={styleOf(rectOf(p), size)}
          isChosen={p.id === chosen}
          isWrong={faulty.has(p.id)}
          movable={tool === 'hand'}
          choose={() => choose(p.id)}
          grab={(e, corner) => grab(e, p, corner)}
        />
      ))}
      {fresh && (
        <span
          className={`pointer-events-none absolute border ${fresh.isFree ? 'border-green bg-green-wash/60' : 'border-wax bg-wax-wash/60'}`}
          style={styleOf(fresh.rect, size)}
        />
      )}
    </div>
  );
}

interface BlankProps {
  p: Placed;
  style: ReturnType<typeof styleOf>;
  isChosen: boolean;
  isWrong: boolean;
  movable: boolean;
  choose: () => void;
  grab: (e: PointerEvent, corner: boolean) => void;
}

function PlacedBlank({ p, style, isChosen, isWrong, movable, choose, grab }: BlankProps) {
  const settled = p.confirmed ? 'border-green/60 bg-blotter/40' : 'border-dashed border-ink-3';
  return (
    <button
      type="button"
      data-placed={p.id}
      aria-label={`${p.label || p.id}, ${p.confirmed ? 'confirmed' : 'to be confirmed'}`}
      aria-pressed={isChosen}
      onFocus={choose}
      onPointerDown={(e) => grab(e, false)}
      className={`absolute border ${isChosen ? 'z-10 outline-2 outline-green' : ''} ${
        isWrong ? 'border-wax bg-wax-wash/70' : settled
      } ${movable ? 'cursor-move' : 'pointer-events-none'}`}
      style={style}
    >
      {!p.confirmed && (
        <span className="pointer-events-none absolute left-full top-1/2 ml-1 -translate-y-1/2">
          <Mark name="open" quiet size={10} />
        </span>
      )}
      {p.shape === 'sign' && (
        <span className="pointer-events-none absolute bottom-0 left-0.5 text-[0.625rem] leading-tight text-ink-2">{p.sign}</span>
      )}
      {isChosen && movable && <Corner grab={(e) => grab(e, true)} />}
    </button>
  );
}
