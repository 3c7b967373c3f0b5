import { describe, expect, it } from 'vitest';
import CASES from '../cases/places.json';
import {
  collide,
  drawn,
  freeId,
  LEAST,
  moved,
  placeForCopy,
  resized,
  settle,
  snapping,
  type Rect,
} from '../../web/src/features/forms/placing';

const PAGE = { width: 612, height: 792 };
const A: Rect = [100, 700, 200, 714];

describe('placing blanks by hand', () => {
  it('lets blanks touch, but not lie on each other, as the core does', () => {
    for (const { a, b, collide: both } of CASES.collisions as { a: Rect; b: Rect; collide: boolean }[]) {
      expect([a, b, collide(a, b)]).toEqual([a, b, both]);
      expect([b, a, collide(b, a)]).toEqual([b, a, both]);
    }
  });
  it("has the core's least size", () => expect(LEAST).toBe(CASES.least));
  it('keeps a moved blank on its page', () => {
    expect(moved(A, -500, 500, PAGE)).toEqual([0, 778, 100, 792]);
    expect(moved(A, 3, -2, PAGE)).toEqual([103, 698, 203, 712]);
  });
  it('never makes a blank too small to be seen', () => {
    expect(resized(A, -500, 500, PAGE)).toEqual([100, 706, 108, 714]);
    expect(resized(A, 900, -900, PAGE)).toEqual([100, 0, 612, 714]);
  });
  it('draws from any corner', () => {
    expect(drawn([200, 714], [100, 700], PAGE)).toEqual(A);
    expect(drawn([10, 10], [10, 10], PAGE)).toEqual([10, 10, 18, 18]);
  });
  it('brings edges into line with those nearby', () => {
    expect(snapping([102.5, 640, 202, 654], [A])).toEqual({ dx: -2, dy: 0 });
    expect(snapping([120, 640, 260, 654], [A])).toEqual({ dx: 0, dy: 0 });
  });
  it('stays where it was rather than lie on another', () => {
    const before: Rect = [300, 600, 400, 614];
    expect(settle([120, 702, 220, 716], [A], PAGE, before)).toEqual(before);
    expect(settle([103, 640, 203, 654], [A], PAGE, before)).toEqual([100, 640, 200, 654]);
  });
  it('finds a free place for a copy, or says that there is none', () => {
    expect(placeForCopy(A, [A], PAGE)).toEqual([100, 682, 200, 696]);
    expect(placeForCopy([0, 0, 612, 792], [[0, 0, 612, 792]], PAGE)).toBeNull();
  });
  it('gives each blank a name of its own', () => {
    expect(freeId('text', ['text', 'text-2'])).toBe('text-3');
    expect(freeId('box', ['text'])).toBe('box');
  });
});
