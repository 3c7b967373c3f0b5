/** Words and fields of a paper's lens. */
import type { ReactNode } from 'react';

export const plain = (text: string) => text.replace(/[._]/g, ' ');

export const Labelled = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="block">
    <span className="mb-0.5 block text-xs text-ink-2">{label}</span>
    {children}
  </label>
);
