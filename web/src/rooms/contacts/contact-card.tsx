/** One contact: its fields, its doubles, and for a client the record. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got, once, type Contact } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { moment } from '../../primitives/words';
import { ClientRecord } from './client-record';
import { ContactHistory } from './contact-history';
import { fieldsOf, KINDS, type Kind } from './kinds';

interface Props {
  contact?: Contact;
  kind: Kind;
  onSaved: (contact: Contact) => void;
  onGone: () => void;
}

export function ContactCard({ contact, kind: first, onSaved, onGone }: Props) {
  const kept = useKept(`contact ${contact?.id ?? 'new'}`, {
    kind: contact?.kind ?? first,
    said: contact?.fields_said ?? ({} as Record<string, string>),
    shared: contact?.shared ?? false,
  });
  const { kind, said, shared } = kept.typed;
  const put = (part: Partial<typeof kept.typed>) => kept.set({ ...kept.typed, ...part });
  const setSaid = (said: Record<string, string>) => put({ said });
  const [history, setHistory] = useState(false);
  const queries = useQueryClient();
  const path = { contact: contact?.id ?? '' };
  const changed = !contact || kind !== contact.kind || shared !== contact.shared || differs(said, contact.fields_said);
  const taken = async (saved: Contact) => {
    kept.settle({ kind: saved.kind, said: saved.fields_said, shared: saved.shared });
    await queries.invalidateQueries({ queryKey: ['contacts'] });
  };
  const save = useAction({
    mutationFn: (_: void, key: string) => {
      const body = { kind, fields_said: said, shared, unless_known: false };
      return got(
        contact
          ? client.POST('/api/contacts/{contact}', { params: { path }, headers: once(key), body })
          : client.POST('/api/contacts', { headers: once(key), body }),
      );
    },
    onSuccess: async (saved) => {
      await taken(saved);
      onSaved(saved);
    },
  });
  const merge = useAction({
    mutationFn: (other: string | null, key: string) =>
      got(client.POST('/api/contacts/{contact}/merge', { params: { path }, headers: once(key), body: { other } })),
    onSuccess: async (saved, other) => {
      await taken(saved);
      notify(other ? `Kept as one: ${saved.name}.` : 'Two contacts again.');
    },
    onError: sayProblem,
  });
  const drop = useAction({
    mutationFn: () => got(client.DELETE('/api/contacts/{contact}', { params: { path } })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['contacts'] });
      const back = async () => {
        await got(client.POST('/api/contacts/{contact}/restore', { params: { path } }));
        await queries.invalidateQueries({ queryKey: ['contacts'] });
      };
      notify(`${contact?.name} is off the list.`, { action: { label: 'Undo', run: () => void back().catch(sayProblem) } });
      onGone();
    },
    onError: sayProblem,
  });
  const problem = save.error as (Error & { mend?: string }) | null;
  return (
    <div className="px-6 pb-10 pt-4">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          save.mutate();
        }}
      >
        <div className="mb-3 flex items-center gap-3">
          <h2 className="min-w-0 truncate font-serif text-[18px] font-semibold">{contact?.name ?? 'New contact'}</h2>
          <select
            className="field ml-auto py-1! text-sm"
            aria-label="Kind"
            value={kind}
            onChange={(e) => put({ kind: e.target.value as Kind })}
          >
            {Object.entries(KINDS).map(([k, label]) => (
              <option key={k} value={k}>
                {label}
              </option>
            ))}
          </select>
        </div>
        {contact?.twins.map((t) => (
          <p key={t.id} className="mb-3 flex items-center gap-3 border border-ochre bg-ochre-wash px-3 py-1.5 text-sm">
            <span>
              {t.name} is kept too, with {t.why}.
            </span>
            {contact.may_merge && (
              <Button className="ml-auto py-0.5!" onClick={() => merge.mutate(t.id)}>
                Make them one
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
        {kept.restored && <p className="mb-2 text-sm text-ochre">Typed here before and not saved yet.</p>}
        <div className="grid grid-cols-12 gap-x-2 gap-y-2">
          {fieldsOf(kind, said).map(([name, label, width]) => (
            <label key={name} className="block text-xs text-ink-2" style={{ gridColumn: `span ${width}` }}>
              {label}
              <input
                className="field block w-full text-base text-ink"
                value={said[name] ?? ''}
                autoFocus={!contact && name === 'given'}
                onChange={(e) => setSaid({ ...said, [name]: e.target.value })}
              />
            </label>
          ))}
          <label className="col-span-12 block text-xs text-ink-2">
            Notes
            <textarea
              className="field block w-full text-base text-ink"
              rows={said.notes ? 2 : 1}
              value={said.notes ?? ''}
              onChange={(e) => setSaid({ ...said, notes: e.target.value })}
            />
          </label>
        </div>
        {problem && (
          <p role="alert" className="mt-2 text-sm text-wax">
            {problem.message} {problem.mend}
          </p>
        )}
        <div className="mt-3 flex items-center gap-3 text-sm">
          <Button look={changed ? 'act' : 'plain'} type="submit" disabled={!changed || save.isPending}>
            {contact ? 'Save' : 'Keep it'}
          </Button>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-green"
              checked={shared}
              disabled={contact && !contact.may_merge}
              onChange={(e) => put({ shared: e.target.checked })}
            />
            Shared in the brokerage
          </label>
          {contact && (
            <span className="ml-auto flex gap-2">
              <Button look="words" onClick={() => setHistory(true)}>
                History
              </Button>
              {contact.merged && contact.may_merge && (
                <Button look="words" onClick={() => merge.mutate(null)}>
                  Part again
                </Button>
              )}
              {contact.may_merge && (
                <Button look="words" onClick={() => drop.mutate()}>
                  Remove
                </Button>
              )}
            </span>
          )}
        </div>
      </form>
      {contact && history && (
        <ContactHistory
          contact={contact}
          onClose={() => setHistory(false)}
          onUndone={(saved) => {
            void taken(saved);
            onSaved(saved);
          }}
        />
      )}
      {contact?.kind === 'client' && <ClientRecord contact={contact} />}
    </div>
  );
}

const differs = (a: Record<string, string>, b: Record<string, string>) =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].some((k) => (a[k] ?? '') !== (b[k] ?? ''));
