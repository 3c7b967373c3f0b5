/** A paper that becomes a form: its pages with the blanks found or placed, what each asks for, and who signs. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useParams } from '@tanstack/react-router';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { client, got, once, type PaperInWork, type Placed } from '../../api/client';
import { useAction } from '../../api/use-action';
import { bindableQuery, paperQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { some } from '../../primitives/words';
import { FormsHead } from './forms-head';
import { PaperLens } from './paper-lens';
import { PaperSheet, type Tool } from './paper-sheet';
import { collide, freeId, instead, moved, placeForCopy, type Rect } from './placing';
import { useKeeping } from './use-keeping';

const TOOLS: [Tool, string, string][] = [
  ['hand', 'Select', 'v'],
  ['text', 'Text', 't'],
  ['box', 'Box', 'b'],
  ['sign', 'Sign spot', 's'],
];
const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

export function PaperEditor() {
  const { paper } = useParams({ from: '/forms/papers/$paper' });
  const { data, error } = useQuery(paperQuery(paper));
  if (error)
    return (
      <main className="flex h-full flex-col">
        <FormsHead here="papers" />
        <p className="m-6 border border-wax bg-wax-wash px-4 py-3 text-wax">
          This paper is no longer in work. It may have been saved as a form.
        </p>
      </main>
    );
  return data ? <Editor key={data.id} paper={data} /> : null;
}

function Editor({ paper }: { paper: PaperInWork }) {
  const { placed, said, faults, state, setPlaced, setSaid, flush } = useKeeping(paper);
  const { data: catalog = [] } = useQuery(bindableQuery);
  const [chosenId, setChosen] = useState<string | null>(placed.find((p) => !p.confirmed)?.id ?? null);
  const [tool, setTool] = useState<Tool>('hand');
  const queries = useQueryClient();
  const navigate = useNavigate();
  const pages = useRef<HTMLDivElement>(null);
  const chosen = placed.find((p) => p.id === chosenId) ?? null;
  const sizes = useMemo(() => paper.sizes.map(([width = 612, height = 792]) => ({ width, height })), [paper.sizes]);

  const change = useCallback(
    (id: string, what: Partial<Placed>) => setPlaced((all) => all.map((p) => (p.id === id ? { ...p, ...what } : p))),
    [setPlaced],
  );
  const othersOn = useCallback(
    (page: number, but: string) => placed.filter((p) => p.page === page && p.id !== but).map((p) => p.rect as Rect),
    [placed],
  );
  const show = useCallback((id: string | null) => {
    setChosen(id);
    if (id)
      requestAnimationFrame(() =>
        pages.current?.querySelector(`[data-placed="${CSS.escape(id)}"]`)?.scrollIntoView({ block: 'nearest' }),
      );
  }, []);
  const next = useCallback(
    (after: string | null) => {
      const from = placed.findIndex((p) => p.id === after);
      const order = [...placed.slice(from + 1), ...placed.slice(0, from + 1)];
      return order.find((p) => !p.confirmed && p.id !== after)?.id ?? null;
    },
    [placed],
  );
  const add = (page: number, rect: Rect, shape: Placed['shape']) => {
    const id = freeId(
      shape === 'sign' ? 'sign' : shape === 'box' ? 'box' : 'blank',
      placed.map((p) => p.id),
    );
    const lines = shape === 'text' ? Math.max(1, Math.round((rect[3] - rect[1]) / 20)) : 1;
    const made: Placed = {
      id, page, rect, shape, lines, label: '', fact: '', kind: shape === 'text' ? (lines > 1 ? 'long_text' : 'text') : '', group: shape === 'box' ? id : '',
      value: '', role: shape === 'sign' ? 'buyer.1' : '', sign: shape === 'sign' ? 'signature' : '', who: '', required: true, confirmed: true, confidence: 0, others: [],
    }; // prettier-ignore
    setPlaced((all) => [...all, made]);
    setTool('hand');
    show(id);
  };
  const copy = (p: Placed) => {
    const size = sizes[p.page - 1];
    const rect = size && placeForCopy(p.rect as Rect, [...othersOn(p.page, p.id), p.rect as Rect], size);
    if (!rect) return notify('There is no free place on this page for a copy.', { wrong: true });
    const id = freeId(
      p.id.replace(/-\d+$/, ''),
      placed.map((o) => o.id),
    );
    setPlaced((all) => [...all, { ...p, id, rect, confirmed: true }]);
    show(id);
  };
  const onEveryPage = (p: Placed) => {
    const base = p.id.replace(/@\d+$/, '');
    const wanted = sizes.map((_, n) => n + 1).filter((n) => n !== p.page && !placed.some((o) => o.id === `${base}@${n}`));
    const free = wanted.filter((n) => !othersOn(n, '').some((o) => collide(o, p.rect as Rect)));
    setPlaced((all) => [
      ...all.map((o) => (o.id === p.id ? { ...o, id: `${base}@${p.page}` } : o)),
      ...free.map((page) => ({ ...p, id: `${base}@${page}`, page, confirmed: true })),
    ]);
    setChosen(`${base}@${p.page}`);
    const kept = wanted.length - free.length;
    notify(
      kept
        ? `Put on ${some(free.length, 'page')}; on ${some(kept, 'page')} another blank is in the way.`
        : `Put on ${some(free.length + 1, 'page')}.`,
      { wrong: kept > 0 },
    );
  };
  const remove = (p: Placed) => {
    const before = placed;
    setPlaced((all) => all.filter((o) => o.id !== p.id));
    setChosen(null);
    notify(`Removed “${p.label || p.id}”.`, { action: { label: 'Put it back', run: () => setPlaced(() => before) } });
  };
  const confirm = (p: Placed, what: Partial<Placed> = {}) => {
    const to = next(p.id);
    change(p.id, { ...what, confirmed: true });
    if (to) show(to);
  };

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement;
      if (at.closest('input, select, textarea, [role=menu]') || e.metaKey) return;
      if (e.ctrlKey) {
        if (e.key === 'd' && chosen) {
          e.preventDefault();
          copy(chosen);
        }
        return;
      }
      const named = TOOLS.find(([, , key]) => key === e.key);
      if (named) return setTool(named[0]);
      if (!chosen) return;
      const arrow = ARROWS[e.key];
      const size = sizes[chosen.page - 1];
      if (arrow && size) {
        e.preventDefault();
        const by = e.shiftKey ? 10 : 1;
        const rect = moved(chosen.rect as Rect, arrow[0] * by, arrow[1] * by, size);
        if (!othersOn(chosen.page, chosen.id).some((o) => collide(o, rect))) change(chosen.id, { rect });
      } else if (e.key === 'Enter' && !at.closest('button:not([data-placed]), a')) {
        e.preventDefault();
        confirm(chosen);
      } else if (/^[1-4]$/.test(e.key)) {
        const other = chosen.others[Number(e.key) - 1];
        if (other) confirm(chosen, instead(chosen, other));
      } else if (e.key === 'Delete' || e.key === 'Backspace') remove(chosen);
      else if (e.key === 'Escape') {
        setTool('hand');
        setChosen(null);
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });

  const save = useAction({
    mutationFn: async (_: void, key: string) => {
      await flush();
      const params = { path: { reading: paper.id } };
      return got(client.POST('/api/papers/{reading}/form', { params, headers: once(key), body: said }));
    },
    onSuccess: ({ form }) => {
      if (!form) {
        notify('It is proposed: your broker, or whom the broker lets, puts it to use.');
        void queries.invalidateQueries({ queryKey: ['papers'] });
        void navigate({ to: '/forms/papers' });
        return;
      }
      notify(`${form.number} ${form.title} is a form of the brokerage now.`);
      void queries.invalidateQueries({ queryKey: ['papers'] });
      void queries.invalidateQueries({ queryKey: ['forms'] });
      void navigate({ to: '/forms', search: { edition: form.edition } });
    },
    onError: sayProblem,
  });
  const drop = useAction({
    mutationFn: () => got(client.DELETE('/api/papers/{reading}', { params: { path: { reading: paper.id } } })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['papers'] });
      void navigate({ to: '/forms/papers' });
    },
    onError: sayProblem,
  });
  const done = placed.filter((p) => p.confirmed).length;
  return (
    <main className="flex h-full flex-col">
      <FormsHead here="papers">
        <span role="status" className="ml-auto text-xs text-ink-2">
          {state === 'saved' ? 'Saved' : state === 'saving' ? 'Saving …' : state}
        </span>
        {state.startsWith('Not saved') && (
          <Button className="py-0.5!" onClick={() => void flush()}>
            Try again
          </Button>
        )}
        {(paper.mine || paper.may_save) && (
          <Button look="words" onClick={() => drop.mutate()}>
            Drop this paper
          </Button>
        )}
        <Button look="act" disabled={save.isPending} onClick={() => save.mutate()}>
          {paper.may_save ? 'Save as a form' : 'Propose as a form'}
        </Button>
      </FormsHead>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_380px]">
        <div className="flex min-h-0 flex-col">
          <div
            role="toolbar"
            aria-label="Placing"
            className="flex shrink-0 items-center gap-1.5 border-b border-blotter-3 px-5 py-1.5 text-sm"
          >
            {TOOLS.map(([name, label, key]) => (
              <Button
                key={name}
                aria-pressed={tool === name}
                title={`Key ${key.toUpperCase()}`}
                onClick={() => setTool(name)}
                className={`px-2.5! py-1! ${tool === name ? 'border-green! bg-green-wash!' : ''}`}
              >
                {label}
              </Button>
            ))}
            <span className="ml-3 truncate text-xs text-ink-2">
              {tool === 'hand' ? 'Arrow keys nudge, Shift by ten; Enter confirms and goes on.' : 'Draw it on the page.'}
            </span>
            <span className="ml-auto whitespace-nowrap text-xs text-ink-2">
              {done} of {some(placed.length, 'blank')} confirmed
            </span>
          </div>
          <div ref={pages} className="min-h-0 flex-1 overflow-auto bg-blotter-2 px-5 py-4" aria-label="Pages" tabIndex={-1}>
            {sizes.map((size, n) => (
              <PaperSheet
                key={n}
                picture={`/api/papers/${paper.id}/pages/${n + 1}/165.png`}
                page={n + 1}
                size={size}
                placed={placed.filter((p) => p.page === n + 1)}
                faulty={new Set(faults.map((f) => f.place))}
                chosen={chosenId}
                tool={tool}
                choose={setChosen}
                place={(id, rect) => change(id, { rect })}
                add={(rect) => add(n + 1, rect, tool === 'hand' ? 'text' : tool)}
              />
            ))}
          </div>
        </div>
        <PaperLens
          paper={paper}
          said={said}
          setSaid={setSaid}
          placed={placed}
          faults={faults}
          chosen={chosen}
          catalog={catalog}
          choose={show}
          change={change}
          confirm={confirm}
          confirmAll={(ids) => setPlaced((all) => all.map((p) => (ids.includes(p.id) ? { ...p, confirmed: true } : p)))}
          copy={copy}
          onEveryPage={onEveryPage}
          remove={remove}
        />
      </div>
    </main>
  );
}
