/** One thing said on a page of its own. */
import type { ReactNode } from 'react';
import { Wordmark } from '../primitives/wordmark';

export function Alone({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className="grid min-h-full grid-cols-1 place-items-center px-4 py-8">
      <div className="w-[520px] max-w-full border border-hair bg-paper px-7 py-7 max-[420px]:px-5">
        <Wordmark />
        <h1 className="mb-2 mt-4 font-serif text-[1.3rem] font-semibold leading-snug">{title}</h1>
        <div className="space-y-3 leading-relaxed">{children}</div>
      </div>
    </main>
  );
}
