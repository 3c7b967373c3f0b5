/** The frame around a deal's screens: one slim header, the places in the order of the work. */
import { Outlet, useNavigate, useParams, useSearch } from '@tanstack/react-router';
import { ChevronDown } from 'lucide-react';
import { useCallback } from 'react';
import { Mark } from '../../primitives/mark';
import { Menu, MenuItem } from '../../primitives/menu';
import { weekday } from '../../primitives/format';
import { WorkHead } from '../../primitives/work-head';
import { DealMenu } from './deal-menu';
import { DealName } from './deal-name';
import { DownloadPackage } from './download';
import { HandTools } from './hand-tools';
import { useOpen } from '../workspace/way';
import { ReceivePapers } from './receive';
import { standing } from './standing';
import { DealProvider, useDeal } from './use-deal';
import { NotSaved, WaitingCount } from './waiting';

const PLACES = [
  ['/deals/$deal/facts', 'Facts'],
  ['/deals/$deal/offers', 'Offers'],
  ['/deals/$deal/money', 'Money'],
  ['/deals/$deal/package', 'Package'],
  ['/deals/$deal/write', 'Write'],
  ['/deals/$deal/proof', 'Proofread'],
  ['/deals/$deal/signing', 'Signing'],
  ['/deals/$deal/tasks', 'Tasks'],
] as const;

export function DealFrame() {
  const { deal } = useParams({ from: '/deals/$deal' });
  const { offer } = useSearch({ from: '/deals/$deal' });
  const navigate = useNavigate();
  const onOffer = useCallback(
    (head: { offer: number; offers: { id: number; in_force: boolean }[] }) => {
      const inForce = head.offers.find((o) => o.id === head.offer)?.in_force;
      void navigate({ to: '.', search: (s) => ({ ...s, offer: inForce ? undefined : head.offer }) });
    },
    [navigate],
  );
  return (
    <DealProvider id={deal} offer={offer} onOffer={onOffer} key={`${deal}/${offer ?? ''}`}>
      <div className="flex h-full flex-col">
        <DealHeader />
        <NotSaved />
        <ReceivePapers />
        <div className="min-h-0 flex-1">
          <Outlet />
        </div>
      </div>
    </DealProvider>
  );
}

function DealHeader() {
  const { deal, id } = useDeal();
  return (
    <WorkHead
      label="Sections of this deal"
      what="This deal"
      name={deal.head.name.split(' · ')[0]!} // the address: a tab and a history need not name the client
      places={PLACES}
      params={{ deal: id }}
      tools={
        <>
          <HandTools />
          <DealMenu />
          {deal.documents.some((d) => d.edition && !d.set_aside) && <DownloadPackage />}
        </>
      }
    >
      <DealName />
      <div className="flex flex-wrap items-center gap-x-3 whitespace-nowrap text-xs min-[900px]:flex-nowrap text-ink-2">
        <span>{deal.head.side}</span>
        {deal.head.stage !== 'filling' && (
          <span className={`font-medium ${deal.head.stage === 'closed' ? 'text-green-2' : 'text-wax'}`}>{deal.head.stage}</span>
        )}
        <OfferChoice />
        <OpenHere />
        <WaitingCount />
        <NextDue />
      </div>
    </WorkHead>
  );
}

/** How many blanks are open, and the way to the next of them from every place. */
function OpenHere() {
  const { open, stage } = useDeal().deal.head;
  const { next } = useOpen();
  if (stage !== 'filling') return null; // one that is over asks for nothing
  if (open === 0) return <span>all answered</span>;
  return (
    <button
      type="button"
      title="Go to the next unanswered blank (Ctrl + Enter)"
      onClick={next}
      className="moves -mx-1 flex min-h-6 items-center gap-1 rounded-sm px-1 underline-offset-3 hover:text-ink hover:underline"
    >
      <Mark name="open" quiet size={11} /> {open} unanswered<span className="sr-only">, go to the next</span>
    </button>
  );
}

/** What is late, else what is due next. */
function NextDue() {
  const { late, next } = useDeal().deal.head;
  if (!late && !next) return null;
  const said = late ? `${late} late` : next ? `${next.label} ${weekday(next.date)}` : '';
  return (
    <span title={said} className={`min-w-[60px] truncate ${late ? 'font-medium text-wax' : ''}`}>
      {said}
    </span>
  );
}

/** Which of several offers is at hand; nothing while there is only one. */
function OfferChoice() {
  const { deal } = useDeal();
  const navigate = useNavigate();
  const { offers, offer } = deal.head;
  const here = offers.find((o) => o.id === offer);
  if (offers.length < 2 || !here) return null;
  const settled = offers.some((o) => o.outcome === 'accepted');
  return (
    <Menu
      align="start"
      width={300}
      trigger={
        <button
          type="button"
          aria-label={`Offer at hand: ${here.name}`}
          className={`moves flex min-h-6 min-w-0 max-w-[200px] items-center gap-1 rounded-sm px-1 hover:bg-blotter ${settled && !here.in_force ? 'font-medium text-ochre' : 'text-ink'}`}
        >
          <span className="truncate">
            {here.name}
            {settled && !here.in_force && ', not in force'}
            {here.parties && ` · ${here.parties}`}
          </span>
          <ChevronDown size={12} className="shrink-0" />
        </button>
      }
    >
      {offers.map((o) => (
        <MenuItem
          key={o.id}
          run={() => void navigate({ to: '.', search: (s) => ({ ...s, offer: o.in_force ? undefined : o.id }) })}
          note={[o.parties || 'no client named yet', standing(o)].join(' · ')}
        >
          <span className={o.id === offer ? 'font-semibold' : ''}>{o.name}</span>
        </MenuItem>
      ))}
    </Menu>
  );
}
