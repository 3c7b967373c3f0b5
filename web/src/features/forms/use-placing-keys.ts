/** The keys of placing: tools by their letter, the blank in hand nudged, confirmed, copied, removed. */
import { useScreenKeys } from '../../primitives/screen-keys';
import { instead } from './placing';
import type { Tool } from './paper-sheet';
import type { usePlacing } from './use-placing';

export const TOOLS: [Tool, string, string][] = [
  ['hand', 'Select', 'v'],
  ['text', 'Text', 't'],
  ['box', 'Box', 'b'],
  ['sign', 'Sign spot', 's'],
];
const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

type Placing = ReturnType<typeof usePlacing>;

/** What a key does to the blank in hand; whether it meant anything. */
function keyOnChosen(e: KeyboardEvent, placing: Placing, setTool: (tool: Tool) => void): boolean {
  const { chosen } = placing;
  if (!chosen) return false;
  const [dx, dy] = ARROWS[e.key] ?? [0, 0];
  const by = e.shiftKey ? 10 : 1;
  const isOnButton = (e.target as HTMLElement).closest('button:not([data-placed]), a') !== null;
  if (dx || dy) placing.nudge(chosen, dx * by, dy * by);
  else if (e.key === 'Enter' && !isOnButton) placing.confirm(chosen);
  else if (/^[1-4]$/.test(e.key)) {
    const other = chosen.others[Number(e.key) - 1];
    if (other) placing.confirm(chosen, instead(chosen, other));
  } else if (e.key === 'Delete' || e.key === 'Backspace') placing.remove(chosen);
  else if (e.key === 'Escape') {
    setTool('hand');
    placing.setChosen(null);
  } else return false;
  return true;
}

export function usePlacingKeys(placing: Placing, setTool: (tool: Tool) => void) {
  useScreenKeys((e) => {
    const isTyping = (e.target as HTMLElement).closest('input:not([type=checkbox]), select, textarea, [role=menu]') !== null;
    if (isTyping || e.metaKey) return;
    if (e.ctrlKey) {
      if (e.key !== 'd' || !placing.chosen) return;
      e.preventDefault();
      return placing.copy(placing.chosen);
    }
    const named = TOOLS.find(([, , key]) => key === e.key);
    if (named) return setTool(named[0]);
    if (keyOnChosen(e, placing, setTool)) e.preventDefault();
  });
}
