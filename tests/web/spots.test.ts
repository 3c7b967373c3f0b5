/** Places to sign: where they may stand, what goes along with them, and what is put on further pages. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { HandSpot } from '../../web/src/api/client';
import type { Page } from '../../web/src/features/assembly/pages';
import type { Held } from '../../web/src/features/write/keeping-spots';
import { add, beside, forNext, nudge, onPages, place, press, type AtHand } from '../../web/src/features/write/putting-spots';
import { around, dateBeside, freeNear, kindOf, nextOf, pagesFrom } from '../../web/src/features/write/spots';

const SIZE = { width: 612, height: 792 };
const BLANK: [number, number, number, number] = [100, 600, 300, 620];

const page = (number: number, blanks: number[][] = []) =>
  ({ id: `d-${number}`, number, size: SIZE, document: { id: 'd' }, blanks: blanks.map((rect) => ({ rect })) }) as unknown as Page;

/** What is at hand, which keeps what is put. */
function atHand(said: Partial<AtHand> = {}) {
  const kept = new Map<string, Held>();
  const at: AtHand = {
    pages: [page(1, [BLANK]), page(2), page(3)],
    get spots() {
      return [...kept.values()];
    },
    people: [{ key: 'buyers.1' }, { key: 'buyers.2' }, { key: 'buyer_agent' }],
    nameOf: (key) => key,
    what: 'signature',
    who: 'buyers.1',
    dated: { signature: true, initials: false },
    keep: (document, made) => made.forEach((s) => kept.set(s.id, { ...s, document })),
    choose: vi.fn(),
    arm: vi.fn(),
    setWho: vi.fn(),
    ...said,
  };
  return { at, kept, one: () => [...kept.values()][0]!, all: () => [...kept.values()] };
}

const tell = ({ what, who, page: n, rect }: HandSpot) => `${what} ${who} ${n} ${rect.join(' ')}`;

beforeEach(() => vi.stubGlobal('document', { getElementById: () => null, querySelector: () => null }));

describe('a place', () => {
  it('stands in its usual size around the point, and never over the edge', () => {
    expect(around('check', [100, 100], SIZE)).toEqual([94, 94, 106, 106]);
    expect(around('signature', [2, 790], SIZE)).toEqual([0, 770, kindOf('signature').size[0], 792]);
  });

  it('goes to the nearest free room, and nowhere on a full page', () => {
    expect(freeNear([100, 600, 200, 620], [BLANK], SIZE)?.[1]).toBe(582);
    expect(freeNear([100, 600, 200, 620], [[0, 0, 612, 792]], SIZE)).toBeNull();
  });

  it('gets its date on its line, where that is free', () => {
    const rect = [100, 100, 200, 120] as [number, number, number, number];
    expect(dateBeside(rect, [], SIZE)).toEqual([208, 100, 282, 116]);
    expect(dateBeside(rect, [[210, 90, 230, 130]], SIZE)).toBeNull();
    expect(dateBeside([500, 100, 600, 120], [], SIZE)).toBeNull();
  });
});

describe('putting', () => {
  it('puts a signature with its date, initials without, as it is wished', () => {
    const { at, all } = atHand();
    press(at, at.pages[1]!, [200, 400]);
    expect(all().map((s) => s.what)).toEqual(['signature', 'date']);
    const other = atHand({ what: 'initials' });
    press(other.at, other.at.pages[1]!, [200, 400]);
    expect(other.all().map(tell)).toEqual(['initials buyers.1 2 183 391 217 409']);
    expect(other.at.arm).toHaveBeenCalledWith(null);
  });

  it('never puts one on a blank of the form', () => {
    const { at, one } = atHand();
    press(at, at.pages[0]!, [200, 610]);
    expect(one().rect[3]! <= BLANK[1] + 2 || one().rect[1]! >= BLANK[3] - 2).toBe(true);
  });

  it('puts nothing while nothing is armed', () => {
    const { at, all } = atHand({ what: null });
    press(at, at.pages[0]!, [200, 400]);
    add(at, at.pages[0]!, [1, 1, 50, 50]);
    expect(all()).toEqual([]);
  });

  it('moves the date along, and stops where something stands', () => {
    const { at, one, all } = atHand();
    add(at, at.pages[0]!, [100, 560, 260, 582]);
    const [, date] = all();
    nudge(at, one(), 10, 0, false);
    expect(one().rect[0]).toBe(110);
    expect(all().find((s) => s.id === date!.id)?.rect[0]).toBe(date!.rect[0]! + 10);
    nudge(at, one(), 0, 30, false);
    expect(one().rect[1]).toBe(560);
  });

  it('is sized by its lower right corner, and its date stays', () => {
    const { at, one, all } = atHand();
    add(at, at.pages[1]!, [100, 100, 260, 122]);
    nudge(at, one(), 0, -10, true);
    expect(one().rect).toEqual([100, 90, 260, 122]);
    nudge(at, one(), 20, 0, true);
    expect(one().rect[2]).toBe(260);
    expect(all()[1]!.rect[0]).toBe(268);
  });

  it('is dragged with its date', () => {
    const { at, one, all } = atHand();
    add(at, at.pages[1]!, [100, 100, 260, 122]);
    place(at, one(), [100, 300, 260, 322]);
    expect(all().map((s) => s.rect[1])).toEqual([300, 300]);
  });

  it('goes on other pages with its date, where both are free', () => {
    const { at, one, all } = atHand();
    add(at, at.pages[1]!, [100, 601, 260, 619]);
    onPages(at, one(), [1, 2, 3]);
    expect(
      all()
        .map(tell)
        .filter((t) => t.startsWith('signature')),
    ).toEqual(['signature buyers.1 2 100 601 260 619', 'signature buyers.1 3 100 601 260 619']);
    expect(
      all()
        .filter((s) => s.what === 'date')
        .map((s) => s.page),
    ).toEqual([2, 3]);
  });

  it('is given on to whoever comes next, below it and with a date', () => {
    const { at, one, all } = atHand();
    add(at, at.pages[1]!, [100, 400, 260, 422]);
    forNext(at, one());
    expect(all().map(tell).slice(2)).toEqual(['signature buyers.2 2 100 372 260 394', 'date buyers.2 2 268 372 342 388']);
    expect(at.setWho).toHaveBeenCalledWith('buyers.2');
  });

  it('knows the place before and behind, over pages and around', () => {
    const { at, kept } = atHand({ dated: { signature: false, initials: false } });
    add(at, at.pages[1]!, [100, 400, 260, 422]);
    add(at, at.pages[0]!, [100, 400, 260, 422]);
    add(at, at.pages[0]!, [100, 500, 260, 522]);
    const [two, one, first] = [...kept.values()];
    expect(beside(at, null, 1)?.id).toBe(first!.id);
    expect(beside(at, { document: 'd', id: first!.id }, 1)?.id).toBe(one!.id);
    expect(beside(at, { document: 'd', id: two!.id }, 1)?.id).toBe(first!.id);
    expect(beside(at, { document: 'd', id: first!.id }, -1)?.id).toBe(two!.id);
  });
});

describe('pages and people', () => {
  it.each([
    ['2-4', [2, 3, 4]],
    ['all', [1, 2, 3, 4, 5]],
    ['5, 1–2; 2', [1, 2, 5]],
    ['9', []],
    ['4-99999', []],
    ['4-9999', [4, 5]],
    ['x', []],
    ['', []],
  ])('reads “%s”', (text, pages) => expect(pagesFrom(text, 5)).toEqual(pages));

  it('knows who comes next, and that nobody does', () => {
    const people = [{ key: 'buyers.1' }, { key: 'buyers.2' }];
    expect(nextOf('buyers.1', people)).toBe('buyers.2');
    expect(nextOf('buyers.2', people)).toBeNull();
    expect(nextOf('gone', people)).toBeNull();
  });
});
