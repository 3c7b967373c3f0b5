/** One clause: its name and wording with facts in it, whose it is, what it said before and where it stands. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useRef, useState } from 'react';
import { client, got, once, Problem, type CatalogFact, type Clause, type WholeClause } from '../../api/client';
import { bindableQuery, clausesQuery, sessionQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { Finder } from '../../primitives/finder';
import { notify, sayProblem } from '../../primitives/notices';
import { moment } from '../../primitives/format';
import { Wording } from './wording';

interface Props {
  /** Undefined for a new one. */
  clause: WholeClause | undefined;
  onSaved: (clause: Clause) => void;
  onGone: () => void;
}

interface Typed {
  name: string;
  wording: string;
  reach: Clause['reach'];
  approved: boolean;
}

const asSaved = (c: Clause | undefined): Typed => ({
  name: c?.name ?? '',
  wording: c?.wording ?? '',
  reach: c?.reach ?? 'mine',
  approved: Boolean(c?.approved_by),
});

/** Everything that shows clauses is read again. */
function useAgain() {
  const queries = useQueryClient();
  return () => queries.invalidateQueries({ queryKey: clausesQuery.queryKey });
}

function useSaving({ clause, onSaved }: Props) {
  const again = useAgain();
  const form = useKept(`clause ${clause?.id ?? 'new'}`, asSaved(clause));
  const own = useRef(0); // the version that was kept here last
  const [wrong, setWrong] = useState('');
  const save = useAction({
    mutationFn: (typed: Typed, key: string) => {
      const knows = form.isCurrent ? Math.max(clause?.number ?? 0, own.current) : 0;
      const sent = { headers: once(key), body: { ...typed, based_on: knows } };
      return clause
        ? got(client.POST('/api/clauses/{clause}', { params: { path: { clause: clause.id } }, ...sent }))
        : got(client.POST('/api/clauses', sent));
    },
    onSuccess: async (saved, sent) => {
      setWrong('');
      if (clause) form.keptAs(sent, asSaved(saved));
      else form.settle(asSaved(undefined));
      own.current = saved.number;
      await again();
      notify(`“${saved.name}” was saved.`);
      onSaved(saved);
    },
    onError: async (error: Error & { mend?: string }) => {
      if (error instanceof Problem && error.rule === 'changed') {
        form.told();
        await again(); // kept once more, it is kept over what is read here
      }
      setWrong(`${error.message} ${error.mend ?? ''}`);
    },
  });
  return { form, save, wrong };
}

export function ClauseCard(props: Props) {
  const { clause } = props;
  const { form, save, wrong } = useSaving(props);
  const { typed, set } = form;
  const mayWrite = clause?.may_write ?? true;
  if (clause && !mayWrite) return <ReadOnly clause={clause} />;
  const isSame = JSON.stringify(typed) === JSON.stringify(asSaved(clause));
  const isWhole = typed.name.trim() !== '' && typed.wording.trim() !== '';
  return (
    <form
      className="max-w-[720px] space-y-4 px-6 py-5 max-[620px]:px-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (isWhole && !isSame) save.mutate(typed);
      }}
    >
      <label className="block">
        <span className="mb-1 block text-sm font-medium">Name</span>
        <input
          className="field w-full"
          value={typed.name}
          maxLength={120}
          autoFocus={!clause}
          onChange={(e) => set({ ...typed, name: e.target.value })}
        />
      </label>
      <WordingField typed={typed} set={set} />
      {wrong && (
        <p role="alert" className="border border-wax bg-wax-wash px-3 py-2 text-sm text-wax">
          {wrong}
          {clause && typed.wording !== clause.wording && (
            <span className="mt-1 block font-serif text-ink">
              Saved version: <Wording parts={clause.parts} />
            </span>
          )}
        </p>
      )}
      <Whose clause={clause} typed={typed} set={set} />
      <div className="flex flex-wrap items-center gap-3">
        <Button type="submit" look="act" disabled={save.isPending || isSame || !isWhole}>
          {save.isPending ? 'Keeping …' : 'Keep'}
        </Button>
        {!isSame && (
          <Button look="words" onClick={() => form.settle(asSaved(clause))}>
            Discard changes
          </Button>
        )}
        {form.restored && <span className="text-sm text-ink-2">Your unsaved text is here.</span>}
        {clause && <Remove clause={clause} onGone={props.onGone} />}
      </div>
      {clause && <Story clause={clause} />}
    </form>
  );
}

/** The wording, with facts put in where the cursor is, and how it reads. */
function WordingField({ typed, set }: { typed: Typed; set: (typed: Typed) => void }) {
  const { data: catalog = [] } = useQuery(bindableQuery);
  const field = useRef<HTMLTextAreaElement>(null);
  const put = (fact: CatalogFact) => {
    const node = field.current;
    if (!node) return;
    const [from, to] = [node.selectionStart, node.selectionEnd];
    const said = `{${fact.key}}`;
    set({ ...typed, wording: typed.wording.slice(0, from) + said + typed.wording.slice(to) });
    node.focus();
    requestAnimationFrame(() => node.setSelectionRange(from + said.length, from + said.length));
  };
  return (
    <div>
      <label className="block">
        <span className="mb-1 block text-sm font-medium">Wording</span>
        <textarea
          ref={field}
          className="field min-h-[150px] w-full font-serif leading-relaxed"
          value={typed.wording}
          maxLength={6000}
          onChange={(e) => set({ ...typed, wording: e.target.value })}
        />
      </label>
      <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1">
        <FactFinder catalog={catalog} onPick={put} />
        <span className="text-xs text-ink-2">A fact fills itself in each deal, and follows when it changes.</span>
      </div>
      {typed.wording.includes('{') && (
        <p className="mt-3 border-l-2 border-hair pl-3 font-serif text-sm leading-relaxed" aria-label="How it reads">
          <Wording parts={partsOf(typed.wording, catalog)} />
        </p>
      )}
    </div>
  );
}

/** The wording as it is being typed, its facts by name as far as they are known. */
function partsOf(wording: string, catalog: CatalogFact[]): Clause['parts'] {
  const labels = new Map(catalog.map((f) => [f.key, f.label]));
  return wording.split(/(\{[^{}]*\})/).map((piece) => {
    const key = /^\{(.*)\}$/.exec(piece)?.[1]?.trim() ?? '';
    const label = labels.get(key);
    return label ? { words: '', key, label } : { words: piece, key: '', label: '' };
  });
}

const MOST_FOUND = 40;

function FactFinder({ catalog, onPick }: { catalog: CatalogFact[]; onPick: (fact: CatalogFact) => void }) {
  const [text, setText] = useState('');
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = catalog.filter((f) => words.every((w) => `${f.label} ${f.key}`.toLowerCase().includes(w)));
  return (
    <div className="flex w-[280px] max-w-full">
      <Finder
        label="Put in a fact"
        placeholder="Put in a fact: price, closing …"
        listLabel="Facts"
        text={text}
        onText={setText}
        found={fits.slice(0, MOST_FOUND)}
        fresh
        keyOf={(f) => f.key}
        onPick={(f) => {
          setText('');
          onPick(f);
        }}
      >
        {(f) => (
          <span className="flex items-baseline justify-between gap-3">
            {f.label} <span className="truncate text-xs text-ink-2">{f.key}</span>
          </span>
        )}
      </Finder>
    </div>
  );
}

interface WhoseProps {
  clause: WholeClause | undefined;
  typed: Typed;
  set: (typed: Typed) => void;
}

/** Who may use it, and whether its wording is approved. */
function Whose({ clause, typed, set }: WhoseProps) {
  const { data: session } = useQuery(sessionQuery);
  if (!session?.may_keep_clauses) return <p className="text-sm text-ink-2">Only you can see it.</p>;
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2 text-sm">
      <label className="flex items-center gap-2">
        Used by
        <select
          className="field"
          value={typed.reach}
          onChange={(e) => set({ ...typed, reach: e.target.value as Clause['reach'] })}
        >
          <option value="mine">only me</option>
          <option value="office">{clause?.reach === 'office' ? clause.of : 'my office'}</option>
          <option value="brokerage">the whole brokerage</option>
        </select>
      </label>
      {session.may_approve_clauses && (
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={typed.approved} onChange={(e) => set({ ...typed, approved: e.target.checked })} />
          Approved by me
        </label>
      )}
    </div>
  );
}

/** One that is others’ to change. */
function ReadOnly({ clause }: { clause: WholeClause }) {
  return (
    <div className="max-w-[720px] space-y-4 px-6 py-5 max-[620px]:px-3">
      <h2 className="font-serif text-[1.125rem] font-semibold">{clause.name}</h2>
      <p className="font-serif leading-relaxed">
        <Wording parts={clause.parts} />
      </p>
      <p className="text-sm text-ink-2">
        {clause.reach === 'office' ? `Kept for ${clause.of}` : 'Kept for the whole brokerage'}.
        {clause.approved_by && ` Approved by ${clause.approved_by}.`}
      </p>
      <Story clause={clause} />
    </div>
  );
}

function Remove({ clause, onGone }: { clause: WholeClause; onGone: () => void }) {
  const again = useAgain();
  const path = { params: { path: { clause: clause.id } } };
  const restore = useAction({
    mutationFn: () => got(client.POST('/api/clauses/{clause}/restore', path)),
    onSuccess: again,
    onError: sayProblem,
  });
  const remove = useAction({
    mutationFn: () => got(client.DELETE('/api/clauses/{clause}', path)),
    onSuccess: async () => {
      onGone();
      await again();
      notify(`“${clause.name}” was removed. Deals that use it keep it.`, {
        action: { label: 'Undo', run: () => restore.mutate() },
      });
    },
    onError: sayProblem,
  });
  return (
    <Button look="words" className="ml-auto text-wax!" disabled={remove.isPending} onClick={() => remove.mutate()}>
      Remove
    </Button>
  );
}

/** Where it stands, and what it said before. */
function Story({ clause }: { clause: WholeClause }) {
  const [, ...earlier] = clause.versions;
  return (
    <div className="space-y-4 border-t border-hair pt-4 text-sm">
      <section>
        <h3 className="mb-1 font-semibold">Used in</h3>
        {clause.uses.length === 0 && <p className="text-ink-2">In no deal yet.</p>}
        <ul>
          {clause.uses.map((u) => (
            <li
              key={`${u.deal} ${u.label}`}
              className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1 last:border-0"
            >
              <Link to="/deals/$deal/write" params={{ deal: u.deal }} className="font-medium text-green-2 hover:underline">
                {u.name}
              </Link>
              <span className="text-ink-2">{u.label}</span>
              {u.number < clause.number && <span className="text-ochre">an earlier wording</span>}
            </li>
          ))}
        </ul>
      </section>
      {earlier.length > 0 && (
        <section>
          <h3 className="mb-1 font-semibold">Previous text</h3>
          <ul>
            {earlier.map((v) => (
              <li key={v.number} className="border-b border-hair py-1.5 last:border-0">
                <span className="text-xs text-ink-2">
                  {v.name} · {v.by}, {moment(v.at)}
                </span>
                <p className="font-serif whitespace-pre-line">{v.wording}</p>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
