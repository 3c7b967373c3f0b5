/** A field to draw in by finger, pen or mouse: what is drawn is kept as strokes of points, never as a picture. */
import { useRef, type PointerEvent } from 'react';
import { Button } from '../primitives/button';

export type Strokes = number[][][];

interface Props {
  label: string;
  strokes: Strokes;
  set: (strokes: Strokes) => void;
  small?: boolean;
}

/** The field's own units; the server scales what is drawn. */
const WIDE = 500;
const MOST_POINTS = 3_900;

export function DrawPad({ label, strokes, set, small = false }: Props) {
  const drawing = useRef(false);
  const tall = small ? 130 : 170;
  const point = (e: PointerEvent<SVGSVGElement>): number[] => {
    const box = e.currentTarget.getBoundingClientRect();
    const across = ((e.clientX - box.left) / box.width) * WIDE;
    const down = ((e.clientY - box.top) / box.height) * tall;
    return [Math.round(across * 10) / 10, Math.round(down * 10) / 10];
  };
  const begin = (e: PointerEvent<SVGSVGElement>) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    drawing.current = true;
    set([...strokes, [point(e)]]);
  };
  const go = (e: PointerEvent<SVGSVGElement>) => {
    const last = strokes.at(-1);
    if (!drawing.current || !last || strokes.flat().length > MOST_POINTS) return;
    set([...strokes.slice(0, -1), [...last, point(e)]]);
  };
  const end = () => {
    drawing.current = false;
  };
  return (
    <div className="mb-3">
      <div className="flex items-baseline gap-3 text-sm">
        <span className="flex-1">{label}</span>
        <Button look="words" disabled={strokes.length === 0} onClick={() => set(strokes.slice(0, -1))}>
          Undo stroke
        </Button>
        <Button look="words" disabled={strokes.length === 0} onClick={() => set([])}>
          Clear<span className="sr-only">: {label}</span>
        </Button>
      </div>
      <svg
        role="img"
        aria-label={strokes.length === 0 ? `${label}: empty` : `${label}: drawn`}
        viewBox={`0 0 ${WIDE} ${tall}`}
        className="on-paper w-full touch-none border border-blotter-3 bg-paper text-values"
        style={{ aspectRatio: `${WIDE} / ${tall}` }}
        onPointerDown={begin}
        onPointerMove={go}
        onPointerUp={end}
        onPointerCancel={end}
      >
        <path d={`M20 ${tall - 32}H${WIDE - 20}`} stroke="var(--color-hair)" strokeWidth={1.5} />
        {strokes.map((stroke, n) => (
          <path
            key={n}
            d={`M${stroke.map((p) => p.join(' ')).join('L')}${stroke.length === 1 ? 'h0.1' : ''}`}
            fill="none"
            stroke="currentColor"
            strokeWidth={4}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        ))}
      </svg>
    </div>
  );
}
