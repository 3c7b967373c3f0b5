/** What is typed on the way to a new deal, and starting it. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { client, got, once, type Found, type Side, type TemplateChoice } from '../../api/client';
import { templatesQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';

type Home = Pick<Found, 'listing' | 'parcel' | 'county' | 'address' | 'category'>;

/** A client: typed, or one of the contacts. */
export interface Person {
  given: string;
  family: string;
  /** A trust, company or estate has a name of its own; null for a person. */
  entity_name: string | null;
  email: string;
  phone: string;
  contact: string | null;
  name: string;
}

export interface Begun {
  side: Side;
  people: Person[];
  home: Home | null;
  /** The templates' ids in the order chosen; null as long as nobody has chosen. */
  picked: string[] | null;
  name: string;
  /** What is asked, offered or the rent, as typed. */
  price: string;
  /** Whose deal it becomes; '' for the own one. */
  agent: string;
}

export const NOBODY: Person = {
  given: '',
  family: '',
  entity_name: null,
  email: '',
  phone: '',
  contact: null,
  name: '',
};
const NOWHERE: Home = { listing: '', parcel: '', county: '', address: '', category: '' };
export const isNamed = (p: Person) => Boolean(p.given || p.family || p.entity_name || p.contact);

export function useStart() {
  const asked = useSearch({ from: '/new' });
  const home = asked.address ? { ...NOWHERE, ...asked } : null;
  const begun: Begun = { side: 'buying', people: [NOBODY], home, picked: null, name: '', price: '', agent: '' };
  // What is typed here outlives a reload; an address that names a home begins anew.
  const { typed, set, settle } = useKept(`new deal ${asked.listing ?? asked.parcel ?? ''}`, begun);
  const put = (part: Partial<Begun>) => set({ ...typed, ...part });
  const { templates, chosen, fitting } = useTemplates(typed);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const start = useAction({
    mutationFn: async (_: void, key: string) => {
      // Unless some were picked, it is those that fit what was chosen last, however soon Start was pressed.
      const templates = typed.picked ?? usual(await queries.ensureQueryData(fitting));
      const clients = typed.people.filter(isNamed).map(({ given, family, entity_name, email, phone, contact }) => {
        if (contact) return { contact };
        return entity_name === null ? { given, family, email, phone } : { entity_name, email, phone };
      });
      const { side, name, price, agent } = typed;
      const body = { side, templates, name: name.trim(), clients, price: price.trim(), agent: agent || null };
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
  return { typed, put, templates, chosen, startNow, setLooking, error: start.error, isStarting: start.isPending || wanted };
}

/** The templates that a deal begins with unless one says otherwise: those required, and the one that fits. */
const usual = (ranked: TemplateChoice[]) => ranked.filter((t) => t.usual).map((t) => t.id);

/** The templates of this side in the order in which they are offered, and those that the deal starts with. */
function useTemplates({ side, home, picked }: Begun) {
  const fitting = templatesQuery({ side, category: home?.category || 'single-family', county: home?.county });
  const { data: all = [] } = useQuery(fitting);
  const templates = all.filter((t) => t.side === side && t.rank !== null);
  return { templates, chosen: picked ?? usual(templates), fitting };
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
