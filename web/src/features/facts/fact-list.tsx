/** All shared values by group, with where each came from and how many blanks it goes to. */
import { useNavigate } from '@tanstack/react-router';
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import { useSide } from '../../api/choices';
import type { Fact, SideChoice } from '../../api/client';
import { Columns } from '../../primitives/columns';
import { Legend, Mark, markOf } from '../../primitives/mark';
import { GroupContacts } from '../contacts/group-contacts';
import { useWorkspace, type Held } from '../workspace/workspace';
import { FactInput } from './fact-input';
import { Lens } from './lens';
import { Parties } from './parties';

type Filter = (f: Fact, open: ReadonlySet<string>) => boolean;
const FILTERS: Record<string, Filter> = {
  Unanswered: (f, open) => open.has(f.key),
  'On a form': (f) => f.places > 0,
  All: () => true,
  Differing: (f) => f.differs,
  'Typed here': (f) => f.source === 'typed',
};
/** Filters under which parties are shown too, and which of them: the others ask about single values. */
const WITH_PARTIES: Record<string, (held: Held, group: string, open: ReadonlySet<string>) => boolean> = {
  // The clients, to whom others are added; and those of whom nobody is named, or something is asked that isn't answered.
  Unanswered: (held, group, open) =>
    group === held.head.client_group ||
    !held.parties[group]?.length ||
    held.facts.some((f) => f.group === group && open.has(f.key)),
  'On a form': () => true,
  All: () => true,
};

interface Group {
  group: string;
  label: string;
  facts: Fact[];
  ofParties: boolean;
}

/** The groups that this side has to do with: the clients first, the other parties, then all else. */
function groupsOf(held: Held, side: SideChoice, isDeal: boolean, stays: (key: string) => boolean): Group[] {
  const { party_groups, groups } = held.catalog;
  const parties = party_groups.map((g) => g.group);
  const others = parties.filter((g) => g !== side.clients && g !== side.others);
  const rank = (group: string) => (group === held.head.client_group ? 0 : parties.includes(group) ? 1 : 2);
  return Object.entries(groups)
    .filter(([group]) => !others.includes(group))
    .map(([group, label]) => ({
      group,
      label,
      facts: held.facts.filter((f) => f.group === group && stays(f.key)),
      ofParties: parties.includes(group),
    }))
    .filter((g) => isDeal || !g.ofParties)
    .filter((g) => (g.ofParties ? stays(g.group) : g.facts.length > 0))
    .sort((a, b) => rank(a.group) - rank(b.group));
}

interface Props {
  /** The fact, or the group of them, that an address names. */
  wanted: string | undefined;
  /** What stands beside the filters, and what it opens under them. */
  tools?: ReactNode;
  children?: ReactNode;
  /** What stands beside a group's heading. */
  beside?: (group: string) => ReactNode;
}

export function FactList({ wanted, tools, children, beside }: Props) {
  const { held, at, isDeal } = useWorkspace();
  const navigate = useNavigate();
  const labelOf = (key: string) => held.facts.find((f) => f.key === key)?.label ?? 'Lens';
  const { filter, choose, showAll, stays } = useFilter(held, wanted);
  const list = useRef<HTMLDivElement>(null);
  const reached = useRef('');
  useEffect(() => {
    if (!wanted || reached.current === wanted) return;
    setChosen(wanted);
    const name = CSS.escape(wanted);
    const row = list.current?.querySelector(`[data-fact="${name}"], #group-${name}`);
    if (!row) return showAll(); // and come by again
    reached.current = wanted;
    row.scrollIntoView({ block: row.hasAttribute('data-fact') ? 'center' : 'start' });
  }, [wanted, filter, showAll]);
  const side = useSide(held.head.side);
  const groups = groupsOf(held, side, isDeal, stays);
  const counts = useMemo(() => countsOf(held), [held]);
  // What is in hand is on this list: the one chosen, or the first of it.
  const [chosen, setChosen] = useState(wanted ?? '');
  const shown = groups.flatMap((g) => g.facts);
  const isThere = held.facts.some((f) => f.key === chosen);
  const inHand = isThere ? chosen : (shown[0]?.key ?? '');
  return (
    <Columns
      widths={[160, 300]}
      way={<GroupNav groups={groups} />}
      edge={<span className="truncate">{labelOf(inHand)}</span>}
      inHand={null} // what is typed stands in its row, and the sheet would cover it
      lens={<Lens keyName={inHand} onGo={(search) => void navigate(at('write', { search: { ...search } }))} />}
    >
      <div ref={list} onKeyDown={stepOn} className="absolute inset-0 overflow-auto px-6 pb-10 pt-4 max-[620px]:px-3">
        <div className="mb-3 flex flex-wrap items-center gap-2">
          <Filters chosen={filter} onChoose={choose} counts={counts} />
          <span className="ml-auto flex gap-2">{tools}</span>
        </div>
        {children}
        <div className="mb-4">
          <Legend without={['open', 'must', 'remark']} />
        </div>
        {groups.length === 0 && (
          <p className="border border-hair bg-sheet px-5 py-8 text-center text-ink-2">
            {filter === 'Unanswered' ? 'Every fact on these forms has an answer.' : 'No matching facts.'}
          </p>
        )}
        {groups.map((g) => (
          <section key={g.group} id={`group-${g.group}`} className="mb-6 scroll-mt-4">
            <div className="mb-1.5 flex items-baseline gap-3">
              <h2 className="font-serif text-[1rem] font-semibold">{g.label}</h2>
              {beside?.(g.group)}
              {!g.ofParties && <GroupContacts group={g.group} />}
            </div>
            {g.ofParties ? (
              <Parties group={g.group} onHand={setChosen} />
            ) : (
              <ul className="border border-hair bg-paper">
                {g.facts.map((f) => (
                  <FactRow key={f.key} fact={f} chosen={f.key === inHand} onHand={() => setChosen(f.key)} />
                ))}
              </ul>
            )}
          </section>
        ))}
      </div>
    </Columns>
  );
}

/** The way to each group: a column, or a strip that scrolls. */
function GroupNav({ groups }: { groups: Group[] }) {
  return (
    <nav
      aria-label="Groups of facts"
      className="flex overflow-x-auto px-3 py-1.5 min-[1200px]:h-full min-[1200px]:flex-col min-[1200px]:overflow-y-auto min-[1200px]:py-4"
    >
      {groups.map((g) => (
        <a
          key={g.group}
          href={`#group-${g.group}`}
          className="block shrink-0 rounded-sm px-2 py-1 text-sm text-ink-2 hover:bg-sheet hover:text-ink"
        >
          {g.label}
        </a>
      ))}
    </nav>
  );
}

/** Facts without which a blank that needs an answer has none. */
const openFacts = (held: Held) => new Set(held.blanks.filter((b) => b.state === 'open' && b.fact).map((b) => b.fact));

/** The keys of the facts, and the groups of parties, that a filter shows. */
function shownBy(filter: string, held: Held): ReadonlySet<string> {
  const open = openFacts(held);
  const fits = FILTERS[filter] ?? (() => true);
  const keys = held.facts.filter((f) => fits(f, open)).map((f) => f.key);
  const groups = held.catalog.party_groups.map((g) => g.group).filter((g) => WITH_PARTIES[filter]?.(held, g, open));
  return new Set([...keys, ...groups]);
}

/** How many facts each filter leaves. */
function countsOf(held: Held): Record<string, number> {
  const open = openFacts(held);
  return Object.fromEntries(
    Object.entries(FILTERS).map(([name, fits]) => [name, held.facts.filter((f) => fits(f, open)).length]),
  );
}

/** What was picked in this window, by deal: it stays when one comes back, or another offer is taken at hand. */
const picked = new Map<string, string>();

/**
 * Which facts are shown. It begins with what forms ask for and nobody has answered, or with all on a form where that is nothing;
 * an address that names a fact, or a group, begins with all. What is answered stays in its row until another filter is chosen.
 */
function useFilter(held: Held, wanted: string | undefined) {
  const { isDeal, id } = useWorkspace();
  const [filter, setFilter] = useState(() => {
    if (wanted || location.hash || !isDeal) return 'All';
    const before = picked.get(id);
    if (before) return before;
    return openFacts(held).size > 0 ? 'Unanswered' : 'On a form';
  });
  const [begun, setBegun] = useState(held);
  const there = useMemo(() => shownBy(filter, begun), [filter, begun]);
  const now = useMemo(() => shownBy(filter, held), [filter, held]);
  const choose = (name: string) => {
    setFilter(name);
    picked.set(id, name);
    setBegun(held);
  };
  const stays = (key: string) => now.has(key) || there.has(key);
  const showAll = useCallback(() => setFilter('All'), []);
  return { filter, choose, showAll, stays };
}

interface FiltersProps {
  chosen: string;
  onChoose: (filter: string) => void;
  counts: Record<string, number>;
}

function Filters({ chosen, onChoose, counts }: FiltersProps) {
  return (
    <div role="radiogroup" aria-label="Show" className="flex max-w-full overflow-x-auto rounded-md border border-blotter-3">
      {Object.keys(FILTERS).map((name) => (
        <button
          key={name}
          type="button"
          role="radio"
          aria-checked={name === chosen}
          onClick={() => onChoose(name)}
          className={`moves whitespace-nowrap border-r border-blotter-3 px-2.5 py-1 text-sm last:border-0 ${name === chosen ? 'bg-paper font-medium text-ink' : 'bg-sheet text-ink-2 hover:bg-paper'}`}
        >
          {name} <span className="text-xs text-ink-2">{counts[name]}</span>
        </button>
      ))}
    </div>
  );
}

/** Enter and the arrows go on to the next or the fact before, as in a sheet. */
function stepOn(e: KeyboardEvent<HTMLDivElement>) {
  const step = { Enter: 1, ArrowDown: 1, ArrowUp: -1 }[e.key];
  const field = e.target;
  if (!step || !(field instanceof HTMLInputElement) || field.role === 'combobox' || field.type === 'file') return;
  const fields = [...e.currentTarget.querySelectorAll<HTMLElement>('input.values, textarea.values, select.field')];
  const next = fields[fields.indexOf(field) + step];
  if (!next || !fields.includes(field)) return;
  e.preventDefault();
  next.focus();
  if (next instanceof HTMLInputElement) next.select();
}

function FactRow({ fact, chosen, onHand }: { fact: Fact; chosen: boolean; onHand: () => void }) {
  const mark = markOf(fact.source, fact.differs);
  return (
    <li
      data-fact={fact.key}
      onFocus={onHand}
      onClick={onHand}
      className={`quiet-fields grid grid-cols-[22px_190px_minmax(0,1fr)_68px] items-start gap-x-2 max-[620px]:grid-cols-[22px_minmax(0,1fr)_68px] border-b border-hair px-3 py-px last:border-0 ${chosen ? 'bg-green-wash' : ''}`}
    >
      <span className="pt-2.5">{mark && <Mark name={mark} />}</span>
      <span className="pt-2 text-sm leading-tight text-ink-2">{fact.label}</span>
      <span className="min-w-0 max-[620px]:col-span-2 max-[620px]:col-start-2 max-[620px]:row-start-2 max-[620px]:pb-1">
        <FactInput fact={fact} />
        {fact.differs && (
          <span className="mt-1 flex flex-wrap gap-x-4 text-xs text-ink-2">
            {fact.beside.map((b) => (
              <span key={b.source} className="flex items-center gap-1">
                {markOf(b.source) && <Mark name={markOf(b.source)!} size={12} />} {b.shown}
              </span>
            ))}
          </span>
        )}
      </span>
      <span className="whitespace-nowrap pt-2.5 text-right text-xs text-ink-3">
        {fact.places > 0 && `${fact.places} blank${fact.places === 1 ? '' : 's'}`}
      </span>
    </li>
  );
}
