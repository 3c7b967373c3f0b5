/**
 * The frame of every screen that is worked on: what leads the way, the work, and the lens. Three columns beside each other where
 * there is room; two, with the way as a strip above; one, with the lens as a sheet at the foot that is drawn up.
 */
import { ChevronDown, ChevronUp } from 'lucide-react';
import { useEffect, useState, type ReactNode } from 'react';
import { TWO_COLUMNS, useWide } from './use-wide';

/** Below that height the sheet stays down until it is drawn up: the work needs what there is. */
const LOW = 560;

interface Props {
  /** What leads the way: a map, groups. */
  way?: ReactNode;
  children: ReactNode;
  lens: ReactNode;
  /** What stands on the lens's edge: always seen in one column, and above the lens where `edged` in the others. */
  edge?: ReactNode;
  edged?: boolean;
  /** Of what is in hand: the sheet is drawn up when it changes. */
  inHand: string | null;
  /** Widths of the way and of the lens, in pixels. */
  widths: [number, number];
}

export function Columns({ way, children, lens, edge, edged = false, inHand, widths: [left, right] }: Props) {
  const beside = useWide(TWO_COLUMNS);
  const [up, setUp] = useState(false);
  useEffect(() => {
    if (inHand !== null && window.innerHeight >= LOW) setUp(true);
  }, [inHand]);
  const isShown = beside || up;
  return (
    <div
      className="frame h-full min-h-0"
      style={{ '--way': way ? `${left}px` : '0px', '--lens': `${right}px` } as React.CSSProperties}
    >
      {way && <div className="frame-way min-h-0 min-w-0 overflow-auto border-blotter-3">{way}</div>}
      <div id="work" tabIndex={-1} className="frame-work relative min-h-0 min-w-0 outline-none">
        {children}
      </div>
      <section
        aria-label="Lens"
        className={`frame-lens flex min-h-0 flex-col border-blotter-3 bg-sheet ${beside ? '' : 'shadow-[0_-2px_8px_#18202f22]'}`}
      >
        {(edged || !beside) && (
          <div className="flex min-h-11 shrink-0 flex-wrap items-center gap-x-2 gap-y-1 border-b border-hair px-4 py-1 text-sm">
            {edge}
            {!beside && (
              <button
                type="button"
                aria-expanded={up}
                aria-label={up ? 'Hide details' : 'Show details'}
                onClick={() => setUp(!up)}
                className="-mr-2 ml-auto grid h-11 w-11 shrink-0 place-items-center text-green-2"
              >
                {up ? <ChevronDown size={20} /> : <ChevronUp size={20} />}
              </button>
            )}
          </div>
        )}
        {isShown && <div className={`min-h-0 flex-1 overflow-auto ${beside ? '' : 'max-h-[38dvh]'}`}>{lens}</div>}
      </section>
    </div>
  );
}
