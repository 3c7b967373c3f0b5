/** All shared values by group, with where each came from and how many blanks it goes to. */
import { useNavigate } from '@tanstack/react-router';
import { useEffect, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import type { Fact } from '../../api/client';
import { Columns } from '../../primitives/columns';
import { Legend, Mark, markOf } from '../../primitives/mark';
import { GroupContacts } from '../contacts/group-contacts';
import { useHand, type Held } from '../hand/hand';
import { FactInput } from './fact-input';
import { Lens } from './lens';
import { Parties } from './parties';

const FILTERS: Record<string, (f: Fact) => boolean> = {
  All: () => true,
  'On a form': (f) => f.places > 0,
  'Without a value': (f) => f.places > 0 && !f.shown,
  Differing: (f) => f.differs,
  'Typed here': (f) => f.source === 'typed',
};
/** Filters under which parties are shown too: the others ask about single values. */
const WITH_PARTIES = ['All', 'On a form'];

interface Group {
  group: string;
  label: string;
  facts: Fact[];
  ofParties: boolean;
}

/** The groups that this side has to do with: the clients first, the other parties, then all else. */
function groupsOf(held: Held, isDeal: boolean, filter: string): Group[] {
  const { party_groups, sides, groups } = held.catalog;
  const parties = party_groups.map((g) => g.group);
  const side = sides.find((s) => s.side === held.head.side);
  const others = parties.filter((g) => g !== side?.clients && g !== side?.others);
  const fits = FILTERS[filter] ?? (() => true);
  const rank = (group: string) => (group === held.head.client_group ? 0 : parties.includes(group) ? 1 : 2);
  return Object.entries(groups)
    .filter(([group]) => !others.includes(group))
    .map(([group, label]) => ({
      group,
      label,
      facts: held.facts.filter((f) => f.group === group && fits(f)),
      ofParties: parties.includes(group),
    }))
    .filter((g) => isDeal || !g.ofParties)
    .filter((g) => (g.ofParties ? WITH_PARTIES.includes(filter) : g.facts.length > 0))
    .sort((a, b) => rank(a.group) - rank(b.group));
}

interface Props {
  /** The fact that an address names. */
  wanted: string | undefined;
  /** What stands beside the filters, and what it opens under them. */
  tools?: ReactNode;
  children?: ReactNode;
  /** What stands beside a group's heading. */
  beside?: (group: string) => ReactNode;
}

export function FactList({ wanted, tools, children, beside }: Props) {
  const { held, at, isDeal } = useHand();
  const navigate = useNavigate();
  const [inHand, setInHand] = useState(wanted ?? 'terms.purchase_price');
  const labelOf = (key: string) => held.facts.find((f) => f.key === key)?.label ?? 'Lens';
  const [filter, setFilter] = useState('All');
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!wanted) return;
    setInHand(wanted);
    list.current?.querySelector(`[data-fact="${CSS.escape(wanted)}"]`)?.scrollIntoView({ block: 'center' });
  }, [wanted]);
  const groups = groupsOf(held, isDeal, filter);
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
          <Filters chosen={filter} onChoose={setFilter} />
          <span className="ml-auto flex gap-2">{tools}</span>
        </div>
        {children}
        <div className="mb-4">
          <Legend without={['open']} />
        </div>
        {groups.length === 0 && (
          <p className="border border-hair bg-sheet px-5 py-8 text-center text-ink-2">No fact here is like that.</p>
        )}
        {groups.map((g) => (
          <section key={g.group} id={`group-${g.group}`} className="mb-6 scroll-mt-4">
            <div className="mb-1.5 flex items-baseline gap-3">
              <h2 className="font-serif text-[16px] font-semibold">{g.label}</h2>
              {beside?.(g.group)}
              {!g.ofParties && <GroupContacts group={g.group} />}
            </div>
            {g.ofParties ? (
              <Parties group={g.group} onHand={setInHand} />
            ) : (
              <ul className="border border-hair bg-paper">
                {g.facts.map((f) => (
                  <FactRow key={f.key} fact={f} chosen={f.key === inHand} onHand={() => setInHand(f.key)} />
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

function Filters({ chosen, onChoose }: { chosen: string; onChoose: (filter: string) => void }) {
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
          {name}
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
