/** A field that finds while typing: a list below it, arrows and Enter, and Enter pressed before the answer counts for its first. */
import { useEffect, useId, useState, type KeyboardEvent, type ReactNode } from 'react';
import { useEarlyEnter } from './early-enter';

interface Props<T> {
  label: string;
  placeholder: string;
  listLabel: string;
  text: string;
  onText: (text: string) => void;
  /** What was found for `text`; `fresh` says that it was found for just this text and nothing older. */
  found: T[];
  fresh: boolean;
  keyOf: (item: T) => string;
  onPick: (item: T) => void;
  /** The list is shown as soon as the field has the focus. */
  onOpen?: (open: boolean) => void;
  /** Enter was pressed before the answer came: something is about to be picked, or it turns out that nothing is. */
  onWaiting?: (waiting: boolean) => void;
  autoFocus?: boolean;
  /** Width of the list as classes; as wide as the field without. */
  listWidth?: string;
  /** What is said below what was found: that it is being looked for, how many more there are, what kept a source away. */
  foot?: ReactNode;
  children: (item: T) => ReactNode;
}

export function Finder<T>({ onOpen, onWaiting, listWidth = 'inset-x-0', autoFocus = false, ...p }: Props<T>) {
  const [at, setAt] = useState(0);
  const [open, setOpen] = useState(autoFocus);
  const id = useId();
  const items = open ? p.found : [];
  const show = (now: boolean) => {
    setOpen(now);
    onOpen?.(now);
  };
  const pick = (item: T) => {
    show(false);
    p.onPick(item);
  };
  const { enter, isWaiting } = useEarlyEnter(p.text, p.fresh || p.text.trim() === '', (waited) => {
    const wanted = waited ? p.found[0] : items[at];
    if (wanted) pick(wanted);
  });
  // What is picked may take the field's place: then nothing is waited for, either.
  useEffect(() => {
    if (!isWaiting) return;
    onWaiting?.(true);
    return () => onWaiting?.(false);
  }, [isWaiting, onWaiting]);
  const onKey = (e: KeyboardEvent) => {
    if (e.key === 'Escape' && open) show(false);
    else if (e.key === 'ArrowDown') setAt((n) => Math.min(n + 1, items.length - 1));
    else if (e.key === 'ArrowUp') setAt((n) => Math.max(n - 1, 0));
    else if (e.key === 'Enter') enter();
    else return;
    e.preventDefault(); // Enter never sends the form around it
  };
  return (
    <div className="relative min-w-0 flex-1">
      <input
        className="field w-full"
        role="combobox"
        aria-label={p.label}
        aria-expanded={items.length > 0}
        aria-controls={id}
        aria-autocomplete="list"
        aria-activedescendant={items[at] ? `${id}-${at}` : undefined}
        placeholder={p.placeholder}
        value={p.text}
        autoFocus={autoFocus}
        onChange={(e) => {
          p.onText(e.target.value);
          setAt(0);
          show(true);
        }}
        onFocus={() => show(true)}
        onBlur={() => show(false)}
        onKeyDown={onKey}
      />
      <div
        className={
          items.length || (open && p.foot)
            ? `absolute ${listWidth} z-20 mt-1 rounded-md border border-ink-3 bg-paper shadow-lg`
            : ''
        }
      >
        <Found id={id} label={p.listLabel} items={items} at={at} setAt={setAt} pick={pick} of={p} />
        {open && p.foot && (
          <div role="status" className="px-3 py-1.5 text-sm text-ink-2">
            {p.foot}
          </div>
        )}
      </div>
    </div>
  );
}

interface FoundProps<T> {
  id: string;
  label: string;
  items: T[];
  /** The place of the one that Enter would pick. */
  at: number;
  setAt: (at: number) => void;
  pick: (item: T) => void;
  of: Pick<Props<T>, 'keyOf' | 'children'>;
}

/** The list below the field. */
function Found<T>({ id, label, items, at, setAt, pick, of }: FoundProps<T>) {
  return (
    <ul id={id} role="listbox" aria-label={label} hidden={items.length === 0} className="max-h-[322px] overflow-auto">
      {items.map((item, n) => (
        <li
          key={of.keyOf(item)}
          id={`${id}-${n}`}
          role="option"
          aria-selected={n === at}
          onMouseEnter={() => setAt(n)}
          onMouseDown={(e) => e.preventDefault()} // the field keeps the focus, and the list stays until it is clicked
          onClick={() => pick(item)}
          className={`cursor-pointer border-b border-hair px-3 py-1.5 last:border-0 ${n === at ? 'bg-green-wash' : ''}`}
        >
          {of.children(item)}
        </li>
      ))}
    </ul>
  );
}
