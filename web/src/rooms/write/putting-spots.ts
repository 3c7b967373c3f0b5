/** What can be done with places to sign: put where there is room, moved, sized, put on further pages, given on, taken off. */
import type { HandSpot } from '../../api/client';
import { announce, notify } from '../../primitives/notices';
import { some } from '../../primitives/words';
import type { Page } from '../assembly/pages';
import { collide, moved, type Rect } from '../forms/placing';
import { plain, type Held } from './keeping-spots';
import { around, dateBeside, freeNear, inOrder, kindOf, nextOf, rectOf, type What } from './spots';

/** What is at hand while places are put. */
export interface AtHand {
  pages: Page[];
  spots: Held[];
  people: readonly { key: string }[];
  nameOf: (key: string) => string;
  what: What | null;
  who: string;
  dated: boolean;
  keep: (document: string, made: HandSpot[]) => void;
  choose: (spot: { document: string; id: string } | null) => void;
  arm: (what: What | null) => void;
  setWho: (who: string) => void;
}

const NO_ROOM = 'There is no free place on this page.';
const LEAST = 10;

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
export const takenOn = ({ spots }: Pick<AtHand, 'spots'>, page: Page, but = ''): Rect[] => [
  ...page.blanks.map((b) => b.rect as Rect),
  ...spots.filter((s) => s.document === page.document.id && s.page === page.number && s.id !== but).map(rectOf),
];

/** Put what is armed into a rectangle; beside a signature or initials its date, where that is wanted and there is room. */
export function add(at: AtHand, page: Page, rect: Rect) {
  const { what, who, dated } = at;
  if (!what || !who) return;
  const made = [fresh(page.number, rect, what, who)];
  const mayBeDated = dated && (what === 'signature' || what === 'initials');
  const beside = mayBeDated ? dateBeside(rect, takenOn(at, page), page.size) : null;
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

export const change = (at: AtHand, spot: Held, said: Partial<HandSpot>) => at.keep(spot.document, [{ ...plain(spot), ...said }]);

/** Move a place by so many points, or with `sizes` its lower right corner; not onto another one. */
export function nudge(at: AtHand, spot: Held, dx: number, dy: number, sizes: boolean) {
  const page = pageOf(at, spot);
  if (!page) return;
  const [l, b, r, t] = rectOf(spot);
  const rect: Rect = sizes
    ? [l, Math.max(0, Math.min(t - LEAST, b + dy)), Math.min(page.size.width, Math.max(l + LEAST, r + dx)), t]
    : moved([l, b, r, t], dx, dy, page.size);
  if (!takenOn(at, page, spot.id).some((o) => collide(o, rect))) change(at, spot, { rect });
}

/** The same place on other pages of the paper, wherever it is free there. */
export function onPages(at: AtHand, spot: Held, numbers: number[]) {
  const wanted = at.pages.filter(
    (p) => p.document.id === spot.document && !p.continuation && p.number !== spot.page && numbers.includes(p.number),
  );
  const free = wanted.filter((p) => !takenOn(at, p).some((o) => collide(o, rectOf(spot))));
  if (free.length > 0) {
    const like = { label: spot.label, required: spot.required };
    at.keep(
      spot.document,
      free.map((p) => ({ ...fresh(p.number, rectOf(spot), spot.what, spot.who), ...like })),
    );
  }
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
  const made = { ...fresh(spot.page, rect, spot.what, who), label: spot.label, required: spot.required };
  at.keep(spot.document, [made]);
  at.choose({ document: spot.document, id: made.id });
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
