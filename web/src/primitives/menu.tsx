/** Menus in our look over Radix: what is behind them stays as it is, and can be pressed. */
import { Check, Ellipsis } from 'lucide-react';
import { DropdownMenu as Radix } from 'radix-ui';
import type { ReactNode } from 'react';
import { useAfloat } from './use-afloat';

interface MenuProps {
  /** The button that opens it. */
  trigger: ReactNode;
  /** In pixels. */
  width: number;
  align?: 'start' | 'end';
  children: ReactNode;
}

export function Menu({ trigger, width, align = 'end', children }: MenuProps) {
  const { root, container } = useAfloat();
  return (
    <Radix.Root modal={false} {...root}>
      <Radix.Trigger asChild>{trigger}</Radix.Trigger>
      <Radix.Portal container={container}>
        <Radix.Content
          align={align}
          sideOffset={4}
          style={{ width }}
          className="z-50 max-w-[94vw] rounded-md border border-blotter-3 bg-paper py-1.5 text-sm shadow-lg"
        >
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

interface ItemProps {
  run: () => void;
  note?: string;
  children: ReactNode;
}

/** One line of a menu, with a note below it where one helps. */
export const MenuItem = ({ run, note, children }: ItemProps) => (
  <Radix.Item onSelect={run} className="cursor-pointer px-4 py-1.5 outline-none data-highlighted:bg-green-wash">
    {children}
    {note && <span className="block text-xs text-ink-2">{note}</span>}
  </Radix.Item>
);

/** What else can be done with something, behind three dots. */
export const MoreMenu = ({ label, width, children }: { label: string; width: number; children: ReactNode }) => (
  <Menu
    width={width}
    trigger={
      <button
        type="button"
        aria-label={label}
        title={label}
        className="moves grid h-7 w-7 place-items-center rounded-md text-green-2 hover:bg-blotter"
      >
        <Ellipsis size={16} />
      </button>
    }
  >
    {children}
  </Menu>
);

interface CheckProps {
  checked: boolean;
  turn: () => void;
  note?: string;
  children: ReactNode;
}

/** One of several that can be chosen together: the menu stays open. */
export const MenuCheck = ({ checked, turn, note, children }: CheckProps) => (
  <Radix.CheckboxItem
    checked={checked}
    onCheckedChange={turn}
    onSelect={(e) => e.preventDefault()}
    className="flex cursor-pointer items-baseline gap-2 px-3 py-1.5 outline-none data-highlighted:bg-green-wash"
  >
    <span className="w-4 shrink-0">
      <Radix.ItemIndicator>
        <Check size={14} />
      </Radix.ItemIndicator>
    </span>
    <span className="min-w-0 flex-1">{children}</span>
    {note && <span className="shrink-0 text-xs text-ink-2">{note}</span>}
  </Radix.CheckboxItem>
);
