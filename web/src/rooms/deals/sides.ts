/** Which group of parties is the client on each side of a deal. */
export const CLIENT_GROUP: Record<string, string> = {
  buying: 'buyers',
  listing: 'sellers',
  renting: 'tenants',
  'leasing out': 'landlords',
};
