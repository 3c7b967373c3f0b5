/** Templates: one's own, the brokerage's, the association's; found by name, form, side and kind. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { client, got, once, upload, type TemplateChoice } from '../../api/client';
import { dealQuery, templatesQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { FileButton } from '../../primitives/file-button';
import { MenuItem, MoreMenu } from '../../primitives/menu';
import { notify, sayProblem } from '../../primitives/notices';
import { PageTitle } from '../../primitives/page-title';
import { some } from '../../primitives/format';
import { answeredOf, CoverageBar } from './coverage';
import { NewTemplate, type From } from './new-template';

/** Whether everything that is typed stands in its name, side, kinds, forms or purpose. */
const isLike = (t: TemplateChoice, words: string[]) => {
  const said = [t.name, t.side, ...t.kinds, ...t.forms, t.about].join(' ').toLowerCase();
  return words.every((w) => said.includes(w));
};

const GROUPS: [string, (t: TemplateChoice) => boolean][] = [
  ['Yours', (t) => t.mine],
  ['Of the brokerage', (t) => !t.mine && t.reach !== 'association'],
  ['Of the association', (t) => t.reach === 'association'],
];

export function TemplatesScreen() {
  const { data: all, error } = useQuery({ ...templatesQuery(), refetchOnMount: 'always' }); // it may just have been written
  const [find, setFind] = useState('');
  const [from, setFrom] = useFrom();
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const found = (all ?? []).filter((t) => isLike(t, words));
  const noneOfMine = all !== undefined && !all.some((t) => t.mine);
  return (
    <div className="flex h-full flex-col">
      <header className="flex min-h-[52px] shrink-0 flex-wrap items-center gap-3 border-b border-blotter-3 bg-sheet px-6 py-1.5 max-[620px]:px-3">
        <PageTitle of="Templates" />
        <h1 className="mr-2 font-serif text-[1.0625rem] font-semibold">Templates</h1>
        <input
          type="search"
          className="field w-[330px] max-w-full"
          aria-label="Find a template"
          placeholder="Name, form number, side or kind"
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
        <span className="ml-auto flex items-center gap-4 text-sm">
          <ReadFile />
          <Button look="act" onClick={() => setFrom({})}>
            New template
          </Button>
        </span>
      </header>
      <div className="min-h-0 flex-1 overflow-auto px-6 pb-12 pt-4 max-[620px]:px-3">
        <div className="mx-auto max-w-[1060px]">
          {error && (
            <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">
              Couldn’t load templates. Nothing was lost. Try again.
            </p>
          )}
          {all && <MoveAllOn templates={all.filter((t) => t.may_write && t.retired.length > 0)} />}
          {noneOfMine && words.length === 0 && <FirstOne begin={() => setFrom({})} />}
          {all && found.length === 0 && (
            <p className="border border-hair bg-sheet px-6 py-10 text-center text-ink-2">No matching templates.</p>
          )}
          {GROUPS.map(([title, belongs]) => {
            const rows = found.filter(belongs);
            return rows.length === 0 ? null : (
              <section key={title} className="mb-6">
                <h2 className="mb-1.5 text-sm font-semibold text-ink-2">
                  {title} <span className="font-normal">{rows.length}</span>
                </h2>
                <ul className="border border-hair bg-paper">
                  {rows.map((t) => (
                    <TemplateRow key={t.id} template={t} copy={() => setFrom({ like: t })} />
                  ))}
                </ul>
              </section>
            );
          })}
        </div>
      </div>
      {from && <NewTemplate from={from} onClose={() => setFrom(null)} />}
    </div>
  );
}

/** What a new template is begun from; nothing or a deal, where the address says so. */
function useFrom() {
  const { deal, begin } = useSearch({ from: '/templates' });
  const navigate = useNavigate();
  const { data: asked } = useQuery({ ...dealQuery(deal ?? ''), enabled: Boolean(deal) });
  const [from, setFrom] = useState<From | null>(null);
  const ofDeal = deal && asked ? { deal: { id: deal, name: asked.head.name } } : null;
  const put = (now: From | null) => {
    setFrom(now);
    if (deal || begin) void navigate({ to: '/templates', search: {}, replace: true });
  };
  return [from ?? ofDeal ?? (begin ? {} : null), put] as const;
}

/** Several are on retired editions: all of them in one action, each as a step that can be undone. */
function MoveAllOn({ templates }: { templates: TemplateChoice[] }) {
  const queries = useQueryClient();
  const move = useAction({
    mutationFn: (_: void, key: string) =>
      got(client.POST('/api/templates/newest', { headers: once(key), body: { templates: templates.map((t) => t.id) } })),
    onSuccess: (moved) => {
      for (const queryKey of [['templates'], ['template'], ['deal']]) void queries.invalidateQueries({ queryKey });
      notify(`${some(moved.length, 'template')} moved on: ${moved.map((m) => m.name).join(', ')}.`);
    },
    onError: sayProblem,
  });
  if (templates.length < 2) return null;
  return (
    <div className="mb-4 flex flex-wrap items-center gap-3 border border-ochre bg-ochre-wash px-4 py-2.5 text-sm">
      <span className="min-w-[240px] flex-1">
        {templates.length} templates that you write are on editions of which newer ones are there. What changes is said in each.
      </span>
      <Button disabled={move.isPending} onClick={() => move.mutate()}>
        {move.isPending ? 'Updating …' : 'Update all'}
      </Button>
    </div>
  );
}

function FirstOne({ begin }: { begin: () => void }) {
  return (
    <div className="mb-6 border border-hair bg-sheet px-8 py-8 text-center">
      <p className="mx-auto mb-1 max-w-[560px] font-medium">Save the forms and answers that you always use.</p>
      <p className="mx-auto mb-4 max-w-[560px] text-sm text-ink-2">
        Copy one of the association’s templates below and change it, turn a finished deal into a template, or choose the forms
        yourself.
      </p>
      <Button look="act" onClick={begin}>
        New template
      </Button>
    </div>
  );
}

/** A template from a YAML file. */
function ReadFile() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const read = useAction({
    mutationFn: (file: File, key: string) => upload<{ id: string; name: string }>('/api/templates/file', file, key),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ['templates'] });
      void navigate({ to: '/templates/$template', params: { template: made.id } });
    },
    onError: sayProblem,
  });
  return (
    <FileButton label="Template as a YAML file" accept=".yaml,.yml,application/yaml" onFile={read.mutate}>
      {read.isPending ? 'Reading …' : 'Import a file'}
    </FileButton>
  );
}

function TemplateRow({ template: t, copy }: { template: TemplateChoice; copy: () => void }) {
  const kinds = t.kinds.length ? t.kinds.join(', ') : 'every kind of property';
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_190px_auto] items-center gap-x-4 border-b border-hair px-3 py-2 last:border-0 max-[760px]:grid-cols-[minmax(0,1fr)_auto]">
      <span className="min-w-0">
        {t.may_write ? (
          <Link to="/templates/$template" params={{ template: t.id }} className="font-medium hover:text-green-2 hover:underline">
            {t.name}
          </Link>
        ) : (
          <span className="font-medium">{t.name}</span>
        )}
        <span className="block text-xs text-ink-2">
          {t.side}, {kinds}
          {t.about && ` · ${t.about}`}
        </span>
        <span className="block text-xs text-ink-2">
          {some(t.documents, 'document')}, {some(t.answers, 'answer')}
          {t.used > 0 && `, used in ${some(t.used, 'deal')}`}
          {t.weight && <span className="text-ink"> · {t.weight} by rule</span>}
          {t.reach !== 'mine' && t.reach !== 'association' && ` · published, version ${t.version}`}
          {t.unpublished && <span className="text-ochre"> · changed since it was published</span>}
          {t.retired.length > 0 && <span className="text-ochre"> · a newer edition of {t.retired.join(', ')} is there</span>}
        </span>
      </span>
      <span className="max-[760px]:hidden">
        <CoverageBar counts={t.coverage} width={186} />
        <span className="text-xs text-ink-2">{answeredOf(t.coverage)}% of blanks answered</span>
      </span>
      <RowMenu template={t} copy={copy} />
    </li>
  );
}

function RowMenu({ template: t, copy }: { template: TemplateChoice; copy: () => void }) {
  const queries = useQueryClient();
  const params = { path: { template: t.id } };
  const again = () => queries.invalidateQueries({ queryKey: ['templates'] });
  const drop = useAction({
    mutationFn: () => got(client.DELETE('/api/templates/{template}', { params })),
    onSuccess: () => {
      const back = () => got(client.POST('/api/templates/{template}/restore', { params })).then(again, sayProblem);
      notify(`${t.name} is off the list. Deals that began with it keep all of it.`, {
        action: { label: 'Undo', run: () => void back() },
      });
      return again();
    },
    onError: sayProblem,
  });
  return (
    <MoreMenu label={`More for ${t.name}`} width={230}>
      <MenuItem run={copy}>Make my own copy</MenuItem>
      <MenuItem run={() => location.assign(`/api/templates/${t.id}.yaml`)}>Save as a YAML file</MenuItem>
      {t.may_write && <MenuItem run={() => drop.mutate()}>Remove from the list</MenuItem>}
    </MoreMenu>
  );
}
