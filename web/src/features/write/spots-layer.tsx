/** A page's places to sign while they are put: drawn, pressed, moved and sized with the pointer; each a button for the keys. */
import { useEffect, useLayoutEffect, useRef, type PointerEvent } from 'react';
import { onPage } from '../../primitives/on-page';
import type { Page } from '../assembly/pages';
import { Corner } from '../forms/corner';
import { useDrawing } from '../forms/use-drawing';
import { kindOf } from './spots';
import type { Held } from './keeping-spots';
import type { Signing, Spots } from './use-spots';

interface Props {
  page: Page;
  spots: Spots;
}

export function SpotsLayer({ page, spots }: Props) {
  const { what, chosen, choose, spots: every } = spots;
  const code = page.document.id;
  const here = every.filter((s) => s.document === code && s.page === page.number);
  const { sheet, press, grab, rectOf, fresh } = useDrawing({
    size: page.size,
    placed: here,
    fixed: page.blanks.map((b) => b.rect as [number, number, number, number]),
    tool: what ?? 'hand',
    choose: (id) => choose(id === null ? null : { document: code, id }),
    place: (id, rect) => {
      const spot = here.find((s) => s.id === id);
      if (spot) spots.place(spot, rect);
    },
    add: (rect) => spots.add(page, rect),
    press: (at) => spots.press(page, at),
  });
  return (
    <div
      ref={sheet}
      data-spots-layer
      onPointerDown={press}
      className={`absolute inset-0 z-10 ${what ? 'cursor-crosshair touch-none' : ''}`}
    >
      {here.map((s) => (
        <PutSpot
          key={s.id}
          spot={s}
          signer={spots.signerOf(s.who)}
          style={onPage(rectOf(s), page.size)}
          isChosen={chosen?.document === code && chosen.id === s.id}
          movable={!what}
          choose={() => choose({ document: code, id: s.id })}
          grab={(e, corner) => grab(e, s, corner)}
        />
      ))}
      {fresh && (
        <span
          className={`pointer-events-none absolute border ${fresh.isFree ? 'border-green bg-green-wash/60' : 'border-wax bg-wax-wash/60'}`}
          style={onPage(fresh.rect, page.size)}
        />
      )}
    </div>
  );
}

interface SpotProps {
  spot: Held;
  signer: Signing;
  style: ReturnType<typeof onPage>;
  isChosen: boolean;
  movable: boolean;
  choose: () => void;
  grab: (e: PointerEvent, corner: boolean) => void;
}

/** What is read in a place, and what is said before it to those who don't see its size. */
function calledIn({ what, label }: Held, { name, initials }: Signing): { kind: string; text: string } {
  if (what === 'initials') return { kind: 'Initials of ', text: initials };
  if (what === 'text') return { kind: 'Text: ', text: label ? `${label}, ${name}` : name };
  if (what === 'check') return { kind: 'Box: ', text: label ? `${label}, ${name}` : name };
  return { kind: '', text: `${kindOf(what).name}, ${name}` };
}

function PutSpot({ spot, signer, style, isChosen, movable, choose, grab }: SpotProps) {
  const button = useRef<HTMLButtonElement>(null);
  const shown = calledIn(spot, signer);
  useLayoutEffect(() => {
    if (isChosen) button.current?.focus({ preventScroll: true });
  }, [isChosen]);
  useEffect(() => {
    if (isChosen) button.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [isChosen, style.top, style.left]);
  return (
    <button
      ref={button}
      type="button"
      data-spot={spot.id}
      aria-label={`${shown.kind}${shown.text}, page ${spot.page}`}
      aria-pressed={isChosen}
      title={`${kindOf(spot.what).name}: ${signer.name}`}
      onFocus={choose}
      onPointerDown={(e) => grab(e, false)}
      className={`absolute flex touch-none items-end border bg-paper/70 text-[0.625rem] leading-none text-ink-2 ${
        isChosen ? 'z-10 border-green outline-2 outline-green' : 'border-ink-3'
      } ${movable ? 'cursor-move' : 'pointer-events-none'}`}
      style={style}
    >
      <span className="min-w-0 truncate p-[2px]">{spot.what !== 'check' && shown.text}</span>
      {isChosen && movable && <Corner grab={(e) => grab(e, true)} />}
    </button>
  );
}
