/**
 * A press acts on what it was aimed at. An answer puts the next question where it stood, a row that is taken out the next row:
 * the second click of a double click, and a key that is held a moment too long, would act there on what nobody has read. They
 * find nothing. One rule for every screen; how fast a double click is and when a key repeats are the system's own settings.
 */

/** Keys that lead somewhere and change nothing: held, they go on. */
const LEADS = /^(Tab|Arrow(Up|Down|Left|Right)|Page(Up|Down)|Home|End)$/;
const PRESSED = 'button, a, input, select, textarea, [role], [tabindex]';

/** What a press on `target` is for: a label's is for its control. */
function aimOf(target: EventTarget | null): Element | null {
  if (!(target instanceof Element)) return null;
  return target.closest('label')?.control ?? target.closest(PRESSED) ?? target;
}

function swallow(e: Event): void {
  e.preventDefault();
  e.stopImmediatePropagation();
}

/** Watch every press in this window; gives what ends it. */
export function watchAim(): () => void {
  let clicked: Element | null = null;
  let keyed: EventTarget | null = null;
  const onClick = (e: MouseEvent) => {
    const aim = aimOf(e.target);
    if (e.detail > 1 && aim !== clicked) swallow(e);
    else clicked = aim;
  };
  const onKey = (e: KeyboardEvent) => {
    if (!e.repeat) keyed = e.target;
    else if (e.target !== keyed && !LEADS.test(e.key)) swallow(e);
  };
  window.addEventListener('click', onClick, true);
  window.addEventListener('keydown', onKey, true);
  return () => {
    window.removeEventListener('click', onClick, true);
    window.removeEventListener('keydown', onKey, true);
  };
}
