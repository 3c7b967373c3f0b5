/** Finding anything by keyboard: deals, the facts of the deal at hand, places, actions. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useParams, useSearch } from '@tanstack/react-router';
import { Command } from 'cmdk';
import { useEffect, useState, type KeyboardEvent, type ReactNode } from 'react';
import type { Deal } from '../../api/client';
import { dealQuery, dealsQuery } from '../../api/queries';
import { useCommands } from '../../primitives/commands';
import { useEarlyEnter } from '../../primitives/early-enter';
import { returnFocus } from '../../primitives/focus-kept';
import { useScreenKeys } from '../../primitives/screen-keys';

const ITEM = 'flex cursor-pointer items-baseline justify-between gap-4 px-4 py-1.5 text-sm data-[selected=true]:bg-green-wash';
const GROUP =
  '[&_[cmdk-group-heading]]:px-4 [&_[cmdk-group-heading]]:pb-0.5 [&_[cmdk-group-heading]]:pt-2.5 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-ink-2';
/** So many of a kind are listed: more are found by typing more. */
const MOST = 8;

interface Row {
  id: string;
  label: string;
  beside?: ReactNode;
  go: () => unknown;
}
interface Group {
  heading: string;
  rows: Row[];
}

const matching = (text: string) => {
  const words = text.split(' ');
  return (said: string) => words.every((w) => said.toLowerCase().includes(w));
};

/** The places that one can go to: the house's, and those of the deal or template at hand. */
function usePlaces(deal: string | undefined, template: string | undefined): Row[] {
  const navigate = useNavigate();
  const house = [
    { label: 'Start a deal', go: () => navigate({ to: '/new' }) },
    { label: 'Today', go: () => navigate({ to: '/' }) },
    { label: 'Tasks of all deals', go: () => navigate({ to: '/tasks' }) },
    { label: 'Contacts', go: () => navigate({ to: '/contacts' }) },
    { label: 'Templates', go: () => navigate({ to: '/templates' }) },
    { label: 'New template', go: () => navigate({ to: '/templates', search: { begin: true } }) },
    { label: 'Property report', go: () => navigate({ to: '/property' }) },
    { label: 'Forms', go: () => navigate({ to: '/forms' }) },
  ];
  const params = { deal: deal ?? '' };
  const ofDeal = [
    { label: 'Facts', go: () => navigate({ to: '/deals/$deal/facts', params }) },
    { label: 'Offers', go: () => navigate({ to: '/deals/$deal/offers', params }) },
    { label: 'Package', go: () => navigate({ to: '/deals/$deal/package', params }) },
    { label: 'Write', go: () => navigate({ to: '/deals/$deal/write', params }) },
    { label: 'Proofread', go: () => navigate({ to: '/deals/$deal/proof', params }) },
    { label: 'Tasks', go: () => navigate({ to: '/deals/$deal/tasks', params }) },
  ];
  const at = { template: template ?? '' };
  const ofTemplate = [
    { label: 'About the template', go: () => navigate({ to: '/templates/$template/about', params: at }) },
    { label: 'Package', go: () => navigate({ to: '/templates/$template/package', params: at }) },
    { label: 'Write', go: () => navigate({ to: '/templates/$template/write', params: at }) },
    { label: 'Facts', go: () => navigate({ to: '/templates/$template/facts', params: at }) },
    { label: 'Tasks', go: () => navigate({ to: '/templates/$template/tasks', params: at }) },
  ];
  return [...house, ...(deal ? ofDeal : []), ...(template ? ofTemplate : [])].map((place) => ({
    id: `go ${place.label}`,
    ...place,
  }));
}

/** Forms and facts of the deal at hand, once something is looked for. */
function useOfDeal(wanted: string): Group[] {
  const { deal: here = '' } = useParams({ strict: false });
  const { offer } = useSearch({ strict: false });
  const navigate = useNavigate();
  const deal = useQueryClient().getQueryData<Deal>(dealQuery(here, offer).queryKey);
  if (!deal || !wanted) return [];
  const matches = matching(wanted);
  const write = (search: { document: string; field?: string }) =>
    navigate({ to: '/deals/$deal/write', params: { deal: here }, search });
  const papers = deal.documents.filter((d) => d.edition && matches(`${d.number} ${d.title}`));
  const facts = deal.facts.filter((f) => matches(`${f.label} ${f.also} ${f.shown}`)).slice(0, MOST);
  return [
    {
      heading: 'Forms of this deal',
      rows: papers.map((d) => ({ id: `form ${d.id}`, label: `${d.number} ${d.title}`, go: () => write({ document: d.id }) })),
    },
    {
      heading: 'Facts of this deal',
      rows: facts.map((f) => {
        const blank = deal.blanks.find((b) => b.key === f.key);
        return {
          id: `fact ${f.key}`,
          label: f.label,
          beside: <span className="truncate text-ink-2">{f.shown}</span>,
          go: () =>
            blank
              ? write({ document: blank.document, field: blank.field })
              : navigate({ to: '/deals/$deal/facts', params: { deal: here }, search: { fact: f.key } }),
        };
      }),
    },
  ];
}

/** The deals found, and whether it was for just this. */
function useDeals(wanted: string, enabled: boolean): [Row[], boolean] {
  const navigate = useNavigate();
  const { data: deals = [], isPending, isPlaceholderData } = useQuery({ ...dealsQuery(wanted), enabled });
  const rows = deals.slice(0, MOST).map((d) => ({
    id: `deal ${d.id}`,
    label: d.name,
    beside: <span className="text-xs text-ink-2">{d.open ? `${d.open} unanswered` : ''}</span>,
    go: () => navigate({ to: '/deals/$deal/write', params: { deal: d.id } }),
  }));
  return [rows, !isPending && !isPlaceholderData];
}

export function Palette({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const [text, setText] = useState('');
  const [value, setValue] = useState('');
  const { deal: here, template } = useParams({ strict: false });
  const wanted = text.trim().toLowerCase();
  const places = usePlaces(here, template).filter((p) => matching(wanted)(p.label));
  const ofDeal = useOfDeal(wanted);
  const [deals, isFresh] = useDeals(text.trim(), open);
  useScreenKeys((e) => {
    if (!(e.ctrlKey || e.metaKey) || e.key !== 'k') return;
    e.preventDefault();
    onOpenChange(true);
  });
  // Left without going anywhere, the focus is where it was.
  useEffect(() => {
    if (!open) requestAnimationFrame(() => document.activeElement === document.body && returnFocus());
  }, [open]);
  const run = (action: () => unknown) => () => {
    onOpenChange(false);
    setText('');
    action();
  };
  const doable: Row[] = useCommands()
    .filter((c) => matching(wanted)(c.label))
    .map((c) => ({ id: `do ${c.label}`, label: c.label, go: c.run }));
  const groups = [
    { heading: 'Go to', rows: places },
    { heading: 'Here', rows: doable },
    ...ofDeal,
    { heading: 'Deals', rows: deals },
  ];
  // What is found comes later than what is typed: the first of it is chosen as soon as it is there.
  const rows = groups.flatMap((g) => g.rows);
  const chosen = rows.find((row) => row.id === value) ?? rows[0];
  const isDeal = !chosen || deals.includes(chosen);
  const { enter } = useEarlyEnter(text, isFresh, () => rows[0] && run(rows[0].go)());
  const onKeyDown = (e: KeyboardEvent) => {
    // Whatever else is listed was found here, at once.
    if (e.key !== 'Enter' || isFresh || !isDeal) return;
    e.preventDefault();
    enter();
  };
  return (
    <Command.Dialog
      value={chosen?.id ?? ''}
      onValueChange={setValue}
      open={open}
      onOpenChange={onOpenChange}
      label="Find anything"
      shouldFilter={false}
      overlayClassName="fixed inset-0 z-40 bg-veil"
      contentClassName="fixed left-1/2 top-[14vh] z-50 w-[600px] max-w-[94vw] -translate-x-1/2 rounded-md border border-ink-3 bg-paper shadow-xl"
    >
      <Command.Input
        value={text}
        onValueChange={setText}
        onKeyDown={onKeyDown}
        placeholder="A deal, a fact, a form or an action"
        className="w-full border-b border-hair px-4 py-3 outline-none placeholder:text-ink-3"
      />
      <Command.List className="max-h-[380px] overflow-auto py-1">
        <Command.Empty className="px-4 py-4 text-sm text-ink-2">No matches.</Command.Empty>
        {groups
          .filter((g) => g.rows.length > 0)
          .map((g) => (
            <Command.Group key={g.heading} heading={g.heading} className={GROUP}>
              {g.rows.map((row) => (
                <Command.Item key={row.id} value={row.id} onSelect={run(row.go)} className={ITEM}>
                  {row.label} {row.beside}
                </Command.Item>
              ))}
            </Command.Group>
          ))}
      </Command.List>
    </Command.Dialog>
  );
}
