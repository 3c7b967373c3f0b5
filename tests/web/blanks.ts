/** Blanks as a hand has them, open unless it is said otherwise. */
import type { Blank } from '../../web/src/api/client';

export const blank = (field: string, more: Partial<Blank> = {}) =>
  ({
    document: 'd1',
    field,
    key: `f.${field}`,
    page: 1,
    shape: 'text',
    state: 'open',
    editable: true,
    draft: null,
    clashes: [],
    waits_for: [],
    ...more,
  }) as unknown as Blank;
