/** Contacts: found while typing, kept once, in and out as files; beside them the one in hand. */
import { useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useDeferredValue, useState } from 'react';
import { useChoices } from '../../api/choices';
import { upload, type Contact, type ContactKind } from '../../api/client';
import { useAction } from '../../api/use-action';
import { contactPartsQuery, contactQuery } from '../../api/queries';
import { FileLink } from '../../primitives/file-link';
import { Button } from '../../primitives/button';
import { FileButton } from '../../primitives/file-button';
import { notify, sayProblem } from '../../primitives/notices';
import { PageTitle } from '../../primitives/page-title';
import { some } from '../../primitives/format';
import { ContactCard } from './contact-card';
import { kindLabel } from './kinds';

const NEW = 'new';

export function ContactsScreen() {
  const { contact } = useSearch({ from: '/contacts' });
  const [find, setFind] = useState('');
  const [kind, setKind] = useState<ContactKind | ''>('');
  const sought = useDeferredValue(find.trim());
  const {
    data: parts,
    error,
    hasNextPage,
    fetchNextPage,
    isFetchingNextPage,
  } = useInfiniteQuery(contactPartsQuery({ find: sought, kind }));
  const data = parts?.pages.flat();
  const navigate = useNavigate();
  const show = (id: string | undefined) => void navigate({ to: '/contacts', search: { contact: id } });
  const listed = data?.find((c) => c.id === contact);
  const alone = useQuery({ ...contactQuery(contact ?? ''), enabled: Boolean(contact && contact !== NEW && data && !listed) });
  const inHand = listed ?? (contact && contact !== NEW ? alone.data : undefined);
  return (
    <div className="flex h-full flex-col">
      <Head find={find} setFind={setFind} kind={kind} setKind={setKind} onNew={() => show(NEW)} />
      <div className="grid min-h-0 flex-1 min-[900px]:grid-cols-[minmax(380px,5fr)_minmax(0,6fr)]">
        <div className={`min-h-0 overflow-auto pb-8 pl-6 pr-4 pt-3 max-[620px]:px-3 ${contact ? 'max-[899px]:hidden' : ''}`}>
          {error && (
            <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">
              Couldn’t load contacts. Nothing was lost. Try again.
            </p>
          )}
          {data?.length === 0 && (
            <p className="border border-hair bg-sheet px-6 py-10 text-center text-ink-2">
              {sought || kind
                ? 'No matching contacts.'
                : 'Keep people and firms you work with here. Import your address book, or add a contact.'}
            </p>
          )}
          <ul aria-label="Contacts">
            {data?.map((c) => (
              <Row key={c.id} contact={c} here={c.id === contact} show={() => show(c.id)} />
            ))}
          </ul>
          {hasNextPage && (
            <Button className="mt-3" disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
              {isFetchingNextPage ? 'Reading more …' : 'Show more'}
            </Button>
          )}
        </div>
        <div className={`min-h-0 overflow-auto border-blotter-3 min-[900px]:border-l ${contact ? '' : 'max-[899px]:hidden'}`}>
          <Button look="words" className="ml-5 mt-2 min-[900px]:hidden" onClick={() => show(undefined)}>
            All contacts
          </Button>
          {contact === NEW || inHand ? (
            <ContactCard
              key={contact}
              contact={inHand}
              kind={inHand?.kind ?? (kind || 'client')}
              onSaved={(c) => show(c.id)}
              onGone={() => show(undefined)}
            />
          ) : (
            <p className="p-6 text-ink-2">
              {alone.error ? 'This contact doesn’t exist, or you can’t see it.' : 'Choose a contact, or make a new one.'}
            </p>
          )}
        </div>
      </div>
    </div>
  );
}

interface HeadProps {
  find: string;
  setFind: (find: string) => void;
  kind: ContactKind | '';
  setKind: (kind: ContactKind | '') => void;
  onNew: () => void;
}

/** Finding, files in and out, and a new one. */
function Head({ find, setFind, kind, setKind, onNew }: HeadProps) {
  const { contact_kinds } = useChoices();
  const queries = useQueryClient();
  const takeIn = useAction({
    mutationFn: (file: File, key: string) => upload<{ added: number; known: number }>('/api/contacts/cards', file, key),
    onSuccess: ({ added, known }) => {
      notify(`${some(added, 'contact')} taken in${known ? `, ${known} were there already` : ''}.`);
      void queries.invalidateQueries({ queryKey: ['contacts'] });
    },
    onError: sayProblem,
  });
  const out = `/api/contacts/cards?find=${encodeURIComponent(find.trim())}&kind=${kind}`;
  return (
    <header className="flex min-h-[52px] shrink-0 flex-wrap items-center gap-3 border-b border-blotter-3 bg-sheet px-6 py-1.5 max-[620px]:px-3">
      <PageTitle of="Contacts" />
      <h1 className="mr-2 font-serif text-[1.0625rem] font-semibold">Contacts</h1>
      <input
        type="search"
        className="field w-[290px]"
        aria-label="Find a contact"
        placeholder="Name, company, e-mail or phone"
        value={find}
        onChange={(e) => setFind(e.target.value)}
      />
      <select
        className="field"
        aria-label="Kind of contact"
        value={kind}
        onChange={(e) => setKind(e.target.value as ContactKind | '')}
      >
        <option value="">Every kind</option>
        {contact_kinds.map((k) => (
          <option key={k.kind} value={k.kind}>
            {k.label}
          </option>
        ))}
      </select>
      <span className="ml-auto flex flex-wrap items-center gap-x-4 whitespace-nowrap text-sm max-[620px]:ml-0">
        <FileButton label="vCard or CSV file with contacts" accept=".vcf,.csv,text/vcard,text/csv" onFile={takeIn.mutate}>
          {takeIn.isPending ? 'Reading …' : 'Import a file'}
        </FileButton>
        <span className="flex gap-2 text-ink-2">
          Save as
          <FileLink className="font-medium text-green-2 hover:underline" href={out}>
            vCard
          </FileLink>
          <FileLink className="font-medium text-green-2 hover:underline" href={`${out}&as=csv`}>
            CSV
          </FileLink>
        </span>
        <Button look="act" onClick={onNew}>
          New contact
        </Button>
      </span>
    </header>
  );
}

function Row({ contact: c, here, show }: { contact: Contact; here: boolean; show: () => void }) {
  const choices = useChoices();
  const said = c.fields_said;
  return (
    <li
      className={`relative -mt-px grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 border px-3 py-1.5 ${here ? 'z-10 border-green bg-paper' : 'border-hair bg-paper hover:bg-sheet'}`}
    >
      <button
        type="button"
        aria-current={here}
        onClick={show}
        className="min-w-0 truncate text-left font-medium after:absolute after:inset-0"
      >
        {c.name}
      </button>
      <span className="text-right text-xs text-ink-2">{kindLabel(choices, c.kind)}</span>
      <span className="min-w-0 truncate text-xs text-ink-2">
        {[said.company !== c.name && said.company, said.email, said.phone].filter(Boolean).join(' · ') || 'no e-mail or phone'}
      </span>
      <span className="text-right text-xs">
        {c.twins.length > 0 ? (
          <span className="text-ochre">duplicate?</span>
        ) : (
          c.shared && <span className="text-ink-3">shared</span>
        )}
      </span>
    </li>
  );
}
