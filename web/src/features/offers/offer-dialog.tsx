/** Asked about an offer: its name, and whose terms a new one begins with. */
import { useEffect, useState } from 'react';
import type { OfferColumn } from '../../api/client';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { useDeal } from '../deals/use-deal';

export interface Asked {
  what: 'name' | 'add';
  offer?: OfferColumn;
}

interface Props {
  asked: Asked;
  offers: OfferColumn[];
  /** Whether offers come in on this side, or are made. */
  receives: boolean;
  onClose: () => void;
  rename: (offer: number, name: string) => void;
  add: (name: string, like: number | null) => void;
}

const DOES = { name: 'Rename', add: 'Add the offer' };

const titleOf = ({ what }: Asked, receives: boolean) => {
  if (what === 'name') return 'Name the offer';
  return receives ? 'An offer came in' : 'Another offer';
};

export function OfferDialog({ asked, offers, receives, onClose, rename, add }: Props) {
  const { what, offer } = asked;
  const { id } = useDeal();
  const { typed: name, set: setName, settle } = useKept(`offer ${id} ${what} ${offer?.id ?? ''}`, offer?.name ?? '');
  useEffect(() => () => settle(''), [settle]); // saved or left: what was typed here is done with
  const [like, setLike] = useState<number | null>(receives ? null : (offers.find((o) => o.in_force)?.id ?? null));
  const done = () => {
    if (what === 'add') add(name, like);
    else if (offer) rename(offer.id, name);
  };
  return (
    <Dialog open onOpenChange={onClose} title={titleOf(asked, receives)} width={460}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          done();
        }}
      >
        <label className="block text-sm">
          Name
          <input
            className="field mt-1 block w-full"
            value={name}
            maxLength={120}
            placeholder={what === 'add' ? 'Offer and number, unless you name it' : ''}
            onChange={(e) => setName(e.target.value)}
          />
        </label>
        {what === 'add' && <TermsLike offers={offers} like={like} setLike={setLike} />}
        <div className="mt-4 flex gap-2">
          <Button look="act" type="submit" disabled={what === 'name' && !name.trim()}>
            {DOES[what]}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

interface LikeProps {
  offers: OfferColumn[];
  like: number | null;
  setLike: (like: number | null) => void;
}

function TermsLike({ offers, like, setLike }: LikeProps) {
  return (
    <label className="mt-3 block text-sm">
      Its terms
      <select className="field mt-1 block w-full" value={like ?? ''} onChange={(e) => setLike(Number(e.target.value) || null)}>
        <option value="">Empty, with template answers only</option>
        {offers.map((o) => (
          <option key={o.id} value={o.id}>
            As in {o.name}
            {o.parties && `, ${o.parties}`}
          </option>
        ))}
      </select>
    </label>
  );
}
