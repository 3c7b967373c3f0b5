/** One line of a menu in our look, with a note below it where one helps. */
import { DropdownMenu as Menu } from 'radix-ui';

export const MenuItem = ({ run, note, children }: { run: () => void; note?: string; children: string }) => (
  <Menu.Item onSelect={run} className="cursor-pointer px-4 py-1.5 outline-none data-highlighted:bg-green-wash">
    {children}
    {note && <span className="block text-xs text-ink-2">{note}</span>}
  </Menu.Item>
);
