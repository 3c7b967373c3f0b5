/** Small things said in words. */

const DAY = new Intl.DateTimeFormat('en-US', { month: 'short', day: 'numeric', year: 'numeric', timeZone: 'UTC' });
const MOMENT = new Intl.DateTimeFormat('en-US', { month: 'short', day: 'numeric', hour: 'numeric', minute: '2-digit' });

/** Jun 15, 2027. */
export const shortDate = (iso: string) => DAY.format(new Date(`${iso.slice(0, 10)}T00:00:00Z`));

/** Jun 15, 4:05 PM, in the reader's own time zone. */
export const moment = (iso: string) => MOMENT.format(new Date(iso));

/** Today where the reader is, as 2027-06-15. */
export const today = () => new Date().toLocaleDateString('sv-SE');

const WEEKDAY = new Intl.DateTimeFormat('en-US', { weekday: 'short', month: 'short', day: 'numeric', timeZone: 'UTC' });

/** Tue, Jun 15; with the year where it isn't this one. */
export const weekday = (iso: string) => {
  const said = WEEKDAY.format(new Date(`${iso.slice(0, 10)}T00:00:00Z`));
  return iso.slice(0, 4) === today().slice(0, 4) ? said : `${said}, ${iso.slice(0, 4)}`;
};

/** So many days after a day, as 2027-06-15. */
export const daysAfter = (iso: string, days: number) =>
  new Date(Date.parse(`${iso.slice(0, 10)}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);

/** 1 blank, 2 blanks. */
export const some = (count: number, one: string, many = `${one}s`) => `${count} ${count === 1 ? one : many}`;

/** Buyer, as buyer at the head of a line. */
export const capital = (said: string) => said.replace(/^./, (first) => first.toUpperCase());
