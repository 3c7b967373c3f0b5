/** One contact: its fields, its doubles, and for a client the record. */
import { useState } from 'react';
import { useChoices } from '../../api/choices';
import type { ContactKind } from '../../api/client';
import { Button } from '../../primitives/button';
import { moment } from '../../primitives/format';
import { ClientRecord } from './client-record';
import { ContactHistory } from './contact-history';
import { fieldsOf } from './kinds';
import { useContact, type ContactProps } from './use-contact';

type Writing = ReturnType<typeof useContact>;

export function ContactCard(props: ContactProps) {
  const { contact, onSaved } = props;
  const writing = useContact(props);
  const { contact_kinds } = useChoices();
  const [history, setHistory] = useState(false);
  const problem = writing.save.error as (Error & { mend?: string }) | null;
  return (
    <div className="px-6 pb-10 pt-4">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          writing.save.mutate();
        }}
      >
        <div className="mb-3 flex items-center gap-3">
          <h2 className="min-w-0 truncate font-serif text-[1.125rem] font-semibold">{contact?.name ?? 'New contact'}</h2>
          <select
            className="field ml-auto py-1! text-sm"
            aria-label="Kind"
            value={writing.kind}
            onChange={(e) => writing.put({ kind: e.target.value as ContactKind })}
          >
            {contact_kinds.map((k) => (
              <option key={k.kind} value={k.kind}>
                {k.label}
              </option>
            ))}
          </select>
        </div>
        <ToLookAt contact={contact} writing={writing} />
        {writing.isRestored && <p className="mb-2 text-sm text-ochre">Unsaved text from earlier.</p>}
        <Fields isNew={!contact} writing={writing} />
        {problem && (
          <p role="alert" className="mt-2 text-sm text-wax">
            {problem.message} {problem.mend}
          </p>
        )}
        <Doing contact={contact} writing={writing} showHistory={() => setHistory(true)} />
      </form>
      {contact && history && (
        <ContactHistory
          contact={contact}
          onClose={() => setHistory(false)}
          onUndone={(saved) => {
            void writing.taken(saved);
            onSaved(saved);
          }}
        />
      )}
      {contact?.kind === 'client' && <ClientRecord contact={contact} />}
    </div>
  );
}

interface PartProps {
  contact: ContactProps['contact'];
  writing: Writing;
}

/** What stands against relying on it: it is kept twice, or a way to reach it was changed lately. */
function ToLookAt({ contact, writing }: PartProps) {
  return (
    <>
      {contact?.twins.map((t) => (
        <p key={t.id} className="mb-3 flex items-center gap-3 border border-ochre bg-ochre-wash px-3 py-1.5 text-sm">
          <span>
            {t.name} is kept too, with {t.why}.
          </span>
          {contact.may_merge && (
            <Button className="ml-auto py-0.5!" onClick={() => writing.merge.mutate(t.id)}>
              Merge contacts
            </Button>
          )}
        </p>
      ))}
      {contact?.recent.map((r) => (
        <p key={r.field} className="mb-3 border border-ochre bg-ochre-wash px-3 py-1.5 text-sm">
          {r.label} was changed by {r.by}, {moment(r.at)}
          {r.before ? `; before it was ${r.before}` : ''}. Ask before money or keys follow it.
        </p>
      ))}
    </>
  );
}

function Fields({ isNew, writing: { kind, said, put } }: { isNew: boolean; writing: Writing }) {
  const choices = useChoices();
  const say = (name: string, text: string) => put({ said: { ...said, [name]: text } });
  return (
    <div className="grid grid-cols-12 gap-x-2 gap-y-2">
      {fieldsOf(choices, kind, said).map(({ field: name, label, width }) => (
        <label
          key={name}
          className={`block text-xs text-ink-2 ${width < 12 ? 'max-[620px]:col-span-6!' : ''}`}
          style={{ gridColumn: `span ${width}` }}
        >
          {label}
          <input
            className="field block w-full text-base text-ink"
            value={said[name] ?? ''}
            autoFocus={isNew && name === 'given'}
            onChange={(e) => say(name, e.target.value)}
          />
        </label>
      ))}
      <label className="col-span-12 block text-xs text-ink-2">
        Notes
        <textarea
          className="field block w-full text-base text-ink"
          rows={said.notes ? 2 : 1}
          value={said.notes ?? ''}
          onChange={(e) => say('notes', e.target.value)}
        />
      </label>
    </div>
  );
}

function Doing({ contact, writing, showHistory }: PartProps & { showHistory: () => void }) {
  const { isChanged, shared, put, save, merge, drop } = writing;
  return (
    <div className="mt-3 flex items-center gap-3 text-sm">
      <Button look={isChanged ? 'act' : 'plain'} type="submit" disabled={!isChanged || save.isPending}>
        {contact ? 'Save' : 'Keep it'}
      </Button>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={shared}
          disabled={contact && !contact.may_merge}
          onChange={(e) => put({ shared: e.target.checked })}
        />
        Shared in the brokerage
      </label>
      {contact && (
        <span className="ml-auto flex gap-2">
          <Button look="words" onClick={showHistory}>
            History
          </Button>
          {contact.merged && contact.may_merge && (
            <Button look="words" onClick={() => merge.mutate(null)}>
              Undo merge
            </Button>
          )}
          {contact.may_merge && (
            <Button look="words" aria-label={`Remove ${contact.name}`} onClick={() => drop.mutate()}>
              Remove
            </Button>
          )}
        </span>
      )}
    </div>
  );
}
