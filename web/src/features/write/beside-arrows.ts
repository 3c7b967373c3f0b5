/** Up and down among what is offered below each other. */
import type { KeyboardEvent } from 'react';

/** `marked` is the attribute that those have among which one goes. */
export const arrowsAmong = (marked: string) => (e: KeyboardEvent<HTMLElement>) => {
  const { currentTarget: here, key } = e;
  const beside = key === 'ArrowDown' ? here.nextElementSibling : key === 'ArrowUp' ? here.previousElementSibling : null;
  if (!(beside instanceof HTMLElement) || !beside.hasAttribute(marked)) return;
  e.preventDefault();
  e.stopPropagation();
  beside.focus();
};
