/** A client's record: papers of their own, homes seen, deals. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from '@tanstack/react-router';
import { useState, type ReactNode } from 'react';
import { client, got, once, upload, type ClientPaper, type Contact, type Found, type HomeSeen } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { recordQuery, templatesQuery } from '../../api/queries';
import { FileLink } from '../../primitives/file-link';
import { Button } from '../../primitives/button';
import { FileButton } from '../../primitives/file-button';
import { notify, sayProblem } from '../../primitives/notices';
import { shortDate, some, today } from '../../primitives/format';
import { PropertyFinder } from '../sources/property-finder';

export function ClientRecord({ contact }: { contact: Contact }) {
  const { data } = useQuery(recordQuery(contact.id));
  const queries = useQueryClient();
  const again = () => queries.invalidateQueries({ queryKey: ['record', contact.id] });
  if (!data) return <p className="pt-6 text-sm text-ink-2">Loading the record …</p>;
  return (
    <>
      {data.advice && <p className="mt-5 border border-ochre bg-ochre-wash px-3 py-2 text-sm">{data.advice}</p>}
      <Homes contact={contact} homes={data.homes} again={again} />
      <Papers contact={contact} papers={data.papers} again={again} />
      <Part title="Deals" count={data.deals.length}>
        {data.deals.length === 0 && <Nothing>No deal yet.</Nothing>}
        {data.deals.map((d) => (
          <li
            key={d.id}
            className="relative flex items-baseline gap-3 border-b border-hair px-3 py-1.5 last:border-0 hover:bg-sheet"
          >
            <Link
              to="/deals/$deal/package"
              params={{ deal: d.id }}
              className="min-w-0 flex-1 truncate font-medium after:absolute after:inset-0"
            >
              {d.name}
            </Link>
            <span className="text-xs text-ink-2">
              {[d.side, d.stage === 'filling' ? `${d.open} unanswered` : d.stage, shortDate(d.touched)].join(' · ')}
            </span>
          </li>
        ))}
      </Part>
    </>
  );
}

function Papers({ contact, papers, again }: { contact: Contact; papers: ClientPaper[]; again: () => Promise<void> }) {
  const add = useAction({
    mutationFn: (file: File, key: string) => upload(`/api/contacts/${contact.id}/record`, file, key),
    onSuccess: again,
    onError: sayProblem,
  });
  const drop = useAction({
    mutationFn: (paper: number) => got(client.DELETE('/api/client-papers/{paper}', { params: { path: { paper } } })),
    onSuccess: async (_, paper) => {
      const back = () => got(client.POST('/api/client-papers/{paper}', { params: { path: { paper } } })).then(again, sayProblem);
      notify('The paper was removed. Deals that show it keep it.', { action: { label: 'Undo', run: () => void back() } });
      await again();
    },
    onError: sayProblem,
  });
  const action = (
    <FileButton label="PDF for the client's record" accept="application/pdf,.pdf" onFile={add.mutate}>
      {add.isPending ? 'Reading …' : 'Add a PDF'}
    </FileButton>
  );
  return (
    <Part title="Papers of their own" count={papers.length} action={action}>
      {papers.length === 0 && (
        <Nothing>
          Representation agreement and agency disclosure: “Keep with the client” in a deal’s package puts them here, and in each
          of the client’s deals.
        </Nothing>
      )}
      {papers.map((p) => (
        <li key={p.id} className="flex items-baseline gap-3 border-b border-hair px-3 py-1.5 last:border-0">
          <span className="min-w-0 flex-1 truncate">
            <span className="font-semibold">{p.number}</span> <span className="font-medium">{p.title}</span>
          </span>
          <span className={`whitespace-nowrap text-xs ${p.ended ? 'text-wax' : 'text-ink-2'}`}>
            {some(p.pages, 'page')} ·{' '}
            {p.ends ? `${p.ended ? 'ended' : 'until'} ${shortDate(p.ends)}` : `kept ${shortDate(p.kept)}`}
          </span>
          <FileLink
            className="text-green-2 hover:underline"
            href={`/api/client-papers/${p.id}`}

            aria-label={`PDF of ${p.title}`}
          >
            PDF
          </FileLink>
          <Button look="words" className="py-0!" aria-label={`Take off ${p.title}`} onClick={() => drop.mutate(p.id)}>
            Take off
          </Button>
        </li>
      ))}
    </Part>
  );
}

function Homes({ contact, homes, again }: { contact: Contact; homes: HomeSeen[]; again: () => Promise<void> }) {
  const [adding, setAdding] = useState(false);
  const add = useAction({
    mutationFn: ({ listing, parcel, county, address, price, kind, category }: Found, key: string) =>
      got(
        client.POST('/api/contacts/{contact}/homes', {
          params: { path: { contact: contact.id } },
          headers: once(key),
          body: { listing, parcel, county, address, price, kind, category, seen_on: today(), note: '' },
        }),
      ),
    onSuccess: async () => {
      setAdding(false);
      await again();
    },
    onError: sayProblem,
  });
  const action = (
    <Button look="words" className="py-0!" aria-expanded={adding} onClick={() => setAdding(!adding)}>
      Add a home
    </Button>
  );
  return (
    <Part
      title="Homes seen"
      count={homes.length}
      action={action}
      before={adding && <PropertyFinder label="Home that was seen" autoFocus onPick={(home) => add.mutate(home)} />}
    >
      {homes.length === 0 && (
        <Nothing>Homes that this client was shown, from the listing service. One of them becomes a deal in one action.</Nothing>
      )}
      {homes.map((h) => (
        <Home key={h.id} contact={contact} home={h} again={again} />
      ))}
    </Part>
  );
}

/** Starts a deal with this client about this home, from the template that fits it. */
function useStartWith(contact: Contact, home: HomeSeen) {
  const navigate = useNavigate();
  const side = home.kind === 'lease' ? 'renting' : 'buying';
  const fitting = templatesQuery({ side, category: home.category });
  const { data: templates = [] } = useQuery(fitting);
  const template = templates.find((t) => t.fits);
  const queries = useQueryClient();
  const start = useAction({
    mutationFn: async (_: void, key: string) => {
      const fits = (await queries.ensureQueryData(fitting)).find((t) => t.fits); // pressed before it was known
      return got(
        client.POST('/api/deals', {
          headers: once(key),
          body: { side, template: fits?.id ?? null, name: '', clients: [{ contact: contact.id }] },
        }),
      );
    },
    onSuccess: (deal) =>
      void navigate({
        to: '/deals/$deal/facts',
        params: { deal: deal.id },
        search: { listing: home.listing, parcel: home.parcel, county: home.county },
      }),
    onError: sayProblem,
  });
  return { start, template };
}

function Home({ contact, home, again }: { contact: Contact; home: HomeSeen; again: () => Promise<void> }) {
  const { typed: note, set: setNote } = useKept(`home ${home.id} note`, home.note);
  const path = { contact: contact.id, home: home.id };
  const done = { onSuccess: again, onError: sayProblem };
  const keep = useAction({
    mutationFn: (part: Partial<HomeSeen>) =>
      got(client.POST('/api/contacts/{contact}/homes/{home}', { params: { path }, body: { ...home, note, ...part } })),
    ...done,
  });
  const asked: Partial<HomeSeen> = Object.assign({}, ...keep.doing); // and not answered yet
  const drop = useAction({
    mutationFn: () => got(client.DELETE('/api/contacts/{contact}/homes/{home}', { params: { path } })),
    onSuccess: async () => {
      const add = () =>
        client.POST('/api/contacts/{contact}/homes', { params: { path: { contact: contact.id } }, body: { ...home, note } });
      const back = () => got(add()).then(again, sayProblem);
      notify(`${home.address} was removed.`, { action: { label: 'Undo', run: () => void back() } });
      await again();
    },
    onError: sayProblem,
  });
  const { start, template } = useStartWith(contact, home);
  return (
    <li className="border-b border-hair px-3 py-1.5 last:border-0">
      <div className="flex items-baseline gap-3">
        <span className="min-w-0 flex-1 truncate font-medium">{home.address}</span>
        <span className="whitespace-nowrap text-xs text-ink-2">
          {[home.listing && `listing ${home.listing}`, home.price && home.price + (home.kind === 'lease' ? ' a month' : '')]
            .filter(Boolean)
            .join(' · ')}
        </span>
        <Button
          className="py-0.5!"
          disabled={start.isPending}
          title={template ? `With the template “${template.name}”` : undefined}
          onClick={() => start.mutate()}
        >
          {home.kind === 'lease' ? 'Start a lease' : 'Start an offer'}
        </Button>
      </div>
      <div className="mt-0.5 flex items-center gap-2 text-xs text-ink-2">
        seen
        <input
          type="date"
          className="field py-0!"
          aria-label={`${home.address}, seen on`}
          value={asked.seen_on ?? home.seen_on}
          onChange={(e) => e.target.value && keep.mutate({ ...asked, seen_on: e.target.value })}
        />
        <input
          className="field min-w-0 flex-1 py-0!"
          aria-label={`${home.address}, note`}
          placeholder="Note"
          value={note}
          onChange={(e) => setNote(e.target.value)}
          onBlur={() => note !== home.note && keep.mutate({ ...asked, note })}
        />
        <Button look="words" className="py-0! text-xs!" aria-label={`Take off ${home.address}`} onClick={() => drop.mutate()}>
          Take off
        </Button>
      </div>
    </li>
  );
}

interface PartProps {
  title: string;
  count: number;
  action?: ReactNode;
  before?: ReactNode;
  children: ReactNode;
}

function Part({ title, count, action, before, children }: PartProps) {
  return (
    <section className="mt-6">
      <div className="mb-1 flex items-baseline gap-2">
        <h3 className="text-sm font-semibold">
          {title} {count > 0 && <span className="font-normal text-ink-2">{count}</span>}
        </h3>
        <span className="ml-auto">{action}</span>
      </div>
      {before && <div className="mb-2">{before}</div>}
      <ul className="border border-hair bg-paper text-sm">{children}</ul>
    </section>
  );
}

const Nothing = ({ children }: { children: ReactNode }) => <li className="px-3 py-2 text-ink-2">{children}</li>;
