/** The pointer on a page: a blank moved or resized, a new one drawn; what the rectangle is meanwhile. */
import { useEffect, useRef, useState, type PointerEvent as Pressed } from 'react';
import { notify } from '../../primitives/notices';
import { collide, drawn, moved, resized, settle, type Rect, type Size } from './placing';

type Point = [number, number];

interface Thing {
  id: string;
  rect: number[];
}

interface Drawing {
  size: Size;
  placed: Thing[];
  /** What stands there and stays: nothing comes to lie on it. */
  fixed?: Rect[];
  /** “hand” chooses and moves; anything else draws. */
  tool: string;
  choose: (id: string | null) => void;
  place: (id: string, rect: Rect) => void;
  add: (rect: Rect) => void;
  /** A press without a stroke while something is to be drawn: where. */
  press?: (at: Point) => void;
}

const NOTHING: Rect[] = [];

export function useDrawing({ size, placed, fixed = NOTHING, tool, choose, place, add, press: pressed }: Drawing) {
  const sheet = useRef<HTMLDivElement>(null);
  const [draft, setDraft] = useState<{ id: string | null; rect: Rect } | null>(null);
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);

  /** Where the pointer is on the page, in points from the lower left. */
  const at = (e: { clientX: number; clientY: number }): Point => {
    const box = sheet.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    const scale = box.width / size.width;
    return [(e.clientX - box.left) / scale, size.height - (e.clientY - box.top) / scale];
  };
  /** Follow the pointer until it is let go; `shape` says what the rectangle is meanwhile. */
  const follow = (id: string | null, shape: (to: Point) => Rect, end: (rect: Rect) => void, still?: () => void) => {
    let last: Rect | null = null;
    const onMove = (e: PointerEvent) => {
      last = shape(at(e));
      setDraft({ id, rect: last });
    };
    const onEnd = () => {
      stop.current?.();
      setDraft(null);
      if (last) end(last);
      else still?.();
    };
    window.addEventListener('pointermove', onMove);
    window.addEventListener('pointerup', onEnd, { once: true });
    stop.current = () => {
      window.removeEventListener('pointermove', onMove);
      window.removeEventListener('pointerup', onEnd);
    };
  };
  const others = (id: string | null) => [...fixed, ...placed.filter((p) => p.id !== id).map((p) => p.rect as Rect)];
  const hits = (rect: Rect, but: string | null) => others(but).some((o) => collide(o, rect));

  /** Move a blank, or resize it by its corner; it never comes to lie on another. */
  const grab = (e: Pressed, p: Thing, corner: boolean) => {
    if (tool !== 'hand' || e.button !== 0) return;
    e.stopPropagation();
    choose(p.id);
    const from = at(e);
    const before = p.rect as Rect;
    let last = before;
    const shape = (to: Point) => {
      const next = (corner ? resized : moved)(before, to[0] - from[0], to[1] - from[1], size);
      if (!corner) return settle(next, others(p.id), size, before);
      last = hits(next, p.id) ? last : next;
      return last;
    };
    follow(p.id, shape, (rect) => place(p.id, rect));
  };
  /** Draw a new one, or let go of the one in hand. */
  const press = (e: Pressed) => {
    if (tool === 'hand' || e.button !== 0) return choose(null);
    e.preventDefault();
    const from = at(e);
    follow(
      null,
      (to) => drawn(from, to, size),
      (rect) => {
        if (hits(rect, null)) notify('This would overlap another blank. Draw it beside that one.', { wrong: true });
        else add(rect);
      },
      () => pressed?.(from),
    );
  };
  const rectOf = (p: Thing) => (draft?.id === p.id ? draft.rect : (p.rect as Rect));
  const fresh = draft?.id === null ? { rect: draft.rect, isFree: !hits(draft.rect, null) } : null;
  return { sheet, press, grab, rectOf, fresh };
}
