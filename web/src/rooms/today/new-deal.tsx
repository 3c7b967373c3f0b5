/** Starting a deal on one screen: side, client, property, template. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { client, got, once, Problem, type Found } from '../../api/client';
import { useAction } from '../../api/use-action';
import { templatesQuery } from '../../api/queries';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { some } from '../../primitives/words';
import { ContactFinder } from '../contacts/contact-finder';
import { PropertyFinder } from '../sources/property-finder';

const SIDES = ['buying', 'listing', 'renting', 'leasing out'] as const;
type Side = (typeof SIDES)[number];
const CLIENT: Record<Side, string> = { buying: 'Buyer', listing: 'Seller', renting: 'Tenant', 'leasing out': 'Landlord' };
type Home = Pick<Found, 'listing' | 'parcel' | 'county' | 'address' | 'category'>;
const NOWHERE: Home = { listing: '', parcel: '', county: '', address: '', category: '' };
interface Begun {
  side: Side;
  people: (typeof NOBODY)[];
  home: Home | null;
  picked: string | null;
  name: string;
}
const NOBODY = { given: '', family: '', contact: null as string | null, name: '' };

export function NewDeal() {
  const asked = useSearch({ from: '/new' });
  const begun: Begun = {
    side: 'buying',
    people: [NOBODY],
    home: asked.address ? { ...NOWHERE, ...asked } : null,
    picked: null,
    name: '',
  };
  // What is typed here outlives a reload; an address that names a home begins anew.
  const { typed, set: setTyped, settle } = useKept(`new deal ${asked.listing ?? asked.parcel ?? ''}`, begun);
  const { side, people, home, picked, name } = typed;
  const put = (part: Partial<Begun>) => setTyped({ ...typed, ...part });
  const setPeople = (people: Begun['people']) => put({ people });
  const setHome = (home: Home | null) => put({ home });
  const setName = (name: string) => put({ name });
  const setPicked = (picked: string | null) => put({ picked });
  const [looking, setLooking] = useState(false); // Enter was pressed on a home that is still being looked up
  const [wanted, setWanted] = useState(false); // Start was pressed meanwhile
  const queries = useQueryClient();
  const navigate = useNavigate();
  const fitting = templatesQuery({ side, category: home?.category || 'single-family' });
  const { data: all = [] } = useQuery(fitting);
  const templates = all.filter((t) => t.side === side);
  const template = templates.find((t) => t.id === picked) ?? (picked === '' ? undefined : templates.find((t) => t.fits));
  const surname = people.map((p) => p.family.trim()).filter(Boolean);
  const proposed = [home?.address.split(',')[0], [...new Set(surname)].join(' & ')].filter(Boolean).join(' · ');
  const start = useAction({
    mutationFn: async (_: void, key: string) => {
      // Unless one was picked, it is the one that fits what was chosen last, however soon Start was pressed.
      const fits = picked === null ? (await queries.ensureQueryData(fitting)).find((t) => t.fits) : template;
      return got(
        client.POST('/api/deals', {
          headers: once(key),
          body: {
            side,
            template: fits?.id ?? null,
            name: name.trim(),
            clients: people
              .filter((p) => p.given || p.family || p.contact)
              .map(({ given, family, contact }) => (contact ? { contact } : { given, family })),
          },
        }),
      );
    },
    onSuccess: (deal) => {
      settle(begun);
      void queries.invalidateQueries({ queryKey: ['deals'] });
      if (home)
        void navigate({
          to: '/deals/$deal/facts',
          params: { deal: deal.id },
          search: { listing: home.listing, parcel: home.parcel, county: home.county },
        });
      else void navigate({ to: '/deals/$deal/write', params: { deal: deal.id } });
    },
  });
  const startNow = () => (looking ? setWanted(true) : start.mutate());
  useEffect(() => {
    if (!wanted || looking) return;
    setWanted(false);
    start.mutate();
  }, [wanted, looking]); // eslint-disable-line react-hooks/exhaustive-deps -- `start` is made anew at each drawing
  const set = (n: number, part: Partial<typeof NOBODY>) => setPeople(people.map((p, i) => (i === n ? { ...p, ...part } : p)));
  return (
    <main className="mx-auto w-full max-w-[1060px] px-6 pb-12 pt-6">
      <h1 className="mb-5 font-serif text-[22px] font-semibold">Start a deal</h1>
      <form
        className="grid grid-cols-[minmax(0,1fr)_320px] items-start gap-8 max-[860px]:grid-cols-1"
        onSubmit={(e) => e.preventDefault()} // Enter in a field goes on; only the button starts
      >
        <div className="border border-hair bg-sheet">
          <Part title="Side">
            <div role="radiogroup" aria-label="Side" className="flex flex-wrap gap-2">
              {SIDES.map((s) => (
                <label
                  key={s}
                  className={`moves cursor-pointer rounded-md border px-3.5 py-1.5 text-sm font-medium has-focus-visible:outline-2 has-focus-visible:outline-green ${s === side ? 'border-green bg-green-wash text-green-2' : 'border-blotter-3 bg-paper'}`}
                >
                  <input
                    type="radio"
                    name="side"
                    className="sr-only"
                    checked={s === side}
                    onChange={() => put({ side: s, picked: null })}
                  />
                  {s[0]?.toUpperCase() + s.slice(1)}
                </label>
              ))}
            </div>
          </Part>
          <Part title={`${CLIENT[side]}s`}>
            {people.map((p, n) =>
              p.contact ? (
                <div key={n} className="mb-2 flex items-center gap-2 border border-hair bg-paper px-3 py-1.5">
                  <span className="font-medium">{p.name}</span>
                  <span className="text-xs text-ink-2">from contacts</span>
                  <Button look="words" className="ml-auto py-0!" onClick={() => setPeople(people.filter((_, i) => i !== n))}>
                    Remove
                  </Button>
                </div>
              ) : (
                <div key={n} className="mb-2 flex gap-2">
                  <input
                    className="field w-1/2"
                    aria-label={`${CLIENT[side]} ${n + 1}, given name`}
                    placeholder="Given name"
                    autoFocus={n === 0}
                    value={p.given}
                    onChange={(e) => set(n, { given: e.target.value })}
                  />
                  <input
                    className="field w-1/2"
                    aria-label={`${CLIENT[side]} ${n + 1}, family name`}
                    placeholder="Family name"
                    value={p.family}
                    onChange={(e) => set(n, { family: e.target.value })}
                  />
                </div>
              ),
            )}
            <div className="flex items-center gap-4">
              <Button look="words" onClick={() => setPeople([...people, NOBODY])} disabled={people.length >= 12}>
                Add another {CLIENT[side].toLowerCase()}
              </Button>
              <span className="w-[280px]">
                <ContactFinder
                  label="Find among contacts"
                  kind="client"
                  onPick={(c) => {
                    const picked = { ...NOBODY, family: c.fields_said.family ?? c.name, contact: c.id, name: c.name };
                    setPeople([...people.filter((p) => p.given || p.family || p.contact), picked]);
                  }}
                />
              </span>
            </div>
          </Part>
          <Part title="Property" note="May come later. What the sources say is compared before anything is filled in.">
            {home ? (
              <div className="flex items-center justify-between gap-3 border border-hair bg-paper px-3 py-2">
                <span>
                  <span className="block font-medium">{home.address}</span>
                  <span className="text-xs text-ink-2">{home.listing ? `Listing ${home.listing}` : `Parcel ${home.parcel}`}</span>
                </span>
                <Button look="words" onClick={() => setHome(null)}>
                  Choose another
                </Button>
              </div>
            ) : (
              <PropertyFinder label="Property" onPick={setHome} onWaiting={setLooking} />
            )}
          </Part>
          <Part title="Template">
            {templates.length === 0 && (
              <p className="text-sm text-ink-2">No template is for {side} yet. Forms can be added one by one.</p>
            )}
            <div role="radiogroup" aria-label="Template" className="space-y-1.5">
              {[
                ...templates.map((t) => ({
                  ...t,
                  note: `${t.about} ${some(t.documents, 'document')}, ${some(t.answers, 'answer')}.`,
                })),
                null,
              ].map((t) => (
                <label
                  key={t?.id ?? ''}
                  className={`flex cursor-pointer items-start gap-2.5 border px-3 py-2 ${(t?.id ?? '') === (template?.id ?? '') ? 'border-green bg-green-wash' : 'border-hair bg-paper'}`}
                >
                  <input
                    type="radio"
                    name="template"
                    className="mt-1 accent-green"
                    checked={(t?.id ?? '') === (template?.id ?? '')}
                    onChange={() => setPicked(t?.id ?? '')}
                  />
                  <span>
                    <span className="block text-sm font-medium">{t?.name ?? 'Without a template'}</span>
                    {t && <span className="block text-xs text-ink-2">{t.note}</span>}
                  </span>
                </label>
              ))}
            </div>
          </Part>
        </div>
        <aside className="sticky top-5 border border-hair bg-paper px-5 py-5">
          <label className="block text-xs text-ink-3" htmlFor="name">
            Name of the deal
          </label>
          <input
            id="name"
            className="field mb-1 mt-1 w-full"
            placeholder={proposed || 'Follows address and surname'}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <p className="mb-5 text-xs text-ink-2">
            {name ? 'Stays as you wrote it.' : 'Left empty, it follows address and surname.'}
          </p>
          <Button look="act" className="w-full py-2!" disabled={start.isPending || wanted} onClick={startNow}>
            {start.isPending || wanted ? 'Starting …' : home ? 'Start and compare' : 'Start the deal'}
          </Button>
          <p role="alert" className="pt-2 text-sm text-wax">
            {start.error instanceof Problem && `${start.error.message} ${start.error.mend}`}
          </p>
        </aside>
      </form>
    </main>
  );
}

function Part({ title, note, children }: { title: string; note?: string; children: React.ReactNode }) {
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
