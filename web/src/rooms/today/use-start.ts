/** What is typed on the way to a new deal, and starting it. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { client, got, once, type Found } from '../../api/client';
import { templatesQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';

export const SIDES = ['buying', 'listing', 'renting', 'leasing out'] as const;
export type Side = (typeof SIDES)[number];
type Home = Pick<Found, 'listing' | 'parcel' | 'county' | 'address' | 'category'>;

/** A client: typed, or one of the contacts. */
export interface Person {
  given: string;
  family: string;
  contact: string | null;
  name: string;
}

export interface Begun {
  side: Side;
  people: Person[];
  home: Home | null;
  /** The template's id; '' for none, null as long as nobody has chosen. */
  picked: string | null;
  name: string;
}

export const NOBODY: Person = { given: '', family: '', contact: null, name: '' };
const NOWHERE: Home = { listing: '', parcel: '', county: '', address: '', category: '' };
export const isNamed = (p: Person) => Boolean(p.given || p.family || p.contact);

export function useStart() {
  const asked = useSearch({ from: '/new' });
  const home = asked.address ? { ...NOWHERE, ...asked } : null;
  const begun: Begun = { side: 'buying', people: [NOBODY], home, picked: null, name: '' };
  // What is typed here outlives a reload; an address that names a home begins anew.
  const { typed, set, settle } = useKept(`new deal ${asked.listing ?? asked.parcel ?? ''}`, begun);
  const put = (part: Partial<Begun>) => set({ ...typed, ...part });
  const { templates, template, fitting } = useTemplates(typed);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const start = useAction({
    mutationFn: async (_: void, key: string) => {
      // Unless one was picked, it is the one that fits what was chosen last, however soon Start was pressed.
      const fits = typed.picked === null ? (await queries.ensureQueryData(fitting)).find((t) => t.fits) : template;
      const clients = typed.people
        .filter(isNamed)
        .map(({ given, family, contact }) => (contact ? { contact } : { given, family }));
      const body = { side: typed.side, template: fits?.id ?? null, name: typed.name.trim(), clients };
      return got(client.POST('/api/deals', { headers: once(key), body }));
    },
    onSuccess: (deal) => {
      settle(begun);
      void queries.invalidateQueries({ queryKey: ['deals'] });
      const params = { deal: deal.id };
      if (!typed.home) return void navigate({ to: '/deals/$deal/write', params });
      const { listing, parcel, county } = typed.home;
      void navigate({ to: '/deals/$deal/facts', params, search: { listing, parcel, county } });
    },
  });
  const { startNow, wanted, setLooking } = useWhenLookedUp(() => start.mutate());
  return { typed, put, templates, template, startNow, setLooking, error: start.error, isStarting: start.isPending || wanted };
}

/** The templates of this side, and the one that the deal starts with. */
function useTemplates({ side, home, picked }: Begun) {
  const fitting = templatesQuery({ side, category: home?.category || 'single-family' });
  const { data: all = [] } = useQuery(fitting);
  const templates = all.filter((t) => t.side === side);
  const chosen = templates.find((t) => t.id === picked);
  const template = chosen ?? (picked === '' ? undefined : templates.find((t) => t.fits));
  return { templates, template, fitting };
}

/** Start may be pressed while a home is still being looked up: it starts as soon as that is known. */
function useWhenLookedUp(start: () => void) {
  const [looking, setLooking] = useState(false);
  const [wanted, setWanted] = useState(false);
  useEffect(() => {
    if (!wanted || looking) return;
    setWanted(false);
    start();
  }, [wanted, looking]); // eslint-disable-line react-hooks/exhaustive-deps -- `start` is made anew at each drawing
  return { startNow: () => (looking ? setWanted(true) : start()), wanted, setLooking };
}
