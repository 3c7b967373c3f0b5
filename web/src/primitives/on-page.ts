/** Where something stands on a page that is shown at any size, in parts of a hundred. */
interface Size {
  width: number;
  height: number;
}

/** A rectangle in points from the lower left (left, bottom, right, top), `around` so many points wider on each side. */
export function onPage(rect: number[], size: Size, around = 0) {
  const [left, bottom, right, top] = rect as [number, number, number, number];
  return {
    left: `${(100 * (left - around)) / size.width}%`,
    top: `${100 * (1 - (top + around) / size.height)}%`,
    width: `${(100 * (right - left + 2 * around)) / size.width}%`,
    height: `${(100 * (top - bottom + 2 * around)) / size.height}%`,
  };
}
