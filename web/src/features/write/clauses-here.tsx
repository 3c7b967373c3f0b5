/** Clauses for a blank that takes text: by their names while these are typed, each looked at before it is put in. */
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { Clause } from '../../api/client';
import { clausesQuery } from '../../api/queries';
import { useScreenKeys } from '../../primitives/screen-keys';
import { useWorkspace } from '../workspace/workspace';
import { whose, Wording } from '../clauses/wording';
import { arrowsAmong } from './beside-arrows';
import { nameBefore, ranked, type Field } from './clause-names';

const MOST_SHOWN = 6;
const TEXTS = ['text', 'long_text'];

/** Whether wording can stand in a blank. */
export const takesWording = (kind: string) => TEXTS.includes(kind);

/** What stands in the field before the cursor, as it is typed and the cursor moves; where it is left stays known. */
function useCursor(fieldOf: () => Field | null) {
  const [before, setBefore] = useState('');
  useEffect(() => {
    const look = () => {
      const field = fieldOf();
      if (field && document.activeElement === field) setBefore(field.value.slice(0, cursorIn(field)));
    };
    look();
    document.addEventListener('selectionchange', look);
    document.addEventListener('input', look);
    return () => {
      document.removeEventListener('selectionchange', look);
      document.removeEventListener('input', look);
    };
  });
  return before;
}

/** Where the next letter would go: behind what is chosen, which is all of it where the field was just entered. */
const cursorIn = (field: Field) => field.selectionEnd ?? field.value.length;

interface Props {
  /** The key under which the blank is answered. */
  of: string;
  /** The field that it is typed in, where it is on the screen. */
  fieldOf: () => Field | null;
  /** Of a short blank only while one is being named. */
  short?: boolean;
}

/** What others keep is there a minute later; entering a blank asks for nothing. */
const FRESH_MS = 60_000;

export function ClausesHere({ of, fieldOf, short = false }: Props) {
  const { edit, outbox, facts, isDeal } = useWorkspace();
  const { data: clauses = [] } = useQuery({ ...clausesQuery, staleTime: FRESH_MS });
  const [find, setFind] = useState('');
  const before = useCursor(fieldOf);
  useAltDown();
  const named = nameBefore(clauses, before);
  const fitting = ranked(clauses, find, named);
  if (clauses.length === 0 || (short && named.fitting.length === 0)) return null;
  const put = (clause: Clause) => {
    const field = fieldOf();
    const text = field?.value ?? '';
    const at = field ? cursorIn(field) : text.length;
    const isByName = find === '' && named.fitting.includes(clause);
    const front = text.slice(0, isByName ? at - named.length : at);
    outbox.flush(of);
    edit({ op: 'insert', key: of, text: clause.wording, before: front, behind: text.slice(at), clause: clause.ref });
    setFind('');
    field?.focus();
  };
  return (
    <section aria-label="Clauses" className="border-t border-hair pt-2">
      <div className="mb-1 flex items-center gap-2">
        <h3 className="text-xs text-ink-2">
          Clauses <span className="max-[899px]:hidden">(Alt + ↓, Enter)</span>
        </h3>
        {clauses.length > MOST_SHOWN && (
          <input
            type="search"
            className="field ml-auto w-[120px] min-w-0 py-0.5! text-xs"
            aria-label="Find a clause"
            placeholder="Find"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
        )}
      </div>
      {fitting.slice(0, MOST_SHOWN).map((clause) => (
        <button
          key={clause.id}
          type="button"
          data-clause
          onKeyDown={onArrows}
          onClick={() => put(clause)}
          className="moves group block w-full rounded-sm px-2 py-1 text-left text-sm hover:bg-green-wash"
        >
          <span className="flex items-baseline gap-2">
            <span className="min-w-0 flex-1 font-medium">{clause.name}</span>
            <span className="shrink-0 text-xs text-ink-2">{clause.approved_by ? 'approved' : whose(clause)}</span>
          </span>
          <span className="hidden border-l-2 border-hair py-1 pl-2 text-xs leading-snug group-hover:block group-focus:block max-[899px]:block">
            <Wording parts={clause.parts} said={isDeal ? (key) => facts.get(key)?.shown ?? '' : undefined} />
          </span>
        </button>
      ))}
      {fitting.length === 0 && <p className="text-xs text-ink-2">No matching clauses.</p>}
      {fitting.length > MOST_SHOWN && (
        <p className="px-2 text-xs text-ink-2">{fitting.length - MOST_SHOWN} more: type a part of the name.</p>
      )}
    </section>
  );
}

const onArrows = arrowsAmong('data-clause');

/** Alt and the arrow down go to the first clause from wherever the text is typed. */
function useAltDown() {
  useScreenKeys((e) => {
    if (!e.altKey || e.key !== 'ArrowDown' || !(e.target instanceof Element)) return;
    if (!e.target.matches('input, textarea')) return;
    e.preventDefault();
    document.querySelector<HTMLElement>('[data-clause]')?.focus();
  });
}
