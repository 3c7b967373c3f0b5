/** The frame around a template being written: the same means as a deal, over its working copy. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Outlet, useParams } from '@tanstack/react-router';
import { createContext, useContext, useEffect, useMemo, type ReactNode } from 'react';
import type { WrittenTemplate } from '../../api/client';
import { templateQuery } from '../../api/queries';
import { stands } from '../../api/stands';
import { WorkHead } from '../../primitives/work-head';
import { HandTools } from '../deals/hand-tools';
import { DealProvider } from '../deals/use-deal';
import { NotSaved } from '../deals/waiting';
import { useWorkspace, type Workspace } from '../workspace/workspace';
import { answeredOf, CoverageBar } from './coverage';

const PLACES = [
  ['/templates/$template/about', 'About'],
  ['/templates/$template/package', 'Package'],
  ['/templates/$template/write', 'Write'],
  ['/templates/$template/facts', 'Facts'],
  ['/templates/$template/tasks', 'Tasks'],
] as const;
const BY: Record<string, string> = {
  'listing and roll': 'from the listing and the tax roll',
  profile: 'from your profile',
  'worked out': 'worked out',
  parties: 'from the parties',
  contacts: 'from the contact chosen there',
  client: 'left for the client',
  asked: 'asked then, unless you answer it here',
};

const Context = createContext<WrittenTemplate | null>(null);
export function useTemplate(): WrittenTemplate {
  const template = useContext(Context);
  if (!template) throw new Error('no template at hand');
  return template;
}

export function TemplateFrame() {
  const { template: id } = useParams({ from: '/templates/$template' });
  const { data: template, error } = useQuery(templateQuery(id));
  const otherwise = useOtherwise(template);
  if (error || (template && !template.working_copy))
    return (
      <p className="m-6 border border-wax bg-wax-wash px-4 py-3 text-wax">
        This template can’t be changed here. Make your own copy of it under Templates.
      </p>
    );
  if (!template?.working_copy) return <p className="p-6 text-ink-2">Opening the template …</p>;
  return (
    <DealProvider key={template.working_copy} id={template.working_copy} offer={undefined} onOffer={none} otherwise={otherwise}>
      <AsOfNow id={id}>
        <div className="flex h-full flex-col">
          <Header />
          <NotSaved />
          <div className="min-h-0 flex-1">
            <Outlet />
          </div>
        </div>
      </AsOfNow>
    </DealProvider>
  );
}

const none = () => undefined;

/** What is otherwise about a hand where it is a template's. */
function useOtherwise(template: WrittenTemplate | undefined): Partial<Workspace> {
  const { id = '', may_lock: mayLock = false, left } = template ?? {};
  return useMemo(() => {
    const by = new Map(left?.map((l) => [l.key, l.by]));
    return {
      source: 'template',
      isDeal: false,
      mayLock,
      answeredBy: (blank) => BY[by.get(blank.key) ?? ''] ?? '',
      at: (place, within) => ({ to: `/templates/$template/${place}`, params: { template: id }, ...within }),
    };
  }, [id, mayLock, left]);
}

/** The template as of the newest step of its working copy. */
function AsOfNow({ id, children }: { id: string; children: ReactNode }) {
  const { held } = useWorkspace();
  const queries = useQueryClient();
  const { data: template } = useQuery(templateQuery(id, held.head.seq));
  useEffect(() => {
    if (!template) return;
    stands(queries, templateQuery(id).queryKey, template);
    void queries.invalidateQueries({ queryKey: ['templates'] });
  }, [template, id, queries]);
  return template ? <Context.Provider value={template}>{children}</Context.Provider> : null;
}

function Header() {
  const template = useTemplate();
  return (
    <WorkHead
      label="Places of this template"
      what="This template"
      name={template.name}
      places={PLACES}
      params={{ template: template.id }}
      tools={<HandTools />}
    >
      <h1 className="truncate font-serif text-[1.0625rem] font-semibold leading-tight" title={template.name}>
        {template.name}
      </h1>
      <div className="flex items-center gap-2 text-xs text-ink-2">
        <span className="whitespace-nowrap">template, {template.side}</span>
        <CoverageBar counts={template.coverage} width={90} />
        <span className="whitespace-nowrap">{answeredOf(template.coverage)}% answered</span>
      </div>
    </WorkHead>
  );
}
