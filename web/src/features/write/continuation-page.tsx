/** A page behind a form's own, as it will print: what did not fit its blanks, and who else signs. */
import type { ReactNode } from 'react';
import type { ContinuationPage } from '../../api/client';
import type { Size } from '../assembly/pages';

interface Props {
  label: string;
  page: ContinuationPage;
  size: Size;
  scale: number;
  children?: ReactNode;
}

export function ContinuationPaper({ label, page, size, scale, children }: Props) {
  const above = (y: number) => (size.height - y) * scale;
  return (
    <section
      aria-label={label}
      className="on-paper relative h-full w-full border border-blotter-3 bg-paper"
      style={{ contain: 'strict' }}
    >
      {page.rules.map(([left = 0, y = 0, right = 0], n) => (
        <span
          key={n}
          aria-hidden="true"
          className="absolute border-t border-ink-2"
          style={{ left: left * scale, top: above(y), width: (right - left) * scale }}
        />
      ))}
      {page.lines.map(([x, y, size, text], n) => (
        <span
          key={n}
          className="values absolute whitespace-pre"
          style={{
            left: Number(x) * scale,
            top: above(Number(y)) - Number(size) * scale,
            fontSize: Number(size) * scale,
            lineHeight: 1.27,
          }}
        >
          {String(text)}
        </span>
      ))}
      {children}
    </section>
  );
}
