/** How an offer stands, in words: the one in force is only called so once it was accepted. */
export const standing = (offer: { outcome: string; in_force: boolean }) =>
  offer.outcome === 'accepted'
    ? offer.in_force
      ? 'accepted, in force'
      : 'accepted'
    : offer.in_force
      ? `${offer.outcome}, the one on Today`
      : offer.outcome;
