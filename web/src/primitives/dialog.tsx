/** A dialog in our look over Radix: a heading, a way out in its corner, and the focus back where it was. */
import { X } from 'lucide-react';
import { Dialog as Radix } from 'radix-ui';
import type { ReactNode } from 'react';
import { returnFocus } from './focus-kept';

/** On closing, the focus goes back to what opened it, which need not be a button of its own. */
export const givesBack = {
  onCloseAutoFocus: (e: Event) => {
    e.preventDefault();
    returnFocus();
  },
};

export function Dialog({
  open,
  onOpenChange,
  title,
  children,
  width = 520,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  children: ReactNode;
  width?: number;
}) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-veil" />
        <Radix.Content
          aria-describedby={undefined}
          {...givesBack}
          style={{ width }}
          className="fixed left-1/2 top-[12vh] z-50 max-h-[76vh] max-w-[94vw] -translate-x-1/2 overflow-auto rounded-md border border-ink-3 bg-sheet p-5 shadow-xl max-[620px]:top-[4vh] max-[620px]:max-h-[92vh]"
        >
          <div className="mb-3 flex items-start gap-3">
            <Radix.Title className="min-w-0 flex-1 font-serif text-lg font-semibold">{title}</Radix.Title>
            <Radix.Close
              aria-label="Close"
              className="moves -mr-2 -mt-1 grid h-9 w-9 shrink-0 place-items-center rounded-md text-ink-2 hover:bg-blotter"
            >
              <X size={17} />
            </Radix.Close>
          </div>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
