/** Kinds of contact, and the fields that each of them has. */
import type { Contact } from '../../api/client';

export type Kind = Contact['kind'];
export const KINDS: Record<Kind, string> = {
  client: 'Client',
  agent: 'Agent',
  title: 'Title company',
  lender: 'Lender',
  inspector: 'Inspector',
  attorney: 'Attorney',
  warranty: 'Home warranty',
  association_manager: 'Association manager',
  other: 'Other',
};

/** Field, label, width in twelfths. */
const FIELDS: [string, string, number][] = [
  ['given', 'Given name', 4],
  ['middle', 'Middle', 2],
  ['family', 'Family name', 4],
  ['suffix', 'Suffix', 2],
  ['company', 'Company or entity', 4],
  ['email', 'E-mail', 5],
  ['phone', 'Phone', 3],
  ['entity_kind', 'Kind of entity', 6],
  ['signer', 'Who signs for it', 6],
  ['address', 'Address', 12],
  ['licence', 'License', 6],
  ['code', 'Listing-service code', 6],
];
const ONLY: Record<string, Kind[]> = { entity_kind: ['client'], signer: ['client'], licence: ['agent'], code: ['agent'] };

/** The fields that a contact of this kind is asked for; one that has a text is always shown. */
export const fieldsOf = (kind: Kind, said: Record<string, string>) =>
  FIELDS.filter(
    ([name]) =>
      said[name] ||
      ((!ONLY[name] || ONLY[name].includes(kind)) && (said.company || (name !== 'entity_kind' && name !== 'signer'))),
  );
