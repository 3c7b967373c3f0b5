/** Delivering: for whom, which papers, how. What is typed stays until it was sent. */
import { useQueryClient } from '@tanstack/react-query';
import { client, got, once, type Deliveries } from '../../api/client';
import { deliveriesQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { NameAndEmail } from '../../primitives/name-and-email';
import { notify, sayProblem } from '../../primitives/notices';
import { Switch } from '../../primitives/switch';
import { some } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';

type For = 'client' | 'other side' | 'others';
interface Person {
  name: string;
  email: string;
}
interface Said {
  whom: For;
  /** The papers, once somebody chose other than proposed. */
  papers: string[] | null;
  to: Person[];
  subject: string;
  message: string;
  how: 'link' | 'mail';
  whole: boolean;
  days: number;
}

const WHOM = [
  ['client', 'The client'],
  ['other side', 'The other side'],
  ['others', 'Lender, title, others'],
] as const;

const BLANK: Said = {
  whom: 'other side',
  papers: null,
  to: [],
  subject: '',
  message: '',
  how: 'link',
  whole: false,
  days: 30,
};

export function Deliver({ choice, close }: { choice: Deliveries; close: () => void }) {
  const { id, deal, params } = useDeal();
  const queries = useQueryClient();
  const blank = { ...BLANK, subject: deal.head.name.slice(0, 150) };
  const kept = useKept<Said>(`deliver ${id}`, blank);
  const said = kept.typed;
  const set = (part: Partial<Said>) => kept.set({ ...said, ...part });
  const usual = choice.papers.filter((p) => p.usually_for.includes(said.whom)).map((p) => p.document);
  const there = new Set(choice.papers.map((p) => p.document));
  const papers = (said.papers ?? usual).filter((d) => there.has(d));
  const send = useAction({
    mutationFn: (body: Omit<Said, 'whom' | 'papers'> & { papers: string[] }, key: string) =>
      got(client.POST('/api/deals/{deal}/deliveries', { params, headers: once(key), body })),
    onSuccess: (told) => {
      stands(queries, deliveriesQuery(id, deal.head.offer, deal.head.seq).queryKey, told);
      kept.settle(blank);
      notify(`${some(papers.length, 'paper')} went to ${said.to.map((p) => p.name).join(', ')}.`);
      close();
    },
    onError: sayProblem,
  });
  const { to, subject, message, how, whole, days } = said;
  return (
    <form
      className="space-y-4 text-sm"
      onSubmit={(e) => {
        e.preventDefault();
        send.mutate({ papers, to, subject, message, how, whole, days });
      }}
    >
      <Switch label="For whom" ways={WHOM} at={said.whom} choose={(whom) => set({ whom, papers: null })} />
      <To people={choice.people} whom={said.whom} to={to} set={(now) => set({ to: now })} />
      <Papers choice={choice} papers={papers} set={(now) => set({ papers: now })} />
      <label className="block">
        Subject
        <input
          className="field mt-0.5 block w-full"
          maxLength={150}
          value={subject}
          onChange={(e) => set({ subject: e.target.value })}
        />
      </label>
      <label className="block">
        Message
        <textarea
          className="field mt-0.5 block w-full"
          rows={2}
          maxLength={4000}
          value={message}
          onChange={(e) => set({ message: e.target.value })}
        />
      </label>
      <How said={said} set={set} />
      <Button type="submit" look="act" disabled={send.isPending || to.length === 0 || papers.length === 0 || !subject.trim()}>
        {send.isPending ? 'Sending …' : `Deliver ${some(papers.length, 'paper')}`}
      </Button>
    </form>
  );
}

/** By mail or by a link, and whether in one file. */
function How({ said: { how, days, whole }, set }: { said: Said; set: (part: Partial<Said>) => void }) {
  return (
    <>
      <div className="flex flex-wrap items-end gap-x-5 gap-y-2">
        <label>
          How
          <select className="field mt-0.5 block" value={how} onChange={(e) => set({ how: e.target.value as Said['how'] })}>
            <option value="link">by a link that ends</option>
            <option value="mail">as attachments</option>
          </select>
        </label>
        {how === 'link' && (
          <label>
            The link ends after
            <select className="field mt-0.5 block" value={days} onChange={(e) => set({ days: Number(e.target.value) })}>
              {[7, 30, 90, 365].map((n) => (
                <option key={n} value={n}>
                  {n} days
                </option>
              ))}
            </select>
          </label>
        )}
        <label className="flex min-h-9 items-center gap-2">
          <input type="checkbox" checked={whole} onChange={(e) => set({ whole: e.target.checked })} />
          All in one PDF
        </label>
      </div>
      {whole && (
        <p className="text-xs text-ink-2">
          In one PDF signed papers go without their seals; by themselves they go as they were sealed.
        </p>
      )}
    </>
  );
}

interface ToProps {
  people: Deliveries['people'];
  whom: For;
  to: Person[];
  set: (to: Person[]) => void;
}

function To({ people, whom, to, set }: ToProps) {
  const known = people.filter((p) => whom === 'others' || p.concerns === whom);
  const others = to.filter((t) => !known.some((p) => p.email === t.email));
  return (
    <fieldset>
      <legend>To</legend>
      {known.map((p) => (
        <label key={p.email} className="flex min-h-8 items-center gap-2">
          <input
            type="checkbox"
            checked={to.some((t) => t.email === p.email)}
            onChange={(e) =>
              set(e.target.checked ? [...to, { name: p.name, email: p.email }] : to.filter((t) => t.email !== p.email))
            }
          />
          <span className="wrap-anywhere">
            {p.name}, {p.email} <span className="text-xs text-ink-2">{p.role}</span>
          </span>
        </label>
      ))}
      {others.map((p) => (
        <p key={p.email} className="flex items-center gap-2">
          <span className="wrap-anywhere">
            {p.name}, {p.email}
          </span>
          <Button look="words" aria-label={`Not to ${p.name}`} onClick={() => set(to.filter((t) => t !== p))}>
            Take off
          </Button>
        </p>
      ))}
      <div className="mt-1">
        <NameAndEmail
          of="somebody else"
          placeholder="Someone else: name"
          add={(person, done) => (set([...to, person]), done())}
        />
      </div>
    </fieldset>
  );
}

interface PapersProps {
  choice: Deliveries;
  papers: string[];
  set: (papers: string[]) => void;
}

function Papers({ choice, papers, set }: PapersProps) {
  return (
    <fieldset>
      <legend>
        Papers <span className="text-ink-2">{papers.length}</span>
      </legend>
      <div className="max-h-[220px] overflow-auto border border-hair bg-paper px-2 py-1">
        {choice.papers.map((p) => (
          <label key={p.document} className="flex min-h-8 items-center gap-2">
            <input
              type="checkbox"
              checked={papers.includes(p.document)}
              onChange={(e) => {
                const now = choice.papers.filter((o) =>
                  o.document === p.document ? e.target.checked : papers.includes(o.document),
                );
                set(now.map((o) => o.document));
              }}
            />
            <span className="min-w-0 flex-1 wrap-anywhere">{p.title}</span>
            <span className="text-xs text-ink-2">{p.audience.join(' and ')}</span>
          </label>
        ))}
      </div>
    </fieldset>
  );
}
