/** To the month before or after. */
import type { ReactNode } from 'react';

export function MonthButton({ label, to, children }: { label: string; to: () => void; children: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      onClick={to}
      className="moves grid h-8 w-8 place-items-center rounded-md hover:bg-blotter-2"
    >
      {children}
    </button>
  );
}
