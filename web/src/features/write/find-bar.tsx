/** What is looked for in the package, above the paper: how often it stands there, and the way from place to place. */
import { ChevronDown, ChevronUp, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Button } from '../../primitives/button';
import { MOST_HITS } from './find';
import type { Find } from './use-find';

/** How far it is, in words. */
function said({ text, hits, at, waiting, failed }: Find): string {
  const more = waiting > 0 ? '; still reading' : failed > 0 ? '; some forms can’t be read now' : '';
  if (text.trim() === '') return '';
  if (hits.length === 0) return waiting > 0 ? 'Loading forms …' : `Not in this package${more}`;
  const which = at >= 0 ? `${at + 1} of ` : '';
  return `${which}${hits.length}${hits.length === MOST_HITS ? ' or more' : ''}${more}`;
}

export function FindBar({ find, close }: { find: Find; close: () => void }) {
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.select(), []);
  return (
    <search
      className="absolute inset-x-0 top-0 z-20 flex h-12 items-center gap-x-2 border-b border-hair bg-sheet px-4 text-sm max-[620px]:px-2"
      onKeyDown={(e) => {
        if (e.key === 'Escape') close();
      }}
    >
      <input
        ref={field}
        type="text"
        aria-label="Find in this package"
        placeholder="Find in this package"
        value={find.text}
        spellCheck={false}
        autoComplete="off"
        maxLength={200}
        onChange={(e) => find.look(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return;
          e.preventDefault();
          find.go(e.shiftKey ? -1 : 1);
        }}
        className="field min-w-0 flex-1 basis-24"
      />
      <span role="status" className="min-w-16 text-ink-2 max-[620px]:text-xs">
        {said(find)}
      </span>
      <span className="flex shrink-0 items-center gap-1">
        <Button className="px-2!" aria-label="Previous match" title="Place before: Shift + Enter" onClick={() => find.go(-1)}>
          <ChevronUp size={16} />
        </Button>
        <Button className="px-2!" aria-label="Next place" title="Next match: Enter" onClick={() => find.go(1)}>
          <ChevronDown size={16} />
        </Button>
        <Button look="words" aria-label="Close search" title="End finding: Esc" onClick={close}>
          <X size={16} />
        </Button>
      </span>
    </search>
  );
}
