/**
 * Keys, taken apart and put together here and nowhere else (as `quillcore.facts.keys` does for the core): a fact's
 * ("terms.purchase_price"), a party's by position ("buyers.2.email"), a document's own blank's ("doc.c0ffee.survey-by").
 */

const DOCUMENT = 'doc';

/** The group that a fact or a party belongs to. */
export const groupOf = (key: string) => key.split('.')[0] ?? '';

/** What stands behind its last dot: a party's field, a blank's name. */
export const lastOf = (key: string) => key.split('.').at(-1) ?? '';

/** A party's group, position from 1 (0 where the key names none) and field. */
export function partyOf(key: string) {
  const [group = '', position = '', field = ''] = key.split('.');
  return { group, position: /^\d+$/.test(position) ? Number(position) : 0, field };
}
export const partyKey = (group: string, position: number, field: string) => `${group}.${position}.${field}`;

/** Whether it is a group's, or one party's of it. */
export const isOf = (key: string, group: string, position?: number) =>
  groupOf(key) === group && (!position || partyOf(key).position === position);

/** Whether it is all names of a group of parties, joined. */
export const isAllNames = (key: string) => lastOf(key) === 'names';

export const documentKey = (document: string) => `${DOCUMENT}.${document}`;

/** The document and the blank of a key that is a document's own; null for every other sort. */
export function ownKey(key: string): { document: string; field: string } | null {
  const [head, document = '', ...field] = key.split('.');
  return head === DOCUMENT ? { document, field: field.join('.') } : null;
}
