/** What can be done with places to sign: put where there is room, moved, sized, put on further pages, given on, taken off. */
import type { HandSpot } from '../../api/client';
import { announce, notify } from '../../primitives/notices';
import { some } from '../../primitives/format';
import type { Page } from '../assembly/pages';
import { LEAST, moved, type Rect } from '../forms/placing';
import { plain, type Held } from './keeping-spots';
import {
  around,
  dateBeside,
  freeNear,
  inOrder,
  isBeside,
  isFree,
  kindOf,
  mayBeDated,
  nextOf,
  rectOf,
  type Dated,
  type What,
} from './spots';

/** What is at hand while places are put. */
export interface AtHand {
  pages: Page[];
  spots: Held[];
  people: readonly { key: string }[];
  nameOf: (key: string) => string;
  what: What | null;
  who: string;
  dated: Dated;
  keep: (document: string, made: HandSpot[]) => void;
  choose: (spot: { document: string; id: string } | null) => void;
  arm: (what: What | null) => void;
  setWho: (who: string) => void;
}

const NO_ROOM = 'There is no room on this page.';

const fresh = (page: number, rect: Rect, what: What, who: string): HandSpot => ({
  id: crypto.randomUUID().slice(0, 13),
  page,
  rect,
  what,
  who,
  label: '',
  required: what !== 'check',
});

const pageOf = ({ pages }: AtHand, spot: Held) =>
  pages.find((p) => p.document.id === spot.document && p.number === spot.page && !p.continuation);

/** What stands on a page already: the form's own blanks, and other places. */
export const takenOn = ({ spots }: Pick<AtHand, 'spots'>, page: Page, but: string[] = []): Rect[] => [
  ...page.blanks.map((b) => b.rect as Rect),
  ...spots.filter((s) => s.document === page.document.id && s.page === page.number && !but.includes(s.id)).map(rectOf),
];

const moveBy = ([l, b, r, t]: Rect, dx: number, dy: number): Rect => [l + dx, b + dy, r + dx, t + dy];

/** Put what is armed into a rectangle; beside a signature or initials its date, where that is wanted and there is room. */
export function add(at: AtHand, page: Page, rect: Rect) {
  const { what, who, dated } = at;
  if (!what || !who) return;
  const made = [fresh(page.number, rect, what, who)];
  const beside = mayBeDated(what) && dated[what] ? dateBeside(rect, takenOn(at, page), page.size) : null;
  if (beside) made.push(fresh(page.number, beside, 'date', who));
  at.keep(page.document.id, made);
  at.choose({ document: page.document.id, id: made[0]!.id });
  at.arm(null);
  announce(`${kindOf(what).name} for ${at.nameOf(who)} on page ${page.number}`);
}

/** The same near a point, in its usual size; there or close by. */
export function press(at: AtHand, page: Page, point: readonly [number, number]) {
  if (!at.what) return;
  const rect = freeNear(around(at.what, point, page.size), takenOn(at, page), page.size);
  if (rect) add(at, page, rect);
  else notify(NO_ROOM, { wrong: true });
}

/** A place with the date that stands beside it, where one does: they are moved and given on together. */
const withDate = ({ spots }: AtHand, spot: Held): Held[] => {
  const date = mayBeDated(spot.what) && spots.find((s) => s.document === spot.document && isBeside(s, spot));
  return date ? [spot, date] : [spot];
};

/** The same places elsewhere: on another page, by so many points, for somebody else. */
const alike = (all: Held[], page: number, who: string, [dx, dy]: readonly [number, number]): HandSpot[] =>
  all.map((s) => {
    return { ...fresh(page, moveBy(rectOf(s), dx, dy), s.what, who), label: s.label, required: s.required };
  });

const isFreeOn = (at: AtHand, page: Page, made: HandSpot[], but: string[] = []) => {
  const taken = takenOn(at, page, but);
  return made.every((s) => isFree(rectOf(s), taken, page.size));
};

/** Move a place to where it was drawn, and the date beside it along. */
export function place(at: AtHand, spot: Held, rect: Rect) {
  const page = pageOf(at, spot);
  const [l, b, r, t] = rectOf(spot);
  const isMoved = r - l === rect[2] - rect[0] && t - b === rect[3] - rect[1];
  const date = isMoved ? withDate(at, spot)[1] : undefined;
  const along = date && { ...plain(date), rect: moveBy(rectOf(date), rect[0] - l, rect[1] - b) };
  const goes = along && page && isFreeOn(at, page, [along], [spot.id, along.id]);
  const isFreeAlone = !page || isFree(rect, takenOn(at, page, [spot.id]), page.size);
  if (date && !goes && !isFreeAlone) return; // it would come to lie on its own date
  at.keep(spot.document, [{ ...plain(spot), rect }, ...(goes ? [along] : [])]);
}

export const change = (at: AtHand, spot: Held, said: Partial<HandSpot>) => at.keep(spot.document, [{ ...plain(spot), ...said }]);

/** Move a place by so many points, or with `sizes` its lower right corner; not onto another one. */
export function nudge(at: AtHand, spot: Held, dx: number, dy: number, sizes: boolean) {
  const page = pageOf(at, spot);
  if (!page) return;
  const [l, b, r, t] = rectOf(spot);
  const rect: Rect = sizes
    ? [l, Math.max(0, Math.min(t - LEAST, b + dy)), Math.min(page.size.width, Math.max(l + LEAST, r + dx)), t]
    : moved([l, b, r, t], dx, dy, page.size);
  const together = withDate(at, spot).map((s) => s.id);
  if (isFree(rect, takenOn(at, page, sizes ? [spot.id] : together), page.size)) place(at, spot, rect);
}

/** The same place on other pages of the paper, wherever it is free there. */
export function onPages(at: AtHand, spot: Held, numbers: number[]) {
  const wanted = at.pages.filter(
    (p) => p.document.id === spot.document && !p.continuation && p.number !== spot.page && numbers.includes(p.number),
  );
  const made = wanted.map((p) => ({ page: p, spots: alike(withDate(at, spot), p.number, spot.who, [0, 0]) }));
  const free = made.filter((m) => isFreeOn(at, m.page, m.spots));
  if (free.length > 0)
    at.keep(
      spot.document,
      free.flatMap((m) => m.spots),
    );
  const left = wanted.length - free.length;
  const said = `Put on ${some(free.length, 'more page')}`;
  if (left === 0) notify(`${said}.`);
  else notify(`${said}; on ${some(left, 'page')} something is in the way.`, { wrong: true });
}

/** The same for whoever comes next, below or in the nearest free place. */
export function forNext(at: AtHand, spot: Held) {
  const who = nextOf(spot.who, at.people);
  const page = pageOf(at, spot);
  if (!who || !page) return;
  const [l, b, r, t] = rectOf(spot);
  const below: Rect = [l, b - (t - b) - 6, r, b - 6];
  const rect = freeNear(below[1] >= 0 ? below : rectOf(spot), takenOn(at, page), page.size);
  if (!rect) return notify(NO_ROOM, { wrong: true });
  const both = alike(withDate(at, spot), spot.page, who, [rect[0] - l, rect[1] - b]);
  const made = isFreeOn(at, page, both) ? both : both.slice(0, 1);
  at.keep(spot.document, made);
  at.choose({ document: spot.document, id: made[0]!.id });
  at.setWho(who);
  announce(`${kindOf(spot.what).name} for ${at.nameOf(who)} on page ${spot.page}`);
}

/** The place before or behind one, over all papers; gives it. */
export function beside({ pages, spots }: AtHand, from: { document: string; id: string } | null, by: number): Held | undefined {
  const order = pages.flatMap((p) =>
    p.continuation ? [] : spots.filter((s) => s.document === p.document.id && s.page === p.number).sort(inOrder),
  );
  const at = order.findIndex((s) => s.document === from?.document && s.id === from.id);
  if (at < 0) return by > 0 ? order[0] : order.at(-1);
  return order[(at + by + order.length) % order.length];
}
