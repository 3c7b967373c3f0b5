/** Finding a contact while typing. */
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useEffect, useId, useState } from 'react';
import type { Contact } from '../../api/client';
import { contactsQuery } from '../../api/queries';
import { KINDS, type Kind } from './kinds';

interface Props {
  label: string;
  kind?: Kind | '';
  autoFocus?: boolean;
  onPick: (contact: Contact) => void;
}

export function ContactFinder({ label, kind = '', autoFocus = false, onPick }: Props) {
  const [text, setText] = useState('');
  const [open, setOpen] = useState(autoFocus);
  const [at, setAt] = useState(0);
  const find = useDeferredValue(text.trim());
  const { data = [], isPlaceholderData } = useQuery({ ...contactsQuery({ find, kind }), enabled: open });
  const fresh = find === text.trim() && !isPlaceholderData;
  const [eager, setEager] = useState(false); // Enter came before the answer: what is found first is meant
  const id = useId();
  const found = open ? data.slice(0, 8) : [];
  const pick = (contact: Contact) => {
    onPick(contact);
    setText('');
    setOpen(false);
  };
  const first = found[0];
  useEffect(() => {
    if (eager && fresh && first) pick(first);
    if (fresh) setEager(false);
  }, [eager, fresh, first]); // eslint-disable-line react-hooks/exhaustive-deps -- `pick` is made anew at each drawing
  return (
    <div className="relative">
      <input
        className="field w-full"
        role="combobox"
        aria-label={label}
        aria-expanded={found.length > 0}
        aria-controls={id}
        aria-activedescendant={found[at] ? `${id}-${at}` : undefined}
        placeholder={label}
        value={text}
        autoFocus={autoFocus}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
          setOpen(true);
        }}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onKeyDown={(e) => {
          if (e.key === 'Escape' && open) setOpen(false);
          else if (e.key === 'ArrowDown') setAt((n) => Math.min(n + 1, found.length - 1));
          else if (e.key === 'ArrowUp') setAt((n) => Math.max(n - 1, 0));
          else if (e.key === 'Enter' && !fresh) setEager(true);
          else if (e.key === 'Enter' && found[at]) pick(found[at]);
          else return;
          e.preventDefault();
        }}
      />
      <ul
        id={id}
        role="listbox"
        aria-label="Contacts found"
        className={found.length ? 'absolute left-0 z-20 mt-1 w-[340px] rounded-md border border-ink-3 bg-paper shadow-lg' : ''}
      >
        {found.map((c, n) => (
          <li
            key={c.id}
            id={`${id}-${n}`}
            role="option"
            aria-selected={n === at}
            onMouseEnter={() => setAt(n)}
            onMouseDown={(e) => e.preventDefault()} // the field keeps the focus, and the list stays until it is clicked
            onClick={() => pick(c)}
            className={`cursor-pointer border-b border-hair px-3 py-1.5 text-sm last:border-0 ${n === at ? 'bg-green-wash' : ''}`}
          >
            <span className="block truncate font-medium">{c.name}</span>
            <span className="block truncate text-xs text-ink-2">
              {[c.fields_said.company !== c.name && c.fields_said.company, c.fields_said.email, !kind && KINDS[c.kind]]
                .filter(Boolean)
                .join(' · ')}
            </span>
          </li>
        ))}
      </ul>
      {open && find && data.length === 0 && <p className="mt-1 text-xs text-ink-2">No contact has “{find}”.</p>}
    </div>
  );
}
