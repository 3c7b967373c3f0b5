/** Buttons: one that acts, one that stands by, one that is only words. */
import type { ButtonHTMLAttributes } from 'react';

const LOOKS = {
  act: 'bg-green text-on-green border-green hover:bg-green-2 disabled:bg-blotter-3 disabled:border-blotter-3 disabled:text-ink-2',
  plain: 'bg-sheet border-blotter-3 text-ink hover:bg-paper hover:border-ink-3 disabled:text-ink-3',
  words: 'border-transparent text-green-2 hover:underline underline-offset-3 px-1!',
  warn: 'bg-paper border-wax text-wax hover:bg-wax-wash',
};

export function Button({
  look = 'plain',
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: keyof typeof LOOKS }) {
  return (
    <button
      type="button"
      {...rest}
      className={`moves inline-flex min-h-6 items-center justify-center gap-1.5 whitespace-nowrap rounded-md border px-3 py-1.5 text-sm font-medium ${LOOKS[look]} ${className}`}
    />
  );
}
