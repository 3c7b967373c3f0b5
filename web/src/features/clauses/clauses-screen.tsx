/** Clauses: found by name or words, written once, and used wherever there is a blank for text. */
import { useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import type { Clause } from '../../api/client';
import { clauseQuery, clausesQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { PageTitle } from '../../primitives/page-title';
import { some } from '../../primitives/format';
import { ClauseCard } from './clause-card';
import { whose } from './wording';

const NEW = 'new';

const found = (clauses: Clause[], find: string) => {
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  return clauses.filter((c) => words.every((w) => `${c.name} ${c.wording} ${whose(c)}`.toLowerCase().includes(w)));
};

export function ClausesScreen() {
  const { clause } = useSearch({ from: '/clauses' });
  const [find, setFind] = useState('');
  const { data, error } = useQuery(clausesQuery);
  const navigate = useNavigate();
  const show = (id: string | undefined) => void navigate({ to: '/clauses', search: { clause: id } });
  const listed = found(data ?? [], find);
  return (
    <div className="flex h-full flex-col">
      <header className="flex min-h-[52px] shrink-0 flex-wrap items-center gap-3 border-b border-blotter-3 bg-sheet px-6 py-1.5 max-[620px]:px-3">
        <PageTitle of="Clauses" />
        <h1 className="mr-2 font-serif text-[1.0625rem] font-semibold">Clauses</h1>
        <input
          type="search"
          className="field w-[290px]"
          aria-label="Find a clause"
          placeholder="Name or words"
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
        <Button look="act" className="ml-auto" onClick={() => show(NEW)}>
          New clause
        </Button>
      </header>
      <div className="grid min-h-0 flex-1 min-[900px]:grid-cols-[minmax(340px,4fr)_minmax(0,6fr)]">
        <div className={`min-h-0 overflow-auto pb-8 pl-6 pr-4 pt-3 max-[620px]:px-3 ${clause ? 'max-[899px]:hidden' : ''}`}>
          {error && (
            <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">
              Couldn’t load clauses. Nothing was lost. Try again.
            </p>
          )}
          {data && listed.length === 0 && <Nothing sought={find.trim() !== ''} begin={() => show(NEW)} />}
          <ul aria-label="Clauses">
            {listed.map((c) => (
              <Row key={c.id} clause={c} here={c.id === clause} show={() => show(c.id)} />
            ))}
          </ul>
        </div>
        <div className={`min-h-0 overflow-auto border-blotter-3 min-[900px]:border-l ${clause ? '' : 'max-[899px]:hidden'}`}>
          <Button look="words" className="ml-5 mt-2 min-[900px]:hidden" onClick={() => show(undefined)}>
            All clauses
          </Button>
          {clause ? (
            <InHand key={clause} id={clause} show={show} />
          ) : (
            <p className="p-6 text-ink-2">Choose a clause, or write a new one.</p>
          )}
        </div>
      </div>
    </div>
  );
}

function InHand({ id, show }: { id: string; show: (id: string | undefined) => void }) {
  const isNew = id === NEW;
  const { data, error } = useQuery({ ...clauseQuery(id), enabled: !isNew });
  if (error) return <p className="p-6 text-ink-2">This clause doesn’t exist, or you can’t see it.</p>;
  if (!isNew && !data) return null;
  return <ClauseCard clause={data} onSaved={(c) => show(c.id)} onGone={() => show(undefined)} />;
}

function Row({ clause: c, here, show }: { clause: Clause; here: boolean; show: () => void }) {
  return (
    <li
      className={`relative -mt-px border px-3 py-1.5 ${here ? 'z-10 border-green bg-paper' : 'border-hair bg-paper hover:bg-sheet'}`}
    >
      <span className="flex items-baseline gap-3">
        <button
          type="button"
          aria-current={here}
          onClick={show}
          className="min-w-0 flex-1 truncate text-left font-medium after:absolute after:inset-0"
        >
          {c.name}
        </button>
        <span className="shrink-0 text-xs text-ink-2">{whose(c)}</span>
      </span>
      <span className="flex items-baseline gap-3 text-xs text-ink-2">
        <span className="min-w-0 flex-1 truncate">{c.parts.map((p) => p.words || `[${p.label}]`).join('')}</span>
        <span className="shrink-0">
          {c.approved_by && <span className="mr-2 text-green-2">approved</span>}
          {c.used > 0 && some(c.used, 'deal')}
        </span>
      </span>
    </li>
  );
}

function Nothing({ sought, begin }: { sought: boolean; begin: () => void }) {
  return (
    <div className="border border-hair bg-sheet px-6 py-10 text-center text-ink-2">
      {sought ? (
        'No matching clauses.'
      ) : (
        <>
          <p className="mb-4">Save wording that you use often. Facts in it are filled in for each deal.</p>
          <Button onClick={begin}>Write a clause</Button>
        </>
      )}
    </div>
  );
}
