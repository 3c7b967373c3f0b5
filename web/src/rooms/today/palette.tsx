/** Finding anything by keyboard: deals, the facts of the deal at hand, places, actions. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useParams, useSearch } from '@tanstack/react-router';
import { Command } from 'cmdk';
import { useEffect, useState } from 'react';
import type { Deal } from '../../api/client';
import { dealQuery, dealsQuery } from '../../api/queries';

const ITEM = 'flex cursor-pointer items-baseline justify-between gap-4 px-4 py-1.5 text-sm data-[selected=true]:bg-green-wash';
const GROUP =
  '[&_[cmdk-group-heading]]:px-4 [&_[cmdk-group-heading]]:pb-0.5 [&_[cmdk-group-heading]]:pt-2.5 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-ink-2';

export function Palette({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const [text, setText] = useState('');
  const [value, setValue] = useState('');
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { deal: here } = useParams({ strict: false });
  const { offer } = useSearch({ strict: false });
  const { data: deals = [] } = useQuery({ ...dealsQuery(text.trim()), enabled: open });
  const deal = here ? queries.getQueryData<Deal>(dealQuery(here, offer).queryKey) : undefined;
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key === 'k') {
        e.preventDefault();
        onOpenChange(true);
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [onOpenChange]);
  const run = (action: () => unknown) => () => {
    onOpenChange(false);
    setText('');
    action();
  };
  const wanted = text.trim().toLowerCase();
  const matches = (said: string) => wanted.split(' ').every((w) => said.toLowerCase().includes(w));
  const facts = wanted ? (deal?.facts ?? []).filter((f) => matches(`${f.label} ${f.shown}`)).slice(0, 8) : [];
  const papers = (deal?.documents ?? []).filter((d) => d.edition && wanted && matches(`${d.number} ${d.title}`));
  const actions = [
    { label: 'Start a deal', go: () => navigate({ to: '/new' }) },
    { label: 'Today', go: () => navigate({ to: '/' }) },
    { label: 'Contacts', go: () => navigate({ to: '/contacts' }) },
    { label: 'Property report', go: () => navigate({ to: '/property' }) },
    { label: 'Forms', go: () => navigate({ to: '/forms' }) },
    ...(here
      ? [
          { label: 'Facts', go: () => navigate({ to: '/deals/$deal/facts', params: { deal: here } }) },
          { label: 'Offers', go: () => navigate({ to: '/deals/$deal/offers', params: { deal: here } }) },
          { label: 'Package', go: () => navigate({ to: '/deals/$deal/package', params: { deal: here } }) },
          { label: 'Write', go: () => navigate({ to: '/deals/$deal/write', params: { deal: here } }) },
        ]
      : []),
  ].filter((a) => matches(a.label));
  // What is found comes later than what is typed: the first of it is chosen as soon as it is there.
  const values = [
    ...actions.map((a) => `go ${a.label}`),
    ...papers.map((d) => `form ${d.id}`),
    ...facts.map((f) => `fact ${f.key}`),
    ...deals.slice(0, 8).map((d) => `deal ${d.id}`),
  ];
  const chosen = values.includes(value) ? value : (values[0] ?? '');
  return (
    <Command.Dialog
      value={chosen}
      onValueChange={setValue}
      open={open}
      onOpenChange={onOpenChange}
      label="Find anything"
      shouldFilter={false}
      overlayClassName="fixed inset-0 z-40 bg-[#18202f59]"
      contentClassName="fixed left-1/2 top-[14vh] z-50 w-[600px] max-w-[94vw] -translate-x-1/2 rounded-md border border-ink-3 bg-paper shadow-xl"
    >
      <Command.Input
        value={text}
        onValueChange={setText}
        placeholder="A deal, a fact, a form or an action"
        className="w-full border-b border-hair px-4 py-3 outline-none placeholder:text-ink-3"
      />
      <Command.List className="max-h-[380px] overflow-auto py-1">
        <Command.Empty className="px-4 py-4 text-sm text-ink-2">Nothing is called that.</Command.Empty>
        {actions.length > 0 && (
          <Command.Group heading="Go to" className={GROUP}>
            {actions.map((a) => (
              <Command.Item key={a.label} value={`go ${a.label}`} onSelect={run(a.go)} className={ITEM}>
                {a.label}
              </Command.Item>
            ))}
          </Command.Group>
        )}
        {here && papers.length > 0 && (
          <Command.Group heading="Forms of this deal" className={GROUP}>
            {papers.map((d) => (
              <Command.Item
                key={d.id}
                value={`form ${d.id}`}
                onSelect={run(() => navigate({ to: '/deals/$deal/write', params: { deal: here }, search: { document: d.id } }))}
                className={ITEM}
              >
                {d.number} {d.title}
              </Command.Item>
            ))}
          </Command.Group>
        )}
        {here && facts.length > 0 && (
          <Command.Group heading="Facts of this deal" className={GROUP}>
            {facts.map((f) => {
              const blank = deal?.blanks.find((b) => b.key === f.key);
              const go = () =>
                blank
                  ? navigate({
                      to: '/deals/$deal/write',
                      params: { deal: here },
                      search: { document: blank.document, field: blank.field },
                    })
                  : navigate({ to: '/deals/$deal/facts', params: { deal: here } });
              return (
                <Command.Item key={f.key} value={`fact ${f.key}`} onSelect={run(go)} className={ITEM}>
                  {f.label} <span className="truncate text-ink-2">{f.shown}</span>
                </Command.Item>
              );
            })}
          </Command.Group>
        )}
        {deals.length > 0 && (
          <Command.Group heading="Deals" className={GROUP}>
            {deals.slice(0, 8).map((d) => (
              <Command.Item
                key={d.id}
                value={`deal ${d.id}`}
                onSelect={run(() => navigate({ to: '/deals/$deal/write', params: { deal: d.id } }))}
                className={ITEM}
              >
                {d.name} <span className="text-xs text-ink-2">{d.open ? `${d.open} open` : ''}</span>
              </Command.Item>
            ))}
          </Command.Group>
        )}
      </Command.List>
    </Command.Dialog>
  );
}
