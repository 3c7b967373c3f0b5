/** One page of a paper with what is placed on it: chosen, moved, resized and drawn with the pointer. */
import { useEffect, useRef, useState } from 'react';
import type { Placed } from '../../api/client';
import { Mark } from '../../primitives/mark';
import { notify } from '../../primitives/notices';
import { collide, drawn, moved, resized, settle, type Rect, type Size } from './placing';

export type Tool = 'hand' | Placed['shape'];

export function PaperSheet(props: {
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
}) {
  const { picture, page, size, placed, faulty, chosen, tool, choose, place, add } = props;
  const sheet = useRef<HTMLDivElement>(null);
  const [draft, setDraft] = useState<{ id: string | null; rect: Rect } | null>(null);
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);

  const at = (e: { clientX: number; clientY: number }): [number, number] => {
    const box = sheet.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    const scale = box.width / size.width;
    return [(e.clientX - box.left) / scale, size.height - (e.clientY - box.top) / scale];
  };

  /** Follow the pointer until it is let go; `shape` says what the rectangle is meanwhile. */
  const follow = (id: string | null, shape: (to: [number, number]) => Rect, end: (rect: Rect) => void) => {
    let last: Rect | null = null;
    const onMove = (e: PointerEvent) => {
      last = shape(at(e));
      setDraft({ id, rect: last });
    };
    const onEnd = () => {
      stop.current?.();
      setDraft(null);
      if (last) end(last);
    };
    window.addEventListener('pointermove', onMove);
    window.addEventListener('pointerup', onEnd, { once: true });
    stop.current = () => {
      window.removeEventListener('pointermove', onMove);
      window.removeEventListener('pointerup', onEnd);
    };
  };
  const others = (id: string | null) => placed.filter((p) => p.id !== id).map((p) => p.rect as Rect);

  const grab = (e: React.PointerEvent, p: Placed, corner: boolean) => {
    if (tool !== 'hand' || e.button !== 0) return;
    e.stopPropagation();
    choose(p.id);
    const from = at(e);
    const before = p.rect as Rect;
    const change = corner ? resized : moved;
    follow(
      p.id,
      (to) => {
        const next = change(before, to[0] - from[0], to[1] - from[1], size);
        return corner
          ? others(p.id).some((o) => collide(o, next))
            ? (draftOf(p) as Rect)
            : next
          : settle(next, others(p.id), size, before);
      },
      (rect) => place(p.id, rect),
    );
  };
  const draftOf = (p: Placed) => (draft?.id === p.id ? draft.rect : (p.rect as Rect));
  const style = ([l, b, r, t]: Rect) => ({
    left: `${(l / size.width) * 100}%`,
    top: `${(1 - t / size.height) * 100}%`,
    width: `${((r - l) / size.width) * 100}%`,
    height: `${((t - b) / size.height) * 100}%`,
  });
  const free = draft && draft.id === null && !others(null).some((o) => collide(o, draft.rect));
  return (
    <div
      ref={sheet}
      data-page={page}
      onPointerDown={(e) => {
        if (tool === 'hand' || e.button !== 0) return choose(null);
        e.preventDefault();
        const from = at(e);
        follow(
          null,
          (to) => drawn(from, to, size),
          (rect) => {
            if (others(null).some((o) => collide(o, rect)))
              notify('It would lie on another blank; draw it beside that one.', { wrong: true });
            else add(rect);
          },
        );
      }}
      className={`relative mx-auto mb-4 max-w-[800px] touch-none border border-blotter-3 bg-paper ${tool === 'hand' ? '' : 'cursor-crosshair'}`}
      style={{ aspectRatio: `${size.width} / ${size.height}` }}
    >
      <img
        src={picture}
        alt={`Page ${page}`}
        draggable={false}
        className="pointer-events-none absolute inset-0 h-full w-full select-none"
      />
      {placed.map((p) => {
        const here = p.id === chosen;
        const wrong = faulty.has(p.id);
        return (
          <button
            key={p.id}
            type="button"
            data-placed={p.id}
            aria-label={`${p.label || p.id}, ${p.confirmed ? 'confirmed' : 'to be confirmed'}`}
            aria-pressed={here}
            onFocus={() => choose(p.id)}
            onPointerDown={(e) => grab(e, p, false)}
            className={`absolute border ${here ? 'z-10 outline-2 outline-green' : ''} ${
              wrong ? 'border-wax bg-wax-wash/70' : p.confirmed ? 'border-green/60 bg-blotter/40' : 'border-dashed border-ink-3'
            } ${tool === 'hand' ? 'cursor-move' : 'pointer-events-none'}`}
            style={style(draftOf(p))}
          >
            {!p.confirmed && (
              <span className="pointer-events-none absolute left-full top-1/2 ml-1 -translate-y-1/2">
                <Mark name="open" quiet size={10} />
              </span>
            )}
            {p.shape === 'sign' && (
              <span className="pointer-events-none absolute bottom-0 left-0.5 text-[10px] leading-tight text-ink-2">
                {p.sign}
              </span>
            )}
            {here && tool === 'hand' && (
              <span
                data-corner=""
                onPointerDown={(e) => grab(e, p, true)}
                className="absolute -bottom-1.5 -right-1.5 h-3 w-3 cursor-nwse-resize border border-green bg-paper"
              />
            )}
          </button>
        );
      })}
      {draft && draft.id === null && (
        <span
          className={`pointer-events-none absolute border ${free ? 'border-green bg-green-wash/60' : 'border-wax bg-wax-wash/60'}`}
          style={style(draft.rect)}
        />
      )}
    </div>
  );
}
