/** A paper that becomes a form: its pages with the blanks found or placed, what each asks for, and who signs. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useParams } from '@tanstack/react-router';
import { useState } from 'react';
import { client, got, once, type PaperInWork, type Placed } from '../../api/client';
import { useAction } from '../../api/use-action';
import { bindableQuery, paperQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { some } from '../../primitives/format';
import { FormsHead } from './forms-head';
import { PaperLens } from './paper-lens';
import { PaperSheet, type Tool } from './paper-sheet';
import { useKeeping, type Said } from './use-keeping';
import { usePlacing } from './use-placing';
import { TOOLS, usePlacingKeys } from './use-placing-keys';

export function PaperEditor() {
  const { paper } = useParams({ from: '/forms/papers/$paper' });
  const { data, error } = useQuery(paperQuery(paper));
  if (error)
    return (
      <div className="flex h-full flex-col">
        <FormsHead here="papers" />
        <p className="m-6 border border-wax bg-wax-wash px-4 py-3 text-wax">
          This draft can’t be opened. Its owner may have saved it as a form, or stopped sharing it.
        </p>
      </div>
    );
  return data ? <Editor key={data.id} paper={data} /> : null;
}

/** The paper put to use, or given up; `flush` sends first what was placed last. */
function useFinishing(paper: PaperInWork, said: Said, flush: () => Promise<void>) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const save = useAction({
    mutationFn: async (_: void, key: string) => {
      await flush();
      const params = { path: { reading: paper.id } };
      return got(client.POST('/api/papers/{reading}/form', { params, headers: once(key), body: said }));
    },
    onSuccess: ({ form }) => {
      if (!form) {
        notify('Proposed. Your broker, or a member whom your broker allows, approves it.');
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
  return { save, drop };
}

function Editor({ paper }: { paper: PaperInWork }) {
  const keeping = useKeeping(paper);
  const { placed, said, faults, state, setSaid, flush } = keeping;
  const { data: catalog = [] } = useQuery(bindableQuery);
  const placing = usePlacing(paper, keeping);
  const [tool, setTool] = useState<Tool>('hand');
  usePlacingKeys(placing, setTool);
  const { save, drop } = useFinishing(paper, said, flush);
  return (
    <div className="flex h-full flex-col">
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
      <div className="grid min-h-0 flex-1 max-[899px]:grid-rows-[minmax(0,1fr)_42dvh] min-[900px]:grid-cols-[minmax(0,1fr)_380px]">
        <div className="flex min-h-0 flex-col">
          <Toolbar tool={tool} setTool={setTool} placed={placed} />
          <div
            ref={placing.pages}
            className="min-h-0 flex-1 overflow-auto bg-blotter-2 px-5 py-4"
            aria-label="Pages"
            tabIndex={-1}
          >
            {placing.sizes.map((size, n) => (
              <PaperSheet
                key={n}
                picture={`/api/papers/${paper.id}/pages/${n + 1}/165.png`}
                page={n + 1}
                size={size}
                placed={placed.filter((p) => p.page === n + 1)}
                faulty={new Set(faults.map((f) => f.place))}
                chosen={placing.chosen?.id ?? null}
                tool={tool}
                choose={placing.setChosen}
                place={(id, rect) => placing.change(id, { rect })}
                add={(rect) => {
                  placing.add(n + 1, rect, tool === 'hand' ? 'text' : tool);
                  setTool('hand');
                }}
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
          catalog={catalog}
          placing={placing}
        />
      </div>
    </div>
  );
}

function Toolbar({ tool, setTool, placed }: { tool: Tool; setTool: (tool: Tool) => void; placed: Placed[] }) {
  const done = placed.filter((p) => p.confirmed).length;
  return (
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
  );
}
