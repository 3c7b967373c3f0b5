/** Short notices at the foot of the window, below what is worked on and never over it, each with what can be done about it. */
import { X } from 'lucide-react';
import { useEffect, useSyncExternalStore } from 'react';

export interface Notice {
  id: number;
  text: string;
  wrong?: boolean;
  /** What it speaks of, where something later may make it untrue. */
  about?: string;
  action?: { label: string; run: () => void };
}

/** As many as stand there at once: three lines are still read, and leave the work its room. */
const MOST = 3;

let notices: Notice[] = [];
let last = 0;
const listeners = new Set<() => void>();
const tell = () => listeners.forEach((l) => l());

/** Show a notice; it goes by itself, later if something is wrong. One that says the same, or speaks of the same, takes its place. */
export function notify(text: string, more: Omit<Notice, 'id' | 'text'> = {}): void {
  const id = ++last;
  const others = notices.filter((n) => n.text !== text && (!more.about || n.about !== more.about));
  notices = [...others.slice(1 - MOST), { id, text, ...more }];
  tell();
  setTimeout(() => dismiss(id), more.wrong ? 12_000 : 7_000);
}

const dismiss = (id: number) => keep((n) => n.id !== id);

/** Take away what is said of something: it is so no longer. */
export const withdraw = (about: string) => keep((n) => n.about !== about);

function keep(stays: (notice: Notice) => boolean) {
  notices = notices.filter(stays);
  tell();
}

const subscribe = (l: () => void) => {
  listeners.add(l);
  return () => listeners.delete(l);
};

/** Say what has happened to those who don't see it: nothing stands on the screen. */
export function announce(text: string): void {
  heard = text;
  tell();
}
let heard = '';

/** `asAlert`: on a page with a status of its own they are there only while something is said. */
export function Notices({ asAlert = false }: { asAlert?: boolean }) {
  const said = useSyncExternalStore(subscribe, () => heard);
  const shown = useSyncExternalStore(subscribe, () => notices);
  useEffect(() => {
    // The room above is lower now: what is being typed in stays in sight.
    if (shown.length) document.activeElement?.scrollIntoView({ block: 'nearest' });
  }, [shown.length]);
  if (asAlert && shown.length === 0) return null;
  return (
    <div role={asAlert ? 'alert' : 'status'} aria-live={asAlert ? 'assertive' : 'polite'} className="shrink-0">
      <span className="sr-only">{said}</span>
      {shown.map((n) => (
        <div
          key={n.id}
          className={`flex items-center justify-center gap-3 border-t px-4 py-1.5 text-sm ${n.wrong ? 'border-wax bg-wax-wash text-wax' : 'border-ink bg-ink text-sheet'}`}
        >
          <span className="min-w-0">{n.text}</span>
          {n.action && (
            <button
              type="button"
              className="min-h-6 shrink-0 font-semibold underline underline-offset-3"
              onClick={() => {
                n.action?.run();
                dismiss(n.id);
              }}
            >
              {n.action.label}
            </button>
          )}
          <button
            type="button"
            aria-label="Close this notice"
            className="grid h-7 w-7 shrink-0 place-items-center"
            onClick={() => dismiss(n.id)}
          >
            <X size={15} />
          </button>
        </div>
      ))}
    </div>
  );
}

/** Say what went wrong with a call, and what to do. */
export const sayProblem = (error: Error & { mend?: string }) => notify(`${error.message} ${error.mend ?? ''}`, { wrong: true });
