/** The pointer on a page: a blank moved or resized, a new one drawn; what the rectangle is meanwhile. */
import { useEffect, useRef, useState, type PointerEvent as Pressed } from 'react';
import type { Placed } from '../../api/client';
import { notify } from '../../primitives/notices';
import type { Tool } from './paper-sheet';
import { collide, drawn, moved, resized, settle, type Rect, type Size } from './placing';

type Point = [number, number];

interface Drawing {
  size: Size;
  placed: Placed[];
  tool: Tool;
  choose: (id: string | null) => void;
  place: (id: string, rect: Rect) => void;
  add: (rect: Rect) => void;
}

export function useDrawing({ size, placed, tool, choose, place, add }: Drawing) {
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
  const follow = (id: string | null, shape: (to: Point) => Rect, end: (rect: Rect) => void) => {
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
  const hits = (rect: Rect, but: string | null) => placed.some((p) => p.id !== but && collide(p.rect as Rect, rect));
  const others = (id: string) => placed.filter((p) => p.id !== id).map((p) => p.rect as Rect);

  /** Move a blank, or resize it by its corner; it never comes to lie on another. */
  const grab = (e: Pressed, p: Placed, corner: boolean) => {
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
        if (hits(rect, null)) notify('It would lie on another blank; draw it beside that one.', { wrong: true });
        else add(rect);
      },
    );
  };
  const rectOf = (p: Placed) => (draft?.id === p.id ? draft.rect : (p.rect as Rect));
  const fresh = draft?.id === null ? { rect: draft.rect, isFree: !hits(draft.rect, null) } : null;
  return { sheet, press, grab, rectOf, fresh };
}
