/** Where signing begins on the next page, for whoever comes from a place on the paper. */
export const START = 'quill-sign-at';

/** The place, once: it is forgotten as it is read. */
export function startAt(): string {
  const place = sessionStorage.getItem(START) ?? '';
  sessionStorage.removeItem(START);
  return place;
}
