/** Starting a deal on one screen: side, client, property, template. */
import { useQuery } from '@tanstack/react-query';
import { useRef, useState, type InputHTMLAttributes, type ReactNode } from 'react';
import { flushSync } from 'react-dom';
import { useChoices, useSide } from '../../api/choices';
import { Problem, type Side, type TemplateChoice } from '../../api/client';
import { agentsQuery, sessionQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { PageTitle } from '../../primitives/page-title';
import { capital, some } from '../../primitives/format';
import { ContactFinder } from '../contacts/contact-finder';
import { PropertyFinder } from '../sources/property-finder';
import { isNamed, NOBODY, useStart, type Begun, type Person } from './use-start';

const MOST_PEOPLE = 12;

export function NewDeal() {
  const { typed, put, templates, chosen, startNow, setLooking, error, isStarting } = useStart();
  const { side, people, home, name } = typed;
  const { client, price, price_example } = useSide(side);
  return (
    <div className="mx-auto w-full max-w-[1060px] px-6 pb-12 pt-6 max-[620px]:px-3">
      <PageTitle of="Start a deal" />
      <h1 className="mb-5 font-serif text-[1.375rem] font-semibold">Start a deal</h1>
      <form
        className="grid grid-cols-[minmax(0,1fr)_320px] items-start gap-8 max-[860px]:grid-cols-1"
        onSubmit={(e) => e.preventDefault()} // Enter in a field goes on; only the button starts
      >
        <div className="border border-hair bg-sheet">
          <Part title="Side">
            <SideChoice side={side} onChoose={(chosen) => put({ side: chosen, picked: null })} />
          </Part>
          <Part title={`${client}s`}>
            <People called={client} people={people} setPeople={(all) => put({ people: all })} />
          </Part>
          <Part title="Property" note="You can add it later. You compare the sources before anything is filled in.">
            {home ? (
              <HomeChosen home={home} onAnother={() => put({ home: null })} />
            ) : (
              <PropertyFinder label="Property" onPick={(found) => put({ home: found })} onWaiting={setLooking} />
            )}
          </Part>
          <Part title={price}>
            <input
              className="field w-[160px]"
              aria-label={price}
              placeholder={price_example}
              maxLength={60}
              inputMode="decimal"
              value={typed.price}
              onChange={(e) => put({ price: e.target.value })}
            />
            <span className="ml-2 text-xs text-ink-2">If it is known yet.</span>
          </Part>
          <Part title="Templates">
            {templates.length === 0 && (
              <p className="text-sm text-ink-2">No template is for {side} yet. Forms can be added one by one later.</p>
            )}
            <TemplateList templates={templates} chosen={chosen} onChoose={(picked) => put({ picked })} />
          </Part>
        </div>
        <section aria-label="Name, and start" className="sticky top-5 border border-hair bg-paper px-5 py-5">
          <ForAgent agent={typed.agent} onChoose={(agent) => put({ agent })} />
          <label className="block text-xs text-ink-3" htmlFor="name">
            Name of the deal
          </label>
          <input
            id="name"
            className="field mb-1 mt-1 w-full"
            placeholder="By address and surname"
            value={name}
            onChange={(e) => put({ name: e.target.value })}
          />
          <p className="mb-5 text-xs text-ink-2">{name ? 'Keeps this name.' : 'Leave empty to use the address and last name.'}</p>
          <Button look="act" className="w-full py-2!" disabled={isStarting} onClick={startNow}>
            {isStarting ? 'Starting …' : home ? 'Start and compare' : 'Start the deal'}
          </Button>
          <p role="alert" className="pt-2 text-sm text-wax">
            {error instanceof Problem && `${error.message} ${error.mend}`}
          </p>
        </section>
      </form>
    </div>
  );
}

/** Whose deal it becomes, where one starts deals for others. */
function ForAgent({ agent, onChoose }: { agent: string; onChoose: (agent: string) => void }) {
  const { data: agents = [] } = useQuery(agentsQuery);
  const { data: session } = useQuery(sessionQuery);
  const others = agents.filter((a) => a.id !== session?.id);
  if (others.length === 0) return null;
  return (
    <label className="mb-4 block text-xs text-ink-3">
      Agent
      <select className="field mt-1 w-full text-sm" value={agent} onChange={(e) => onChoose(e.target.value)}>
        <option value="">{session?.name} (yourself)</option>
        {others.map((a) => (
          <option key={a.id} value={a.id}>
            {a.name}
          </option>
        ))}
      </select>
    </label>
  );
}

function SideChoice({ side, onChoose }: { side: Side; onChoose: (side: Side) => void }) {
  const { sides } = useChoices();
  return (
    <div role="radiogroup" aria-label="Side" className="flex flex-wrap gap-2">
      {sides.map(({ side: s }) => (
        <label
          key={s}
          className={`moves cursor-pointer rounded-md border px-3.5 py-1.5 text-sm font-medium has-focus-visible:outline-2 has-focus-visible:outline-green ${s === side ? 'border-green bg-green-wash text-green-2' : 'border-blotter-3 bg-paper'}`}
        >
          <input type="radio" name="side" className="sr-only" checked={s === side} onChange={() => onChoose(s)} />
          {capital(s)}
        </label>
      ))}
    </div>
  );
}

interface PeopleProps {
  called: string;
  people: Person[];
  setPeople: (people: Person[]) => void;
}

function People({ called, people, setPeople }: PeopleProps) {
  const box = useRef<HTMLDivElement>(null);
  const set = (n: number, part: Partial<Person>) => setPeople(people.map((p, i) => (i === n ? { ...p, ...part } : p)));
  /** Whoever is added is who is named next. */
  const add = (person: Person) => {
    flushSync(() => setPeople([...people, person]));
    box.current?.querySelector<HTMLElement>('[data-person]:last-of-type input')?.focus();
  };
  const isFull = people.length >= MOST_PEOPLE;
  const one = called.toLowerCase();
  return (
    <div ref={box}>
      {people.map((p, n) =>
        p.contact ? (
          <div key={n} className="mb-2 flex items-center gap-2 border border-hair bg-paper px-3 py-1.5">
            <span className="font-medium">{p.name}</span>
            <span className="text-xs text-ink-2">from contacts</span>
            <Button
              look="words"
              aria-label={`Remove ${p.name}`}
              className="ml-auto py-0!"
              onClick={() => setPeople(people.filter((_, i) => i !== n))}
            >
              Remove
            </Button>
          </div>
        ) : (
          <PersonRow
            key={n}
            called={`${called} ${n + 1}`}
            person={p}
            isFirst={n === 0}
            set={(part) => set(n, part)}
            another={n === people.length - 1 && !isFull ? () => add({ ...NOBODY, family: p.family }) : null}
            remove={people.length > 1 ? () => setPeople(people.filter((_, i) => i !== n)) : null}
          />
        ),
      )}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <Button look="words" onClick={() => add(NOBODY)} disabled={isFull}>
          Add another {one}
        </Button>
        <span className="w-[240px] max-w-full">
          <ContactFinder
            label="Find among contacts"
            kind="client"
            onPick={(c) => {
              const picked = { ...NOBODY, family: c.fields_said.family ?? c.name, contact: c.id, name: c.name };
              setPeople([...people.filter(isNamed), picked]);
            }}
          />
        </span>
      </div>
    </div>
  );
}

interface PersonProps {
  /** "Buyer 1". */
  called: string;
  person: Person;
  isFirst: boolean;
  set: (part: Partial<Person>) => void;
  /** One more of the same family name, for a couple. */
  another: (() => void) | null;
  remove: (() => void) | null;
}

/** One client: a person or an entity, and where they are reached as far as that is known. */
function PersonRow({ called, person: p, isFirst, set, another, remove }: PersonProps) {
  const isEntity = p.entity_name !== null;
  const field = (
    name: 'given' | 'family' | 'email' | 'phone',
    label: string,
    more: InputHTMLAttributes<HTMLInputElement> = {},
  ) => (
    <input
      className="field w-full"
      aria-label={`${called}, ${label.toLowerCase()}`}
      placeholder={label}
      maxLength={100}
      value={p[name]}
      onChange={(e) => set({ [name]: e.target.value })}
      {...more}
    />
  );
  return (
    <div data-person className="mb-2.5">
      <div className="grid grid-cols-2 gap-2 max-[400px]:grid-cols-1">
        {isEntity ? (
          <input
            className="field col-span-full w-full"
            aria-label={`${called}, name of the entity`}
            placeholder="Name of the trust, company or estate"
            maxLength={200}
            value={p.entity_name ?? ''}
            onChange={(e) => set({ entity_name: e.target.value })}
          />
        ) : (
          <>
            {field('given', 'Given name', { autoFocus: isFirst })}
            {field('family', 'Family name')}
          </>
        )}
        {field('email', 'E-mail', { type: 'email', inputMode: 'email' })}
        {field('phone', 'Phone', { inputMode: 'tel', maxLength: 60 })}
      </div>
      <div className="flex gap-x-4">
        <Button
          look="words"
          className="text-xs! py-0.5!"
          aria-label={`${isEntity ? 'A person' : 'A trust, company or estate'}, ${called}`}
          onClick={() => set({ entity_name: isEntity ? null : `${p.given} ${p.family}`.trim() })}
        >
          {isEntity ? 'A person' : 'A trust, company or estate'}
        </Button>
        {another && p.family && !isEntity && (
          <Button look="words" className="text-xs! py-0.5!" onClick={another}>
            Another {p.family}
          </Button>
        )}
        {remove && (
          <Button look="words" className="text-xs! py-0.5!" aria-label={`Remove ${called}`} onClick={remove}>
            Remove
          </Button>
        )}
      </div>
    </div>
  );
}

function HomeChosen({ home, onAnother }: { home: NonNullable<Begun['home']>; onAnother: () => void }) {
  return (
    <div className="flex items-center justify-between gap-3 border border-hair bg-paper px-3 py-2">
      <span>
        <span className="block font-medium">{home.address}</span>
        <span className="text-xs text-ink-2">{home.listing ? `Listing ${home.listing}` : `Parcel ${home.parcel}`}</span>
      </span>
      <Button look="words" onClick={onAnother}>
        Change
      </Button>
    </div>
  );
}

interface ListProps {
  templates: TemplateChoice[];
  chosen: string[];
  onChoose: (ids: string[]) => void;
}

/** Required ones first and why, then what is suggested and what fits; the rest behind one step. */
function TemplateList({ templates, chosen, onChoose }: ListProps) {
  const [all, setAll] = useState(false);
  const isForemost = (t: TemplateChoice) => t.rank !== 'other' || chosen.includes(t.id);
  const others = templates.filter((t) => !isForemost(t));
  const turn = (id: string) => onChoose(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]);
  const left = templates.filter((t) => t.rank === 'required' && !chosen.includes(t.id));
  return (
    <>
      <div role="group" aria-label="Templates" className="space-y-1.5">
        {templates.filter(isForemost).map((t) => (
          <TemplateOption key={t.id} template={t} isChosen={chosen.includes(t.id)} turn={() => turn(t.id)} />
        ))}
        {all && others.map((t) => <TemplateOption key={t.id} template={t} isChosen={false} turn={() => turn(t.id)} />)}
      </div>
      {others.length > 0 && (
        <Button look="words" className="-ml-1.25 mt-1" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `${some(others.length, 'other template')}`}
        </Button>
      )}
      {left.map((t) => (
        <p key={t.id} role="note" className="mt-1 text-xs text-ochre">
          “{t.name}” is left off: {t.why}.
        </p>
      ))}
      <p className="mt-1 text-xs text-ink-2">{sumOf(templates.filter((t) => chosen.includes(t.id)))}</p>
    </>
  );
}

/** What the chosen templates bring together. */
function sumOf(chosen: TemplateChoice[]): string {
  if (chosen.length === 0) return 'Without a template, the package starts empty.';
  const forms = new Set(chosen.flatMap((t) => t.forms)).size;
  const papers = chosen.reduce((n, t) => n + t.documents - t.forms.length, 0);
  const answers = chosen.reduce((n, t) => n + t.answers, 0);
  const expected = papers ? ` and ${some(papers, 'paper')} expected` : '';
  return `${chosen.length === 1 ? 'It brings' : 'Together they bring'} ${some(forms, 'form')}${expected}, and up to ${some(answers, 'answer')}.`;
}

function TemplateOption({ template: t, isChosen, turn }: { template: TemplateChoice; isChosen: boolean; turn: () => void }) {
  return (
    <label
      className={`flex cursor-pointer items-start gap-2.5 border px-3 py-2 ${isChosen ? 'border-green bg-green-wash' : 'border-hair bg-paper'}`}
    >
      <input type="checkbox" className="mt-1" checked={isChosen} onChange={turn} />
      <span className="min-w-0">
        <span className="block text-sm font-medium">{t.name}</span>
        <span className="block text-xs text-ink-2">
          {t.why && <span className={t.rank === 'required' ? 'font-medium text-ink' : ''}>{capital(t.why)}. </span>}
          {t.about} {some(t.documents, 'document')}, {some(t.answers, 'answer')}.
        </span>
      </span>
    </label>
  );
}

function Part({ title, note, children }: { title: string; note?: string; children: ReactNode }) {
  return (
    <section className="grid grid-cols-[112px_minmax(0,1fr)] gap-4 border-b border-hair px-5 py-4 last:border-0 max-[620px]:grid-cols-1">
      <h2 className="pt-1.5 text-sm font-semibold">{title}</h2>
      <div>
        {children}
        {note && <p className="mt-1.5 text-xs text-ink-2">{note}</p>}
      </div>
    </section>
  );
}
