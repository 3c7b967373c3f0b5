/** What stands where a screen is on its way: nothing at first, since most are there at once. */
export function Opening() {
  return <p className="late p-6 text-ink-2">Opening …</p>;
}
