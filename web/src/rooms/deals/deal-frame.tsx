/** The frame around a deal's screens: one slim header, the places in the order of the work. */
import { Outlet, useNavigate, useParams, useSearch } from '@tanstack/react-router';
import { ChevronDown } from 'lucide-react';
import { DropdownMenu as Menu } from 'radix-ui';
import { useCallback } from 'react';
import { Mark } from '../../primitives/mark';
import { weekday } from '../../primitives/words';
import { WorkHead } from '../../primitives/work-head';
import { DealMenu } from './deal-menu';
import { DealName } from './deal-name';
import { DownloadPackage } from './download';
import { HandTools } from './hand-tools';
import { standing } from './standing';
import { DealProvider, useDeal } from './use-deal';
import { NotSaved, WaitingCount } from './waiting';

const PLACES = [
  ['/deals/$deal/facts', 'Facts'],
  ['/deals/$deal/offers', 'Offers'],
  ['/deals/$deal/package', 'Package'],
  ['/deals/$deal/write', 'Write'],
  ['/deals/$deal/proof', 'Proofread'],
  ['/deals/$deal/duties', 'Duties'],
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
      label="Places of this deal"
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
      <div className="flex items-center gap-x-3 overflow-x-auto whitespace-nowrap text-xs text-ink-2">
        <span>{deal.head.side}</span>
        {deal.head.stage !== 'filling' && <span className="font-medium text-wax">{deal.head.stage}</span>}
        <OfferChoice />
        <span className="flex items-center gap-1">
          {deal.head.open > 0 && <Mark name="open" quiet size={11} />}
          {deal.head.open > 0 ? `${deal.head.open} open` : 'nothing open'}
        </span>
        <WaitingCount />
        <NextDue />
      </div>
    </WorkHead>
  );
}

/** What is late, else what is due next. */
function NextDue() {
  const { late, next } = useDeal().deal.head;
  if (!late && !next) return null;
  const said = late ? `${late} late` : next ? `${next.label} ${weekday(next.date)}` : '';
  return (
    <span title={said} className={`min-w-[100px] truncate ${late ? 'font-medium text-wax' : ''}`}>
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
    <Menu.Root>
      <Menu.Trigger
        aria-label={`Offer at hand: ${here.name}`}
        className={`moves flex min-w-0 max-w-[200px] items-center gap-1 rounded-sm px-1 hover:bg-blotter ${settled && !here.in_force ? 'font-medium text-ochre' : 'text-ink'}`}
      >
        <span className="truncate">
          {here.name}
          {settled && !here.in_force && ', not in force'}
          {here.parties && ` · ${here.parties}`}
        </span>
        <ChevronDown size={12} className="shrink-0" />
      </Menu.Trigger>
      <Menu.Portal>
        <Menu.Content
          align="start"
          sideOffset={4}
          className="z-50 w-[300px] rounded-md border border-blotter-3 bg-paper py-1.5 text-sm shadow-lg"
        >
          {offers.map((o) => (
            <Menu.Item
              key={o.id}
              onSelect={() => void navigate({ to: '.', search: (s) => ({ ...s, offer: o.in_force ? undefined : o.id }) })}
              className={`block cursor-pointer px-4 py-1.5 outline-none data-highlighted:bg-green-wash ${o.id === offer ? 'font-semibold' : ''}`}
            >
              {o.name}
              <span className="block text-xs font-normal text-ink-2">
                {[o.parties || 'nobody named yet', standing(o)].join(' · ')}
              </span>
            </Menu.Item>
          ))}
        </Menu.Content>
      </Menu.Portal>
    </Menu.Root>
  );
}
