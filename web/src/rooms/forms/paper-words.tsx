/** Words and fields of a paper's lens: kinds of value, roles, a field with its label. */
import type { ReactNode } from 'react';

export const KINDS = [
  'text',
  'long_text',
  'name',
  'money',
  'percent',
  'integer',
  'number',
  'date',
  'time',
  'year',
  'phone',
  'email',
  'address',
  'area',
];
export const ROLES = [
  'client.1',
  'client.2',
  'buyer.1',
  'buyer.2',
  'seller.1',
  'seller.2',
  'landlord.1',
  'landlord.2',
  'tenant.1',
  'tenant.2',
  'own_agent',
  'buyer_agent',
  'listing_agent',
  'own_broker',
  'buyer_broker',
  'listing_broker',
];
export const plain = (text: string) => text.replace(/[._]/g, ' ');

export const Labelled = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="block">
    <span className="mb-0.5 block text-xs text-ink-2">{label}</span>
    {children}
  </label>
);
