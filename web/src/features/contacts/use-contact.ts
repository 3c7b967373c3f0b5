/** A contact being written: what is typed, and what can be done with it. */
import { useQueryClient } from '@tanstack/react-query';
import { client, got, once, Problem, type Contact, type ContactKind } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { notify, sayProblem } from '../../primitives/notices';

export interface ContactProps {
  contact?: Contact;
  kind: ContactKind;
  onSaved: (contact: Contact) => void;
  onGone: () => void;
}

type Said = Record<string, string>;

const differs = (a: Said, b: Said) =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].some((k) => (a[k] ?? '') !== (b[k] ?? ''));

export function useContact({ contact, kind: first, onSaved, onGone }: ContactProps) {
  const queries = useQueryClient();
  const asSaved = (c: Contact | undefined) => ({
    kind: c?.kind ?? first,
    said: c?.fields_said ?? ({} as Said),
    shared: c?.shared ?? false,
  });
  const kept = useKept(`contact ${contact?.id ?? 'new'}`, asSaved(contact));
  const { kind, said, shared } = kept.typed;
  const put = (part: Partial<typeof kept.typed>) => kept.set({ ...kept.typed, ...part });
  const params = { path: { contact: contact?.id ?? '' } };
  const isChanged = !contact || kind !== contact.kind || shared !== contact.shared || differs(said, contact.fields_said);
  const again = () => queries.invalidateQueries({ queryKey: ['contacts'] });
  /** The server's answer is what the card shows from now on. */
  const taken = async (saved: Contact) => {
    kept.settle(asSaved(saved));
    await again();
  };
  const saving = useAction({
    mutationFn: (sent: typeof kept.typed, key: string) => {
      const over = contact ? { kind: kept.over.kind, fields_said: kept.over.said, shared: kept.over.shared } : null;
      const body = { kind: sent.kind, fields_said: sent.said, shared: sent.shared, unless_known: false, over };
      const headers = once(key);
      const answer = contact
        ? client.POST('/api/contacts/{contact}', { params, headers, body })
        : client.POST('/api/contacts', { headers, body });
      return got(answer);
    },
    onSuccess: async (saved, sent) => {
      kept.keptAs(sent, asSaved(saved));
      await again();
      onSaved(saved);
    },
    onError: async (error) => {
      if (!(error instanceof Problem) || error.rule !== 'changed') return;
      kept.told();
      await again(); // saved once more, it is saved over what is read here
    },
  });
  const save = { ...saving, mutate: () => saving.mutate(kept.typed) };
  const merge = useAction({
    mutationFn: (other: string | null, key: string) =>
      got(client.POST('/api/contacts/{contact}/merge', { params, headers: once(key), body: { other } })),
    onSuccess: async (saved, other) => {
      await taken(saved);
      notify(other ? `Merged: ${saved.name}.` : 'Contacts separated again.');
    },
    onError: sayProblem,
  });
  const drop = useAction({
    mutationFn: () => got(client.DELETE('/api/contacts/{contact}', { params })),
    onSuccess: async () => {
      await again();
      const back = () => got(client.POST('/api/contacts/{contact}/restore', { params })).then(again, sayProblem);
      notify(`${contact?.name} was removed.`, { action: { label: 'Undo', run: () => void back() } });
      onGone();
    },
    onError: sayProblem,
  });
  return { kind, said, shared, put, isChanged, isRestored: kept.restored, taken, save, merge, drop };
}
