/**
 * Focus is never lost: when what has it goes away (a row is taken out, a button has done its work), it goes to what stands in its
 * place, or else to the nearest thing around it that is still there. One rule for every screen; a screen that knows better focuses
 * what it means itself, and this finds nothing to do.
 */
import { useEffect } from 'react';

const TABBABLE =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), [tabindex]:not([tabindex="-1"])';

const tabbablesIn = (node: Element) => [...node.querySelectorAll<HTMLElement>(TABBABLE)];
const isSeen = (node: HTMLElement) => node.getClientRects().length > 0;
/** Fields take keys that were meant for the screen, and bring up a phone's keyboard: nobody is put into one unasked. */
const mayHave = (node: HTMLElement) =>
  isSeen(node) && !node.matches('input:not([type=checkbox], [type=radio]), select, textarea');

/** An element around the one with the focus, and what stood beside it. */
interface Level {
  node: Element;
  next: Element | null;
  before: Element | null;
}

/** The way from what has the focus up to `root`. */
function wayUp(from: Element, root: Element): Level[] {
  const way: Level[] = [];
  for (let node: Element | null = from; node && node !== root; node = node.parentElement) {
    way.push({ node, next: node.nextElementSibling, before: node.previousElementSibling });
  }
  return way;
}

/** In `beside`, the control that does what the lost one did in its own row: the one at the same place. */
function counterpart(lost: Level, focused: Element, beside: Element | null): HTMLElement | undefined {
  if (!beside?.isConnected) return undefined;
  const at = tabbablesIn(lost.node).indexOf(focused as HTMLElement);
  const there = beside.matches(TABBABLE) ? [beside as HTMLElement] : tabbablesIn(beside);
  const same = there[at];
  const isAlike = same?.tagName === focused.tagName && isSeen(same);
  return isAlike ? same : there.find(mayHave);
}

/** Where the focus goes from a way whose foot is gone; nothing where all of it is gone. */
function heir(way: Level[]): HTMLElement | undefined {
  const focused = way[0]?.node;
  if (!focused) return undefined;
  for (const level of way) {
    if (level.node.isConnected) {
      // So far up everything is another screen: its work, past the header.
      if (level.node.matches('main')) return document.getElementById('work') ?? (level.node as HTMLElement);
      const inside = tabbablesIn(level.node).find(mayHave);
      if (inside) return inside;
    }
    const beside = counterpart(level, focused, level.next) ?? counterpart(level, focused, level.before);
    if (beside) return beside;
  }
  return undefined;
}

/** What had the focus last, and what stood around it; kept while a dialog, which stands outside, has it. */
let way: Level[] = [];

/** The button of the menu that an element was in: the menu is gone as soon as it has done its work. */
function menuButton(of: Element | undefined): HTMLElement | null {
  const name = of?.closest('[role="menu"]')?.getAttribute('aria-labelledby');
  return name ? document.getElementById(name) : null;
}

/** Give the focus back to what had it before a dialog was opened, or to what stands in its place. */
export function returnFocus(): void {
  const had = way[0]?.node;
  const opener = had instanceof HTMLElement && had.isConnected ? had : menuButton(had);
  (opener ?? heir(way))?.focus({ preventScroll: true });
}

/** Watch everything under `root`, an element's id. */
export function useFocusKept(root: string): void {
  useEffect(() => {
    const node = document.getElementById(root);
    if (!node) return;
    const remember = (e: FocusEvent) => {
      way = e.target instanceof Element ? wayUp(e.target, node) : [];
    };
    const isLost = () => document.activeElement === document.body || document.activeElement === null;
    const mend = () => {
      if (way.length === 0 || !isLost()) return;
      const gone = way[0]?.node;
      if (gone && (!gone.isConnected || gone.matches(':disabled')))
        (menuButton(gone) ?? heir(way))?.focus({ preventScroll: true });
    };
    // Whoever presses on nothing leaves on purpose, and is let go.
    const forget = (e: Event) => {
      if (e.target instanceof Element && !e.target.closest(TABBABLE)) way = [];
    };
    let asked = 0;
    const watch = new MutationObserver(() => {
      cancelAnimationFrame(asked);
      asked = requestAnimationFrame(mend); // after the screen has had its own say
    });
    node.addEventListener('focusin', remember);
    node.addEventListener('pointerdown', forget, true);
    watch.observe(node, { childList: true, subtree: true, attributes: true, attributeFilter: ['disabled'] });
    return () => {
      node.removeEventListener('focusin', remember);
      node.removeEventListener('pointerdown', forget, true);
      watch.disconnect();
      way = [];
    };
  }, [root]);
}
