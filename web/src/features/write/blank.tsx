/** Blanks on the paper. At rest they show what the server has set, to the point; in hand they take what is typed. */
import { memo, useLayoutEffect, useRef, useState, type CSSProperties } from 'react';
import type { Blank } from '../../api/client';
import { ClashNote } from '../workspace/clash-note';
import { useEcho, useWorkspace } from '../workspace/workspace';
import { useTyped } from '../workspace/use-typed';
import type { Size } from '../assembly/pages';
import { toEarlier } from './earlier';

interface Props {
  blank: Blank;
  scale: number;
  paper: Size;
  lit: boolean;
}

/** Where a blank stands on its page. */
export function blankPlace(blank: Blank, scale: number, paper: Size): CSSProperties {
  const [left = 0, bottom = 0, right = 0, top = 0] = blank.rect;
  return { left: left * scale, top: (paper.height - top) * scale, width: (right - left) * scale, height: (top - bottom) * scale };
}

/** How high one of its lines is, in points. */
const lineHeight = ({ rect, lines }: Blank) => ((rect[3] ?? 0) - (rect[1] ?? 0)) / lines;

/** The lines as they will print, from their baselines. */
export function SetLines({ blank, scale, echo }: { blank: Blank; scale: number; echo?: string }) {
  const [left = 0, , , top = 0] = blank.rect;
  const size = blank.size * scale;
  if (echo !== undefined && echo !== blank.text) {
    return (
      <span
        className="values pointer-events-none absolute inset-0 overflow-hidden opacity-80"
        style={{
          fontSize: size,
          lineHeight: `${lineHeight(blank) * scale}px`,
          paddingLeft: 1.5 * scale,
          whiteSpace: blank.lines > 1 ? 'pre-wrap' : 'pre',
        }}
      >
        {echo}
      </span>
    );
  }
  return (
    <>
      {blank.set.map(([x, y, text], n) => (
        <span
          key={n}
          className={`values pointer-events-none absolute ${blank.overflow ? 'text-ochre!' : ''}`}
          style={{
            left: (Number(x) - left) * scale,
            top: (top - Number(y)) * scale - size,
            fontSize: size,
            lineHeight: `${size * 1.27}px`,
            transform: `translateY(${-0.27 * size + 0.27 * size * 0.96}px)`,
          }}
        >
          {String(text)}
        </span>
      ))}
    </>
  );
}

/** The cursor behind what stands there, but where some of it was selected on the way in: by a program that is to replace it, as
 * leaving a field selects nothing. */
function toEnd(field: HTMLInputElement | HTMLTextAreaElement) {
  const { length } = field.value;
  if (field.selectionStart === field.selectionEnd) field.setSelectionRange(length, length);
}

/** What a text blank's field does: what is typed, and what keys and the pointer mean in it. */
function useEntry(blank: Blank, onHand: () => void) {
  const key = blank.only_here ? blank.own_key : blank.key;
  const typed = useTyped({ key, text: blank.text, draft: blank.draft });
  const { text, held, echo } = typed;
  const [focused, setFocused] = useState(false);
  const fresh = useRef(false);
  const field = useRef<HTMLInputElement & HTMLTextAreaElement>(null);
  // What arrives while the blank is in hand and untouched is selected too, so that typing replaces it. A text of several
  // lines isn't: it is written on, and one key must not cost all of it.
  const isWrittenOn = blank.lines > 1;
  useLayoutEffect(() => {
    if (focused && text === null && !isWrittenOn) field.current?.select();
  }, [focused, text, held, echo, isWrittenOn]);
  const entry = {
    ref: field,
    value: typed.value,
    onFocus: (e: { currentTarget: HTMLInputElement | HTMLTextAreaElement }) => {
      setFocused(true);
      typed.enter();
      onHand();
      // At once, not a frame later: what is typed right after must not be selected and replaced.
      if (isWrittenOn) toEnd(e.currentTarget);
      else e.currentTarget.select();
      fresh.current = !isWrittenOn;
    },
    onMouseUp: (e: { preventDefault: () => void }) => {
      if (fresh.current) e.preventDefault(); // the click that brought the cursor here keeps the selection
      fresh.current = false;
    },
    onChange: (e: { target: { value: string } }) => {
      fresh.current = false;
      typed.change(e.target.value);
    },
    onBlur: (e: { currentTarget: HTMLInputElement | HTMLTextAreaElement }) => {
      typed.leave();
      setFocused(false);
      // The cursor stays, as a clause that is then chosen goes there; what was selected no longer is.
      const { selectionEnd } = e.currentTarget;
      e.currentTarget.setSelectionRange(selectionEnd, selectionEnd);
    },
    onKeyDown: (e: React.KeyboardEvent) => {
      if (e.key === 'Escape') {
        typed.giveBack();
        if (!isWrittenOn) requestAnimationFrame(() => field.current?.select());
      } else if (e.key === 'ArrowDown' && blank.lines === 1 && toEarlier()) e.preventDefault();
      else if (e.key === 'Enter' && (blank.lines === 1 || e.ctrlKey || e.metaKey)) typed.commit();
    },
  };
  return { key, entry, focused, echo };
}

/** How a text blank is framed: what can't be read, what asks for a look, what is open, what stands alone. */
function frameOf({ blank, chosen, lit }: { blank: Blank; chosen: boolean; lit: boolean }): string {
  const asksForALook = blank.clashes.length > 0 || blank.findings.length > 0;
  const open = blank.state === 'open' && !chosen;
  return [
    chosen ? 'outline-2 outline-green outline-offset-1' : lit ? 'outline-1 outline-green' : '',
    blank.draft ? 'outline-2! outline-wax!' : asksForALook ? 'outline-2! outline-ochre!' : open ? 'border-b-2 border-wax' : '',
    blank.editable && !chosen ? 'hover:bg-[#1b5a4314]' : '',
    blank.only_here ? 'border-l-2 border-l-ochre' : '',
  ].join(' ');
}

const ALIGNED: Record<string, string> = { right: 'text-right', center: 'text-center' };

export const TextBlank = memo(function TextBlank(props: Props & { chosen: boolean; tells: boolean; onHand: () => void }) {
  const { blank, scale, paper, lit, chosen, tells, onHand } = props;
  const { key, entry, focused, echo } = useEntry(blank, onHand);
  const several = blank.lines > 1;
  const waits = Boolean(blank.draft) || blank.clashes.length > 0;
  const field = {
    ...entry,
    'data-blank': `${blank.document}/${blank.field}`,
    'aria-label': blank.label,
    'aria-invalid': Boolean(blank.draft),
    'aria-required': blank.state === 'open' || blank.state === 'filled',
    readOnly: !blank.editable,
    spellCheck: false,
    autoComplete: 'off',
    className: `values absolute inset-0 h-full w-full resize-none overflow-hidden bg-transparent p-0 outline-none ${focused ? '' : 'text-transparent! caret-transparent'} ${ALIGNED[blank.align] ?? ''}`,
    style: {
      fontSize: Math.min(blank.size, 10) * scale,
      lineHeight: `${lineHeight(blank) * scale}px`,
      paddingInline: 1.5 * scale,
      paddingTop: several ? 0 : 0.8 * scale,
      whiteSpace: several ? ('pre-wrap' as const) : ('pre' as const),
    },
  };
  const note = `absolute top-full z-10 mt-1 w-max max-w-[340px] border px-2 ${(blank.rect[0] ?? 0) > paper.width / 2 ? 'right-0' : 'left-0'}`;
  return (
    <div
      style={blankPlace(blank, scale, paper)}
      title={waits ? undefined : [blank.label, blank.quiet].filter(Boolean).join('. ')}
      className={`absolute ${frameOf({ blank, chosen, lit })}`}
    >
      {!focused && <SetLines blank={blank} scale={scale} echo={echo ?? blank.draft?.text} />}
      {several ? <textarea {...field} /> : <input {...field} />}
      {blank.draft && (tells || chosen) && (
        <p role="alert" className={`${note} border-wax bg-wax-wash py-1 text-xs leading-snug text-wax`}>
          {blank.draft.message} {blank.draft.mend}
        </p>
      )}
      {blank.quiet && chosen && !waits && (
        <p role="note" className={`${note} border-hair bg-sheet py-1 text-xs leading-snug text-ink-2`}>
          {blank.quiet} We keep the typed text, and print it where it applies.
        </p>
      )}
      {blank.clashes.length > 0 && (tells || chosen) && (
        <div className={`${note} border-ochre bg-ochre-wash pb-1`}>
          <ClashNote clashes={blank.clashes} of={key} shown={blank.text} plain />
        </div>
      )}
    </div>
  );
});

export const BoxBlank = memo(function BoxBlank({
  blank,
  scale,
  paper,
  lit,
  chosen,
  onHand,
}: Props & { chosen: boolean; onHand: () => void }) {
  const { edit } = useWorkspace();
  const key = blank.only_here ? blank.own_key : blank.key;
  const echo = useEcho(key);
  const own = blank.value || 'yes';
  const marked = echo === undefined ? blank.marked : echo === own;
  const oneOf = blank.value !== '';
  return (
    <button
      type="button"
      role={oneOf ? 'radio' : 'checkbox'}
      aria-checked={marked}
      aria-label={oneOf ? `${blank.label}: ${blank.value}` : blank.label}
      title={blank.quiet || undefined}
      data-blank={`${blank.document}/${blank.field}`}
      disabled={!blank.editable}
      onFocus={onHand}
      onClick={() => edit({ op: marked ? 'clear' : 'type', key, text: marked ? '' : own, based_on: blank.version })}
      style={blankPlace(blank, scale, paper)}
      className={`absolute disabled:cursor-not-allowed ${chosen ? 'outline-2 outline-green outline-offset-2' : lit ? 'outline-1 outline-green outline-offset-1' : ''} ${
        blank.state === 'open' ? 'border border-wax' : ''
      } ${blank.editable ? 'hover:bg-[#1b5a4322]' : ''}`}
    >
      {marked && <BoxMark />}
    </button>
  );
});

/** The cross in a box that is marked. */
export const BoxMark = () => (
  <svg viewBox="0 0 10 10" className="block h-full w-full" aria-hidden="true">
    <path d="M1.800 1.800l6.400 6.400M1.800 8.200l6.400-6.400" stroke="#121c45" strokeWidth="1.700" strokeLinecap="round" />
  </svg>
);

/** A place to be signed: whose it is, in small letters. */
export const SignSpot = memo(function SignSpot({ blank, scale, paper }: Props) {
  const { held } = useWorkspace();
  const party = held.parties[blank.role_group]?.[blank.role_position - 1];
  if (blank.state === 'idle' || blank.sign === 'date' || (blank.role_group && !party?.name)) return null;
  const who = party?.name || blank.role;
  return (
    <span
      style={blankPlace(blank, scale, paper)}
      className="pointer-events-none absolute flex items-end overflow-hidden pb-[2px] text-[0.625rem] leading-none text-ink-3"
      title={`${blank.sign}: ${who}`}
    >
      <span className="truncate pl-0.5">{blank.sign === 'initials' ? party?.initials : `signs here: ${who}`}</span>
    </span>
  );
});
