/** How the fields of a contact stand beside each other; which there are of each kind comes with the choices. */
import type { Choices, ContactKind } from '../../api/client';

/** In twelfths of a row; a whole one where nothing is said. */
const WIDTH: Record<string, number> = {
  given: 4,
  middle: 2,
  family: 4,
  suffix: 2,
  company: 4,
  email: 5,
  phone: 3,
  entity_kind: 6,
  signer: 6,
  licence: 6,
  code: 6,
};

/** The fields that a contact of this kind is asked for, with their widths; one that has a text is always shown. */
export function fieldsOf(choices: Choices, kind: ContactKind, said: Record<string, string>) {
  const asked = new Set(choices.contact_kinds.find((k) => k.kind === kind)?.fields_asked);
  return choices.contact_fields
    .filter((f) => said[f.field] || (asked.has(f.field) && (said.company || !f.of_entity)))
    .map((f) => ({ ...f, width: WIDTH[f.field] ?? 12 }));
}

export const kindLabel = (choices: Choices, kind: ContactKind) =>
  choices.contact_kinds.find((k) => k.kind === kind)?.label ?? kind;
