/** A sheet over the page, shown while it is there; the browser keeps the focus in it, and gives it back. */
import { useLayoutEffect, useRef, type ReactNode } from 'react';
import { Button } from '../primitives/button';

export function Sheet({ title, close, children }: { title: string; close: () => void; children: ReactNode }) {
  const dialog = useRef<HTMLDialogElement>(null);
  useLayoutEffect(() => {
    const shown = dialog.current;
    if (shown && !shown.open) shown.showModal();
    return () => shown?.close(); // while it is still in the page: only then the focus goes back
  }, []);
  return (
    <dialog
      ref={dialog}
      aria-labelledby="sheet-title"
      onCancel={(e) => {
        e.preventDefault();
        close();
      }}
      className="m-auto max-h-[94dvh] w-[560px] max-w-[calc(100vw-16px)] overflow-auto border border-ink-3 bg-sheet p-5 text-ink backdrop:bg-veil max-[619px]:mb-2"
    >
      <div className="mb-3 flex items-start gap-3">
        <h2 id="sheet-title" className="flex-1 font-serif text-lg font-semibold">
          {title}
        </h2>
        <Button look="words" onClick={close}>
          Close
        </Button>
      </div>
      {children}
    </dialog>
  );
}
