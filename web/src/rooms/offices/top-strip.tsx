/** The strip above everything: the name, Today, finding, and who one is. */
import { Link, useNavigate } from '@tanstack/react-router';
import { CircleUser, Search } from 'lucide-react';
import { DropdownMenu as Menu } from 'radix-ui';
import { useState } from 'react';
import { client, type Session } from '../../api/client';
import { MenuItem } from '../../primitives/menu-item';
import { Wordmark } from '../../primitives/wordmark';
import { Palette } from '../today/palette';

export function TopStrip({ session }: { session: Session }) {
  const [finding, setFinding] = useState(false);
  const navigate = useNavigate();
  const leave = async () => {
    await client.DELETE('/api/session');
    location.assign('/'); // a fresh page keeps nothing of this user's
  };
  return (
    <div className="flex h-11 shrink-0 items-center gap-5 border-b border-blotter-3 bg-blotter px-5 max-[900px]:gap-3 max-[900px]:px-3">
      <Link to="/" aria-label="Good Quill, Today" className="rounded-sm">
        <Wordmark />
      </Link>
      <nav aria-label="Places" className="flex min-w-0 gap-4 overflow-x-auto text-sm font-medium">
        {(
          [
            ['/', 'Today'],
            ['/duties', 'Duties'],
            ['/property', 'Property'],
            ['/contacts', 'Contacts'],
            ['/templates', 'Templates'],
            ['/forms', 'Forms'],
          ] as const
        ).map(([to, label]) => (
          <Link
            key={to}
            to={to}
            activeOptions={{ exact: to === '/' }}
            className="flex min-h-11 items-center rounded-sm px-0.5 text-ink-2 underline-offset-[5px] hover:text-ink [&.active]:text-ink [&.active]:underline"
          >
            {label}
          </Link>
        ))}
      </nav>
      <button
        type="button"
        onClick={() => setFinding(true)}
        aria-label="Find anything"
        className="moves ml-auto flex shrink-0 items-center gap-6 rounded-md border border-blotter-3 bg-sheet px-3 py-1 text-sm text-ink-2 hover:bg-paper"
      >
        <Search size={16} className="min-[900px]:hidden" />
        <span className="max-[899px]:hidden">Find anything</span>
        <kbd className="font-sans text-xs text-ink-3 max-[899px]:hidden">Ctrl K</kbd>
      </button>
      <Menu.Root>
        <Menu.Trigger
          aria-label={session.name}
          className="max-w-[180px] shrink-0 truncate rounded-sm px-1.5 py-1 text-sm underline-offset-3 hover:underline"
        >
          <CircleUser size={18} className="min-[900px]:hidden" />
          <span className="max-[899px]:hidden">{session.name}</span>
        </Menu.Trigger>
        <Menu.Portal>
          <Menu.Content
            align="end"
            sideOffset={4}
            className="z-50 min-w-[220px] rounded-md border border-blotter-3 bg-paper py-2 text-sm shadow-lg"
          >
            <p className="px-4 pb-2 text-xs text-ink-2">
              {session.brokerage}, {session.office}
              <br />
              {session.role}
            </p>
            <MenuItem run={() => void navigate({ to: '/profile' })}>Profile</MenuItem>
            <MenuItem run={() => void leave()}>Sign out</MenuItem>
          </Menu.Content>
        </Menu.Portal>
      </Menu.Root>
      <Palette open={finding} onOpenChange={setFinding} />
    </div>
  );
}
