/** A dialog in our look over Radix. */
import { Dialog as Radix } from 'radix-ui';
import type { ReactNode } from 'react';

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
        <Radix.Overlay className="fixed inset-0 z-40 bg-[#18202f59]" />
        <Radix.Content
          aria-describedby={undefined}
          style={{ width }}
          className="fixed left-1/2 top-[12vh] z-50 max-h-[76vh] max-w-[94vw] -translate-x-1/2 overflow-auto rounded-md border border-ink-3 bg-sheet p-5 shadow-xl"
        >
          <Radix.Title className="mb-3 font-serif text-lg font-semibold">{title}</Radix.Title>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
