/** The strip above everything: the name, Today, finding, and who one is. */
import { Link, useNavigate } from '@tanstack/react-router';
import { CircleUser, Search } from 'lucide-react';
import { useState } from 'react';
import { client, type Session } from '../../api/client';
import { Menu, MenuItem } from '../../primitives/menu';
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
    <header className="flex min-h-11 shrink-0 items-center gap-4 border-b border-blotter-3 bg-blotter px-5 max-[900px]:gap-3 max-[900px]:px-3">
      <Link to="/" aria-label="Good Quill, Today" className="rounded-sm">
        <Wordmark />
      </Link>
      <nav aria-label="Places" className="flex min-w-0 gap-3 overflow-x-auto text-sm font-medium">
        {(
          [
            ['/', 'Today'],
            ['/tasks', 'Tasks'],
            ['/property', 'Property'],
            ['/contacts', 'Contacts'],
            ['/templates', 'Templates'],
            ['/clauses', 'Clauses'],
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
        aria-keyshortcuts="Control+K"
        title="Find anything: Ctrl + K"
        className="moves ml-auto flex shrink-0 items-center gap-6 rounded-md border border-blotter-3 bg-sheet px-3 py-1 text-sm text-ink-2 hover:bg-paper"
      >
        <Search size={16} className="min-[900px]:hidden" />
        <span className="max-[899px]:sr-only">Find anything</span>
        <kbd aria-hidden="true" className="font-sans text-xs text-ink-3 max-[1399px]:hidden">
          Ctrl K
        </kbd>
      </button>
      <Menu
        width={220}
        trigger={
          <button
            type="button"
            className="grid min-h-8 max-w-[180px] shrink-0 place-items-center truncate rounded-sm px-1.5 text-sm underline-offset-3 hover:underline"
          >
            <CircleUser size={18} className="min-[900px]:hidden" />
            <span className="max-[899px]:sr-only">{session.name}</span>
          </button>
        }
      >
        <p className="px-4 pb-2 text-xs text-ink-2">
          {session.brokerage}, {session.office}
          <br />
          {session.role}
        </p>
        <MenuItem run={() => void navigate({ to: '/profile' })}>Profile</MenuItem>
        <MenuItem run={() => void leave()}>Sign out</MenuItem>
      </Menu>
      <Palette open={finding} onOpenChange={setFinding} />
    </header>
  );
}
