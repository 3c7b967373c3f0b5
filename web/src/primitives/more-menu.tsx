/** What else can be done with something, behind three dots. */
import { Ellipsis } from 'lucide-react';
import { DropdownMenu as Menu } from 'radix-ui';
import type { ReactNode } from 'react';

/** `width` in pixels. */
export function MoreMenu({ label, width, children }: { label: string; width: number; children: ReactNode }) {
  return (
    <Menu.Root>
      <Menu.Trigger aria-label={label} title={label} className="moves rounded-md px-1.5 py-1.5 text-green-2 hover:bg-blotter">
        <Ellipsis size={16} />
      </Menu.Trigger>
      <Menu.Portal>
        <Menu.Content
          align="end"
          sideOffset={4}
          style={{ width }}
          className="z-50 rounded-md border border-blotter-3 bg-paper py-1.5 text-sm shadow-lg"
        >
          {children}
        </Menu.Content>
      </Menu.Portal>
    </Menu.Root>
  );
}
