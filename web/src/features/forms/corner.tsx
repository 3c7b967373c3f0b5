/** The corner by which something placed on a page is sized; wider to the finger than to the eye. */
import type { PointerEvent } from 'react';

export const Corner = ({ grab }: { grab: (e: PointerEvent) => void }) => (
  <span
    data-corner=""
    onPointerDown={grab}
    className="absolute -bottom-1.5 -right-1.5 h-3 w-3 cursor-nwse-resize border border-green bg-paper after:absolute after:-inset-2"
  />
);
