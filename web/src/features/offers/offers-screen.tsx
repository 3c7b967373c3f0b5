/** A deal's offers, their terms side by side; accepting one puts its terms in force. */
import { useQuery } from '@tanstack/react-query';
import { Link, useLocation, useNavigate } from '@tanstack/react-router';
import { useLayoutEffect, useRef, useState } from 'react';
import { useSide } from '../../api/choices';
import { client, got, type WireDelta, type OfferColumn, type OfferRow, type Offers } from '../../api/client';
import { useAction } from '../../api/use-action';
import { offersQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { Mark, markOf } from '../../primitives/mark';
import { Menu, MenuItem } from '../../primitives/menu';
import { sayProblem } from '../../primitives/notices';
import { some } from '../../primitives/format';
import { FactInput } from '../facts/fact-input';
import { AgreeDialog, type AgreedSaid } from './agree-dialog';
import { OfferDialog, type Asked } from './offer-dialog';
import { Turns } from './turns';
import { standing } from '../deals/standing';
import { useDeal } from '../deals/use-deal';

type Op = {
  op: 'name' | 'remove' | 'open' | 'declined' | 'withdrawn' | 'back-up' | 'several';
  name?: string;
};
const ANOTHER = {
  comes: 'Each offer that comes in has its own buyers, agent, terms and documents.',
  'is made': 'Add another offer on this home, copied from this one or empty.',
};

/** What is done with offers; `onDone` when it was. */
function useOffers(onDone: () => void) {
  const { id, take } = useDeal();
  const then = {
    onSuccess: (delta: WireDelta) => {
      take(delta, delta.said);
      onDone();
    },
    onError: sayProblem, // the dialog stays, with what was typed in it
  };
  const act = useAction({
    mutationFn: ({ offer, ...body }: Op & { offer: number }, key: string) =>
      got(
        client.POST('/api/deals/{deal}/offers/{offer}', {
          params: { path: { deal: id, offer } },
          body: { change: key, name: '', ...body },
        }),
      ),
    ...then,
  });
  const add = useAction({
    mutationFn: (body: { name: string; like: number | null }, key: string) =>
      got(
        client.POST('/api/deals/{deal}/offers', {
          params: { path: { deal: id } },
          body: { change: key, ...body },
        }),
      ),
    ...then,
  });
  const accept = useAction({
    mutationFn: ({ offer, ...said }: AgreedSaid & { offer: number }, key: string) =>
      got(
        client.POST('/api/deals/{deal}/offers/{offer}/acceptance', {
          params: { path: { deal: id, offer } },
          body: { change: key, ...said },
        }),
      ),
    ...then,
  });
  return { act, add, accept };
}

export function OffersScreen() {
  const { deal, id } = useDeal();
  const { data, error } = useQuery(offersQuery(id, deal.head.seq));
  const [apart, setApart] = useState(false);
  const [asked, setAsked] = useState<Asked | null>(null);
  const navigate = useNavigate();
  const receives = useSide(deal.head.side).gets_offers;
  const [accepted, setAccepted] = useState<OfferColumn | null>(null);
  const { act, add, accept } = useOffers(() => {
    setAsked(null);
    setAccepted(null);
  });
  const ofOffer = (o: OfferColumn) => ({ offer: o.in_force ? undefined : o.id });
  const go = (o: OfferColumn) => void navigate({ to: '/deals/$deal/facts', params: { deal: id }, search: ofOffer(o) });
  if (error) return <p className="p-6 text-wax">Couldn’t load the offers. Nothing was lost. Try again.</p>;
  if (!data) return <p className="p-6 text-ink-2">Loading offers …</p>;
  const several = data.offers.length > 1;
  const at = data.offers.find((o) => o.id === deal.head.offer);
  const rows = data.rows.filter((r) => !apart || r.apart);
  return (
    <div className="h-full overflow-auto px-6 pb-10 pt-4 max-[620px]:px-3">
      <OffersHead offers={data} receives={receives} apart={apart} setApart={setApart} onAdd={() => setAsked({ what: 'add' })} />
      <div className="overflow-x-auto border border-hair bg-paper">
        <table className="border-collapse text-sm" style={several ? { minWidth: '100%' } : { width: 720, maxWidth: '100%' }}>
          <thead>
            <tr className="border-b border-hair align-top">
              <TermHead />
              {data.offers.map((o) => (
                <OfferHead
                  key={o.id}
                  offer={o}
                  hasRivals={several}
                  onGo={() => go(o)}
                  onAccept={() => setAccepted(o)}
                  onName={() => setAsked({ what: 'name', offer: o })}
                  act={(op) => act.mutate({ offer: o.id, ...op })}
                />
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <TermRow key={row.key} row={row} several={several} offers={data.offers} />
            ))}
          </tbody>
        </table>
        {rows.length === 0 && <NoRows apart={apart} />}
      </div>
      <Turns key={deal.head.offer} offer={at?.name ?? ''} onAccept={() => at && setAccepted(at)} />
      {accepted && (
        <AgreeDialog
          offer={accepted.id}
          title={`Accept ${accepted.name}`}
          act="Accept"
          rivals={data.offers.filter((o) => o.id !== accepted.id && o.outcome === 'open').map((o) => o.name)}
          busy={accept.isPending}
          agree={(said) => accept.mutate({ offer: accepted.id, ...said })}
          onClose={() => setAccepted(null)}
        />
      )}
      {asked && (
        <OfferDialog
          asked={asked}
          offers={data.offers}
          receives={receives}
          onClose={() => setAsked(null)}
          rename={(offer, name) => act.mutate({ offer, op: 'name', name })}
          add={(name, like) => add.mutate({ name, like })}
        />
      )}
    </div>
  );
}

interface OffersHeadProps {
  offers: Offers;
  receives: boolean;
  apart: boolean;
  setApart: (apart: boolean) => void;
  onAdd: () => void;
}

/** What the table below shows, and another offer. */
function OffersHead({ offers: { offers, rows }, receives, apart, setApart, onAdd }: OffersHeadProps) {
  const several = offers.length > 1;
  return (
    <div className="mb-3 flex items-center gap-4">
      <p className="text-sm text-ink-2">
        {several
          ? `${some(offers.length, 'offer')}, ${some(rows.filter((r) => r.apart).length, 'term')} apart`
          : `One set of terms so far. ${ANOTHER[receives ? 'comes' : 'is made']}`}
      </p>
      {several && (
        <label className="flex items-center gap-1.5 text-sm">
          <input type="checkbox" checked={apart} onChange={(e) => setApart(e.target.checked)} />
          Only what differs
        </label>
      )}
      <Button className="ml-auto" onClick={onAdd}>
        {receives ? 'An offer came in' : 'Another offer'}
      </Button>
    </div>
  );
}

const TermHead = () => (
  <th
    scope="col"
    className="sticky left-0 z-10 w-[210px] min-w-[210px] bg-paper px-3 py-2 text-left font-normal text-ink-3 max-[620px]:w-[130px] max-[620px]:min-w-[130px]"
  >
    <span className="sr-only">Term</span>
  </th>
);

/** The way to an offer's negotiation. */
const turnsSaid = (offer: OfferColumn) => (offer.turns > 0 ? some(offer.turns, 'turn') : 'Counter');

const NoRows = ({ apart }: { apart: boolean }) => (
  <p className="px-4 py-8 text-center text-ink-2">
    {apart ? 'All offers say the same.' : 'No terms yet. Enter them in Facts or on the paper.'}
  </p>
);

function OfferHead({
  offer,
  hasRivals,
  onGo,
  onAccept,
  onName,
  act,
}: {
  offer: OfferColumn;
  /** Whether it is one of several. */
  hasRivals: boolean;
  onGo: () => void;
  onAccept: () => void;
  onName: () => void;
  act: (op: Op) => void;
}) {
  const { id: deal } = useDeal();
  const gone = offer.outcome === 'declined' || offer.outcome === 'withdrawn';
  return (
    <th
      scope="col"
      className={`w-[220px] min-w-[190px] border-l border-hair px-3 py-2 text-left font-normal ${offer.in_force ? 'border-t-2 border-t-green' : ''}`}
    >
      <button
        type="button"
        onClick={onGo}
        className="block text-left font-serif text-[0.9375rem] font-semibold leading-snug hover:text-green-2"
      >
        {offer.name}
      </button>
      <span className={`block leading-snug ${gone ? 'text-ink-3 line-through' : ''}`}>{offer.parties || 'Nobody named yet'}</span>
      <span className="block text-xs leading-snug text-ink-2">
        {[offer.agent, offer.firm].filter(Boolean).join(', ') || 'no agent named'}
      </span>
      <span className={`mt-1 block text-xs ${offer.in_force ? 'font-semibold text-green-2' : 'text-ink-2'}`}>
        {standing(offer)} <span className="font-normal text-ink-2">· {some(offer.documents, 'document')}</span>
      </span>
      {offer.came && <span className="mt-1 block text-xs leading-snug text-ink-2">{offer.came}</span>}
      <span className="mt-1.5 flex items-center gap-1">
        {offer.outcome !== 'accepted' && (
          <Button look={gone ? 'words' : 'plain'} className="py-0.5!" onClick={onAccept}>
            Accept
          </Button>
        )}
        <Button look="words" className="py-0.5!" onClick={onGo}>
          Open
        </Button>
        <Link
          to="/deals/$deal/offers"
          params={{ deal }}
          search={{ offer: offer.in_force ? undefined : offer.id }}
          hash="turns"
          aria-label={`${turnsSaid(offer)}: ${offer.name}`}
          className="rounded-md px-1.5 py-0.5 text-sm font-medium text-green-2 hover:underline"
        >
          {turnsSaid(offer)}
        </Link>
        <OfferMenu offer={offer} hasRivals={hasRivals} onName={onName} act={act} />
      </span>
    </th>
  );
}

interface MenuProps {
  offer: OfferColumn;
  hasRivals: boolean;
  onName: () => void;
  act: (op: Op) => void;
}

/** What else can be done with an offer. */
function OfferMenu({ offer, hasRivals, onName, act }: MenuProps) {
  const others = (['declined', 'withdrawn', 'open'] as const).filter((o) => o !== offer.outcome);
  return (
    <Menu
      width={hasRivals ? 250 : 170}
      trigger={
        <Button look="words" className="py-0.5!" aria-label={`More for ${offer.name}`}>
          More
        </Button>
      }
    >
      <MenuItem run={onName}>Rename</MenuItem>
      {others.map((o) => (
        <MenuItem key={o} run={() => act({ op: o })}>
          {o === 'open' ? 'Reopen' : `It was ${o}`}
        </MenuItem>
      ))}
      {hasRivals && offer.outcome === 'open' && (
        <MenuItem run={() => act({ op: 'several' })} note="adds the multiple-offer notice to its package">
          Give notice of multiple offers
        </MenuItem>
      )}
      {hasRivals && !offer.in_force && offer.outcome !== 'back-up' && (
        <MenuItem run={() => act({ op: 'back-up' })} note="with its position, and the addendum in its package">
          Accept as a back-up
        </MenuItem>
      )}
      {!offer.in_force && <MenuItem run={() => act({ op: 'remove' })}>Take it out</MenuItem>}
    </Menu>
  );
}

interface TermProps {
  row: OfferRow;
  several: boolean;
  offers: OfferColumn[];
}

function TermRow({ row, several, offers }: TermProps) {
  return (
    <tr className={`border-b border-hair align-top last:border-0 ${several && !row.apart ? 'text-ink-3' : ''}`}>
      <th
        scope="row"
        className={`sticky left-0 z-10 bg-paper px-3 py-1.5 text-left ${row.apart ? 'font-medium text-ink' : 'font-normal text-ink-2'}`}
      >
        {row.label}
      </th>
      {row.cells.map((cell, n) => {
        const offer = offers[n];
        return (
          offer && (
            <td key={offer.id} className="border-l border-hair px-1.5">
              <Term row={row} cell={cell} offer={offer} />
            </td>
          )
        );
      })}
    </tr>
  );
}

/** One term of one offer: typed where it stands in the offer at hand; in another one, a press takes that one at hand. */
function Term({ row, cell, offer }: { row: OfferRow; cell: OfferRow['cells'][number]; offer: OfferColumn }) {
  const { deal, facts } = useDeal();
  const fact = facts.get(row.key);
  const isHere = offer.id === deal.head.offer;
  const place = useRef<HTMLDivElement>(null);
  const wanted = useLocation({ select: (l) => l.hash }) === row.key;
  useLayoutEffect(() => {
    if (wanted && isHere) place.current?.querySelector<HTMLElement>('input, select, textarea')?.focus();
  }, [wanted, isHere]);
  const mark = markOf(cell.source);
  const marked = (
    <span className={`w-[13px] shrink-0 ${isHere ? 'pt-1.5' : ''}`}>{mark && cell.shown && <Mark name={mark} size={12} />}</span>
  );
  if (isHere && fact) {
    return (
      <div ref={place} className="quiet-fields flex gap-1 px-1.5">
        {marked}
        <span className="min-w-0 flex-1">
          <FactInput fact={{ ...fact, example: '' }} label={`${row.label}, ${offer.name}`} />
        </span>
      </div>
    );
  }
  return (
    <Link
      to="/deals/$deal/offers"
      params={{ deal: deal.head.id }}
      search={{ offer: offer.in_force ? undefined : offer.id }}
      hash={row.key}
      aria-label={`${row.label}, ${offer.name}: ${cell.shown || 'nothing'}. Change it`}
      className="flex min-h-8 gap-1 rounded-sm px-1.5 pb-1 pt-1.5 hover:bg-sheet"
    >
      {marked}
      <span className="min-w-0 wrap-break-word px-2">{cell.shown.replace(/\.00$/, '')}</span>
    </Link>
  );
}
