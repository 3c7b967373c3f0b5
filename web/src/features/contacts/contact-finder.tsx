/** Finding a contact while typing. */
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useChoices } from '../../api/choices';
import type { Contact, ContactKind } from '../../api/client';
import { contactsQuery } from '../../api/queries';
import { Finder } from '../../primitives/finder';
import { kindLabel } from './kinds';

interface Props {
  label: string;
  kind?: ContactKind | '';
  autoFocus?: boolean;
  onPick: (contact: Contact) => void;
}

export function ContactFinder({ label, kind = '', autoFocus = false, onPick }: Props) {
  const choices = useChoices();
  const [text, setText] = useState('');
  const [open, setOpen] = useState(autoFocus);
  const find = useDeferredValue(text.trim());
  const { data = [], isPlaceholderData, isPending } = useQuery({ ...contactsQuery({ find, kind }), enabled: open });
  return (
    <div>
      <Finder
        label={label}
        placeholder={label}
        listLabel="Contacts found"
        text={text}
        onText={setText}
        found={data.slice(0, 8)}
        fresh={find === text.trim() && !isPlaceholderData && !isPending}
        keyOf={(c) => c.id}
        onOpen={setOpen}
        autoFocus={autoFocus}
        listWidth="left-0 w-[340px]"
        onPick={(contact) => {
          setText('');
          onPick(contact);
        }}
      >
        {(c) => (
          <span className="text-sm">
            <span className="block truncate font-medium">{c.name}</span>
            <span className="block truncate text-xs text-ink-2">
              {[
                c.fields_said.company !== c.name && c.fields_said.company,
                c.fields_said.email,
                !kind && kindLabel(choices, c.kind),
              ]
                .filter(Boolean)
                .join(' · ')}
            </span>
          </span>
        )}
      </Finder>
      {open && find && !isPending && data.length === 0 && <p className="mt-1 text-xs text-ink-2">No contact has “{find}”.</p>}
    </div>
  );
}
