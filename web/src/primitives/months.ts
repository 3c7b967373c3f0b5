/** Months as their days, written as "2027-05-28". */
import { daysAfter } from './format';

export const MONTH = new Intl.DateTimeFormat('en-US', { month: 'long', year: 'numeric', timeZone: 'UTC' });
export const WEEK = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];

/** The first of a month so many months away. */
export function monthFrom(first: string, months: number): string {
  const day = new Date(`${first}T00:00:00Z`);
  return new Date(Date.UTC(day.getUTCFullYear(), day.getUTCMonth() + months, 1)).toISOString().slice(0, 10);
}

/** The days of the weeks that a month has part in. */
export function daysOf(first: string): string[] {
  const begin = daysAfter(first, -new Date(`${first}T00:00:00Z`).getUTCDay());
  const last = daysAfter(monthFrom(first, 1), -1);
  const days: string[] = [];
  for (let day = begin; day <= last || days.length % 7 !== 0; day = daysAfter(day, 1)) days.push(day);
  return days;
}
