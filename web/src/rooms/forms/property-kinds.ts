/** The kinds of property that forms and templates are for. */
export const PROPERTY_KINDS = [
  'single-family',
  'condominium',
  'townhouse',
  'manufactured',
  'multi-family 2–4',
  'land',
  'farm',
  'commercial',
  'industrial',
];
