/** Where something stands on a page shown at any size. */
import { expect, it } from 'vitest';
import { onPage } from '../../web/src/primitives/on-page';

const PAGE = { width: 600, height: 800 };

it('counts from the lower left in points, and from the upper left in parts of a hundred', () => {
  expect(onPage([60, 80, 120, 160], PAGE)).toEqual({
    left: '10%',
    top: '80%',
    width: '10%',
    height: '10%',
  });
  expect(onPage([0, 0, 600, 800], PAGE)).toEqual({
    left: '0%',
    top: '0%',
    width: '100%',
    height: '100%',
  });
});

it('grows by as much on each side', () => {
  expect(onPage([60, 80, 120, 160], PAGE, 6)).toEqual({
    left: '9%',
    top: '79.25%',
    width: '12%',
    height: '11.5%',
  });
});
