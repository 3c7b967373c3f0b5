/** Where what floats stands: at the end of the screen's main part, and not outside of everything. */
import { useState } from 'react';

/**
 * Whether it is open, for its root, and the place for its portal.  The place is found as it opens: before, it may not
 * be there yet; and what is put elsewhere while it is open closes.
 */
export function useAfloat() {
  const [open, setOpen] = useState(false);
  const [container, setContainer] = useState<HTMLElement>();
  const onOpenChange = (to: boolean) => {
    if (to) setContainer(document.getElementById('main') ?? undefined);
    setOpen(to);
  };
  return { root: { open, onOpenChange }, container };
}
