/** The words of a page, to be chosen by pointer or by arrows: what is changed by hand. */
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Words } from '../../api/whole';
import type { Page } from '../assembly/pages';
import { boxOf, wordAt, wordBeside, wordNearest, type Chosen } from './chosen-words';
import { byLine } from './find';

interface Props {
  page: Page;
  words: Words[number];
  scale: number;
  chosen: Chosen | null;
  choose: (chosen: Chosen | null) => void;
  /** On to what is done with it. */
  onDone: () => void;
}

const ARROWS = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'];

export function WordsLayer({ page, words, scale, chosen, choose, onDone }: Props) {
  const layer = useRef<HTMLDivElement>(null);
  const pointAt = (e: PointerEvent): [number, number] => {
    const box = layer.current?.getBoundingClientRect();
    return box ? [(e.clientX - box.left) / scale, page.size.height - (e.clientY - box.top) / scale] : [0, 0];
  };
  const onDown = (e: PointerEvent) => {
    layer.current?.setPointerCapture(e.pointerId);
    const [x, y] = pointAt(e);
    const n = wordAt(words, x, y);
    choose({ page, from: n, to: n, at: n < 0 ? [Math.round(x), Math.round(y)] : null });
  };
  const onMove = (e: PointerEvent) => {
    if (e.buttons !== 1 || !chosen) return;
    const n = wordAt(words, ...pointAt(e));
    if (n < 0 || n === chosen.to) return;
    // Begun between words, it begins with the one that was nearest.
    const from = chosen.at ? wordNearest(words, ...chosen.at) : chosen.from;
    choose({ page, from, to: n, at: null });
  };
  // Now, and not as it goes down: the browser gives the focus to what was pressed after that.
  const onUp = () => chosen?.at && onDone();
  const onKey = (e: KeyboardEvent) => {
    if (e.key === 'Enter' || e.key === ' ') onDone();
    else if (ARROWS.includes(e.key)) {
      const at = chosen && chosen.from >= 0 ? wordBeside(words, chosen.to, e.key) : 0;
      const from = e.shiftKey && chosen && chosen.from >= 0 ? chosen.from : at;
      choose({ page, from, to: at, at: null });
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const [a, b] = chosen ? [Math.min(chosen.from, chosen.to), Math.max(chosen.from, chosen.to)] : [-1, -1];
  const boxes = a >= 0 ? byLine(words.slice(a, b + 1).map(boxOf)) : [];
  const said =
    a >= 0
      ? words
          .slice(a, b + 1)
          .map((w) => w[4])
          .join(' ')
      : '';
  return (
    <div
      ref={layer}
      role="textbox"
      aria-readonly="true"
      aria-multiline="true"
      tabIndex={0}
      aria-label={`Words of ${page.label}. Arrows go from word to word, Shift and arrows choose, Enter goes on. ${said}`}
      data-words
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onKeyDown={onKey}
      className="absolute inset-0 z-10 cursor-text touch-none"
    >
      {boxes.map(([left, bottom, right, top], n) => (
        <span
          key={n}
          className="absolute bg-[#f2d48a80] outline-1 outline-ochre"
          style={{
            left: left * scale - 1,
            top: (page.size.height - top) * scale - 1,
            width: (right - left) * scale + 2,
            height: (top - bottom) * scale + 2,
          }}
        />
      ))}
      {chosen?.at && (
        <span
          className="absolute border-l-2 border-ochre"
          style={{ left: chosen.at[0] * scale, top: (page.size.height - chosen.at[1]) * scale, height: 12 * scale }}
        />
      )}
    </div>
  );
}
