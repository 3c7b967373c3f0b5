/** Small things said in words. */

const DAY = new Intl.DateTimeFormat('en-US', { month: 'short', day: 'numeric', year: 'numeric', timeZone: 'UTC' });
const MOMENT = new Intl.DateTimeFormat('en-US', { month: 'short', day: 'numeric', hour: 'numeric', minute: '2-digit' });

/** Jun 15, 2027. */
export const shortDate = (iso: string) => DAY.format(new Date(`${iso.slice(0, 10)}T00:00:00Z`));

/** Jun 15, 4:05 PM, in the reader's own time zone. */
export const moment = (iso: string) => MOMENT.format(new Date(iso));

/** Today where the reader is, as 2027-06-15. */
export const today = () => new Date().toLocaleDateString('sv-SE');

/** 1 blank, 2 blanks. */
export const some = (count: number, one: string, many = `${one}s`) => `${count} ${count === 1 ? one : many}`;
