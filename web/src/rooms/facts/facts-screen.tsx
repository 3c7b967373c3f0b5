/** All shared values by group, with where each came from and how many blanks it goes to. */
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { Fact } from '../../api/client';
import { Button } from '../../primitives/button';
import { Legend, Mark, markOf } from '../../primitives/mark';
import { GroupContacts } from '../contacts/group-contacts';
import { useDeal } from '../deals/use-deal';
import { ComparisonView, type Wanted } from '../sources/comparison';
import { FileFinder } from '../sources/file-finder';
import { PropertyFinder } from '../sources/property-finder';
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

export function FactsScreen() {
  const { deal, id } = useDeal();
  const search = useSearch({ from: '/deals/$deal/facts' });
  const navigate = useNavigate();
  const [inHand, setInHand] = useState<string>(search.fact ?? 'terms.purchase_price');
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!search.fact) return;
    setInHand(search.fact);
    list.current?.querySelector(`[data-fact="${CSS.escape(search.fact)}"]`)?.scrollIntoView({ block: 'center' });
  }, [search.fact]);
  const [filter, setFilter] = useState('All');
  const [finding, setFinding] = useState(false);
  const bring = (wanted?: Partial<Wanted>) =>
    void navigate({ to: '/deals/$deal/facts', params: { deal: id }, search: { ...wanted, file: wanted?.file ?? undefined } });
  const { listing = '', parcel = '', county = '', file, row = 0, again = false } = search;
  if (listing || parcel || file || again) {
    return <ComparisonView wanted={{ listing, parcel, county, file: file ?? null, row, again }} onDone={() => bring()} />;
  }
  const said = (key: string) => deal.facts.find((f) => f.key === key)?.shown ?? '';
  const parcelHere = said('property.parcel_number');
  const countyHere = said('property.county');
  const broughtIn = deal.facts.some((f) => f.source === 'listing' || f.source === 'roll');
  const partyGroups = deal.catalog.party_groups.map((g) => g.group);
  const side = deal.catalog.sides.find((s) => s.side === deal.head.side);
  const other = partyGroups.filter((g) => g !== side?.clients && g !== side?.others);
  const fits = FILTERS[filter] ?? (() => true);
  const first = deal.head.client_group;
  const rank = (group: string) => (group === first ? 0 : partyGroups.includes(group) ? 1 : 2);
  const groups = Object.entries(deal.catalog.groups)
    .filter(([g]) => !other.includes(g))
    .map(([group, label]) => ({ group, label, facts: deal.facts.filter((f) => f.group === group && fits(f)) }))
    .filter((g) => (partyGroups.includes(g.group) ? filter === 'All' || filter === 'On a form' : g.facts.length > 0))
    .sort((a, b) => rank(a.group) - rank(b.group));
  return (
    <div className="grid h-full grid-cols-[160px_minmax(0,1fr)_300px]">
      <nav aria-label="Groups of facts" className="overflow-auto border-r border-blotter-3 px-3 py-4">
        {groups.map((g) => (
          <a
            key={g.group}
            href={`#group-${g.group}`}
            className="block rounded-sm px-2 py-1 text-sm text-ink-2 hover:bg-sheet hover:text-ink"
          >
            {g.label}
          </a>
        ))}
      </nav>
      <div ref={list} onKeyDown={stepOn} className="relative overflow-auto px-6 pb-10 pt-4">
        <div className="mb-3 flex flex-wrap items-center gap-2">
          <div role="radiogroup" aria-label="Show" className="flex overflow-hidden rounded-md border border-blotter-3">
            {Object.keys(FILTERS).map((name) => (
              <button
                key={name}
                type="button"
                role="radio"
                aria-checked={name === filter}
                onClick={() => setFilter(name)}
                className={`moves border-r border-blotter-3 px-2.5 py-1 text-sm last:border-0 ${name === filter ? 'bg-paper font-medium text-ink' : 'bg-sheet text-ink-2 hover:bg-paper'}`}
              >
                {name}
              </button>
            ))}
          </div>
          <span className="ml-auto flex gap-2">
            {broughtIn && (
              <Button
                look="words"
                title="What has changed at the listing service and on the tax roll since"
                onClick={() => bring({ again: true })}
              >
                Look again
              </Button>
            )}
            <Button aria-expanded={finding} onClick={() => setFinding(!finding)}>
              Bring in a property
            </Button>
          </span>
        </div>
        {finding && (
          <div className="mb-4 border border-hair bg-sheet p-4">
            <PropertyFinder
              label="Bring in"
              autoFocus
              onPick={(h) => bring({ listing: h.listing, parcel: h.parcel, county: h.county })}
            />
            <FileFinder onPick={(file, row) => bring({ file, row })} />
          </div>
        )}
        <div className="mb-4">
          <Legend without={['open']} />
        </div>
        {groups.length === 0 && (
          <p className="border border-hair bg-sheet px-5 py-8 text-center text-ink-2">No fact of this deal is like that.</p>
        )}
        {groups.map((g) => (
          <section key={g.group} id={`group-${g.group}`} className="mb-6 scroll-mt-4">
            <div className="mb-1.5 flex items-baseline gap-3">
              <h2 className="font-serif text-[16px] font-semibold">{g.label}</h2>
              {g.group === 'tax' && parcelHere && (
                <Link
                  to="/property"
                  search={{ parcel: parcelHere, county: countyHere || undefined }}
                  className="text-sm font-medium text-green-2 hover:underline"
                >
                  Property report
                </Link>
              )}
              {!partyGroups.includes(g.group) && <GroupContacts group={g.group} />}
            </div>
            {partyGroups.includes(g.group) ? (
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
      <aside aria-label="Lens" className="overflow-auto border-l border-blotter-3 bg-sheet">
        <Lens
          keyName={inHand}
          onGo={(place) => void navigate({ to: '/deals/$deal/write', params: { deal: id }, search: place })}
        />
      </aside>
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
      className={`grid grid-cols-[22px_190px_minmax(0,1fr)_68px] quiet-fields items-start gap-x-2 border-b border-hair px-3 py-px last:border-0 ${chosen ? 'bg-green-wash' : ''}`}
    >
      <span className="pt-2.5">{mark && <Mark name={mark} />}</span>
      <span className="pt-2 text-sm leading-tight text-ink-2">{fact.label}</span>
      <span className="min-w-0">
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
