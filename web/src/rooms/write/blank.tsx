/** Blanks on the paper. At rest they show what the server has set, to the point; in hand they take what is typed. */
import { memo, useLayoutEffect, useRef, useState, type CSSProperties } from 'react';
import type { Blank } from '../../api/client';
import { useDeal, useEcho } from '../deals/use-deal';
import type { Size } from '../assembly/pages';

interface Props {
  blank: Blank;
  scale: number;
  paper: Size;
  lit: boolean;
}

const IDLE_SAVE_MS = 1200;

function place(blank: Blank, scale: number, paper: Size): CSSProperties {
  const [left = 0, bottom = 0, right = 0, top = 0] = blank.rect;
  return { left: left * scale, top: (paper.height - top) * scale, width: (right - left) * scale, height: (top - bottom) * scale };
}

/** The lines as they will print, from their baselines. */
function SetLines({ blank, scale, echo }: { blank: Blank; scale: number; echo?: string }) {
  const [left = 0, , , top = 0] = blank.rect;
  const size = blank.size * scale;
  if (echo !== undefined && echo !== blank.text) {
    return (
      <span
        className="values pointer-events-none absolute inset-0 overflow-hidden opacity-80"
        style={{
          fontSize: size,
          lineHeight: `${(((blank.rect[3] ?? 0) - (blank.rect[1] ?? 0)) / blank.lines) * scale}px`,
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

export const TextBlank = memo(function TextBlank(props: Props & { chosen: boolean; tells: boolean; onHand: () => void }) {
  const { blank, scale, paper, lit, chosen, tells, onHand } = props;
  const { edit, outbox } = useDeal();
  const key = blank.only_here ? blank.own_key : blank.key;
  const echo = useEcho(key);
  const [text, setText] = useState<string | null>(null); // what is typed here and not yet an edit
  const [focused, setFocused] = useState(false);
  const timer = useRef(0);
  const fresh = useRef(false);
  const field = useRef<HTMLInputElement & HTMLTextAreaElement>(null);
  const held = blank.draft?.text ?? blank.text;
  const commit = (value: string) => {
    clearTimeout(timer.current);
    if (value !== held) edit({ op: value.trim() ? 'type' : 'clear', key, text: value, based_on: blank.version });
    else outbox.type(key, null);
  };
  useLayoutEffect(() => () => clearTimeout(timer.current), []);
  // What arrives while the blank is in hand and untouched is selected too, so that typing replaces it.
  useLayoutEffect(() => {
    if (focused && text === null) field.current?.select();
  }, [focused, text, held, echo]);
  const size = Math.min(blank.size, 10) * scale;
  const open = blank.state === 'open';
  const entry = {
    ref: field,
    'data-blank': `${blank.document}/${blank.field}`,
    'aria-label': blank.label,
    'aria-invalid': Boolean(blank.draft),
    'aria-required': open || blank.state === 'filled',
    readOnly: !blank.editable,
    value: text ?? echo ?? held,
    spellCheck: false,
    autoComplete: 'off',
    onFocus: (e: { currentTarget: HTMLInputElement | HTMLTextAreaElement }) => {
      setFocused(true);
      onHand();
      // At once, not a frame later: what is typed right after must not be selected and replaced.
      e.currentTarget.select();
      fresh.current = true;
    },
    onMouseUp: (e: { preventDefault: () => void }) => {
      if (fresh.current) e.preventDefault(); // the click that brought the cursor here keeps the selection
      fresh.current = false;
    },
    onChange: (e: { target: { value: string } }) => {
      const value = e.target.value;
      fresh.current = false;
      setText(value);
      outbox.type(key, value);
      clearTimeout(timer.current);
      timer.current = window.setTimeout(() => commit(value), IDLE_SAVE_MS); // the field keeps what is typed until it is left
    },
    onBlur: () => {
      if (text !== null) commit(text);
      setText(null);
      setFocused(false);
    },
    onKeyDown: (e: React.KeyboardEvent) => {
      if (e.key === 'Escape') {
        clearTimeout(timer.current);
        outbox.type(key, null);
        setText(null);
        requestAnimationFrame(() => field.current?.select());
      } else if (e.key === 'Enter' && blank.lines === 1 && !e.ctrlKey && !e.metaKey && text !== null) commit(text);
    },
    className: `values absolute inset-0 h-full w-full resize-none overflow-hidden bg-transparent p-0 outline-none ${focused ? '' : 'text-transparent! caret-transparent'} ${blank.align === 'right' ? 'text-right' : blank.align === 'center' ? 'text-center' : ''}`,
    style: {
      fontSize: size,
      lineHeight: `${(((blank.rect[3] ?? 0) - (blank.rect[1] ?? 0)) / blank.lines) * scale}px`,
      paddingInline: 1.5 * scale,
      paddingTop: blank.lines > 1 ? 0 : 0.8 * scale,
      whiteSpace: blank.lines > 1 ? ('pre-wrap' as const) : ('pre' as const),
    },
  };
  return (
    <div
      style={place(blank, scale, paper)}
      title={blank.draft ? undefined : blank.label}
      className={`absolute ${chosen ? 'outline-2 outline-green outline-offset-1' : lit ? 'outline-1 outline-green' : ''} ${
        blank.draft ? 'outline-2! outline-wax!' : open && !chosen ? 'border-b-2 border-wax' : ''
      } ${blank.editable && !chosen ? 'hover:bg-[#1b5a4314]' : ''} ${blank.only_here ? 'border-l-2 border-l-ochre' : ''}`}
    >
      {!focused && <SetLines blank={blank} scale={scale} echo={echo ?? blank.draft?.text} />}
      {blank.lines > 1 ? <textarea {...entry} /> : <input {...entry} />}
      {blank.draft && (tells || chosen) && (
        <p
          role="alert"
          className={`absolute top-full z-10 mt-1 w-max max-w-[340px] border border-wax bg-wax-wash px-2 py-1 text-xs leading-snug text-wax ${(blank.rect[0] ?? 0) > paper.width / 2 ? 'right-0' : 'left-0'}`}
        >
          {blank.draft.message} {blank.draft.mend}
        </p>
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
  const { edit } = useDeal();
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
      data-blank={`${blank.document}/${blank.field}`}
      disabled={!blank.editable}
      onFocus={onHand}
      onClick={() => edit({ op: marked ? 'clear' : 'type', key, text: marked ? '' : own, based_on: blank.version })}
      style={place(blank, scale, paper)}
      className={`absolute disabled:cursor-not-allowed ${chosen ? 'outline-2 outline-green outline-offset-2' : lit ? 'outline-1 outline-green outline-offset-1' : ''} ${
        blank.state === 'open' ? 'border border-wax' : ''
      } ${blank.editable ? 'hover:bg-[#1b5a4322]' : ''}`}
    >
      {marked && (
        <svg viewBox="0 0 10 10" className="block h-full w-full" aria-hidden="true">
          <path d="M1.800 1.800l6.400 6.400M1.800 8.200l6.400-6.400" stroke="#121c45" strokeWidth="1.700" strokeLinecap="round" />
        </svg>
      )}
    </button>
  );
});

/** A place to be signed: whose it is, in small letters. */
export const SignSpot = memo(function SignSpot({ blank, scale, paper }: Props) {
  const { deal } = useDeal();
  const [one = '', position = ''] = blank.role.split('.');
  const name = position ? (deal.parties[`${one}s`]?.[Number(position) - 1]?.name ?? '') : '';
  if (blank.sign === 'date' || (position && !name)) return null;
  const initials = name
    .split(' ')
    .filter(Boolean)
    .map((w) => w[0])
    .join('');
  return (
    <span
      style={place(blank, scale, paper)}
      className="pointer-events-none absolute flex items-end overflow-hidden pb-[2px] text-[10px] leading-none text-ink-3"
      title={`${blank.sign}: ${name || one.replace('_', ' ')}`}
    >
      <span className="truncate pl-0.5">
        {blank.sign === 'initials' ? initials : `signs here: ${name || one.replace('_', ' ')}`}
      </span>
    </span>
  );
});
