/** Short notices at the foot of the window, each with what can be done about it. */
import { X } from 'lucide-react';
import { useSyncExternalStore } from 'react';

export interface Notice {
  id: number;
  text: string;
  wrong?: boolean;
  action?: { label: string; run: () => void };
}

let notices: Notice[] = [];
let last = 0;
const listeners = new Set<() => void>();
const tell = () => listeners.forEach((l) => l());

/** Show a notice; it goes by itself unless something is wrong. */
export function notify(text: string, more: Omit<Notice, 'id' | 'text'> = {}): void {
  const id = ++last;
  notices = [...notices.slice(-2), { id, text, ...more }];
  tell();
  setTimeout(() => dismiss(id), more.wrong ? 12_000 : 7_000);
}

function dismiss(id: number) {
  notices = notices.filter((n) => n.id !== id);
  tell();
}

const subscribe = (l: () => void) => {
  listeners.add(l);
  return () => listeners.delete(l);
};

export function Notices() {
  const shown = useSyncExternalStore(subscribe, () => notices);
  return (
    <div
      role="status"
      aria-live="polite"
      className="fixed bottom-4 left-1/2 z-50 flex w-max max-w-[94vw] -translate-x-1/2 flex-col items-center gap-2"
    >
      {shown.map((n) => (
        <div
          key={n.id}
          className={`flex max-w-[640px] items-center gap-3 rounded-md border px-4 py-2 text-sm shadow-md ${n.wrong ? 'border-wax bg-wax-wash text-wax' : 'border-ink bg-ink text-white'}`}
        >
          <span>{n.text}</span>
          {n.action && (
            <button
              type="button"
              className="font-semibold underline underline-offset-3"
              onClick={() => {
                n.action?.run();
                dismiss(n.id);
              }}
            >
              {n.action.label}
            </button>
          )}
          <button type="button" aria-label="Close this notice" onClick={() => dismiss(n.id)}>
            <X size={15} />
          </button>
        </div>
      ))}
    </div>
  );
}

/** Say what went wrong with a call, and what to do. */
export const sayProblem = (error: Error & { mend?: string }) => notify(`${error.message} ${error.mend ?? ''}`, { wrong: true });
