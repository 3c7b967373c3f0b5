/** The keys while places to sign are put: kinds by their letter; the place in hand moved, sized, given on, taken off. */
import { useScreenKeys } from '../../primitives/screen-keys';
import { KINDS } from './spots';
import type { Spots } from './use-spots';

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** What a key does to the place in hand; whether it meant anything. */
function onChosen(e: KeyboardEvent, spots: Spots): boolean {
  const { chosen } = spots;
  const arrow = ARROWS[e.key];
  if (!chosen) return false;
  if (arrow) {
    const by = e.shiftKey ? 10 : 1;
    spots.nudge(chosen, arrow[0] * by, arrow[1] * by, e.altKey);
  } else if (e.key === 'Delete' || e.key === 'Backspace') void spots.remove([chosen]);
  else if (e.key === 'a') spots.forNext(chosen);
  else return false;
  return true;
}

/** Let go of what is at hand, one thing after the other; at last of putting places. */
function letGo(spots: Spots) {
  if (spots.what) spots.arm(null);
  else if (spots.chosen) spots.choose(null);
  else spots.leave();
}

export function useSpotKeys(spots: Spots, show: (document: string, page: number) => void) {
  useScreenKeys((e) => {
    const target = e.target as HTMLElement;
    const isTyping = target.closest('input:not([type=checkbox]), select, textarea, [role=menu], [role=dialog]') !== null;
    if (isTyping || e.ctrlKey || e.metaKey) return;
    const kind = KINDS.find((k) => k.key === e.key);
    const isOnButton = target.closest('button:not([data-spot]), a, summary') !== null;
    if (kind) spots.arm(kind.what);
    else if (e.key === 'Enter' && spots.what && spots.here && !isOnButton) {
      const { width, height } = spots.here.size;
      spots.press(spots.here, [width / 2, height / 2]);
    } else if (e.key === '.' || e.key === ',') {
      const next = spots.go(e.key === '.' ? 1 : -1);
      if (next) show(next.document, next.page);
    } else if (e.key === 'Escape') letGo(spots);
    else if (!onChosen(e, spots)) return;
    e.preventDefault();
  }, spots.on);
}
