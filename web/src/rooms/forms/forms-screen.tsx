/** Forms: found by number, title, topic, purpose or words in the text; looked at before they are used. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { Bookmark } from 'lucide-react';
import { useDeferredValue, useEffect, useState } from 'react';
import { client, got, type FormChoice } from '../../api/client';
import { useAction } from '../../api/use-action';
import { formSheetQuery, formsQuery, membershipsQuery } from '../../api/queries';
import { Mark } from '../../primitives/mark';
import { notify } from '../../primitives/notices';
import { shortDate, some } from '../../primitives/words';
import { FormsHead } from './forms-head';

const SIDES = ['buying', 'listing', 'leasing out', 'renting'];
const KINDS = [
  'single-family',
  'condominium',
  'townhouse',
  'manufactured',
  'multi-family 2–4',
  'land',
  'farm',
  'commercial',
  'industrial',
];

export function FormsScreen() {
  const [find, setFind] = useState('');
  const [side, setSide] = useState('');
  const [kind, setKind] = useState('');
  const [only, setOnly] = useState(false);
  const asked = useDeferredValue({ find: find.trim(), side, kind });
  const { data: forms, isPending, error } = useQuery(formsQuery(asked));
  const { data: memberships } = useQuery(membershipsQuery);
  const { edition } = useSearch({ from: '/forms' });
  const navigate = useNavigate();
  const shown = (forms ?? []).filter((f) => !only || f.favourite);
  const chosen = shown.find((f) => f.edition === edition) ?? shown[0];
  const show = (f: FormChoice | undefined) => f && void navigate({ to: '/forms', search: { edition: f.edition }, replace: true });
  const move = (by: number) => show(shown[Math.max(0, Math.min(shown.length - 1, shown.indexOf(chosen as FormChoice) + by))]);
  const closed = memberships?.filter((m) => !m.open) ?? [];
  return (
    <main className="flex h-full flex-col">
      <FormsHead here="forms">
        <input
          type="search"
          className="field w-[330px]"
          aria-label="Find a form"
          placeholder="Number, title, purpose or words in the text"
          autoFocus
          value={find}
          onChange={(e) => setFind(e.target.value)}
          onKeyDown={(e) => {
            if (e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return;
            e.preventDefault();
            move(e.key === 'ArrowDown' ? 1 : -1);
          }}
        />
        <select className="field" aria-label="Side" value={side} onChange={(e) => setSide(e.target.value)}>
          <option value="">Every side</option>
          {SIDES.map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
        <select className="field" aria-label="Kind of property" value={kind} onChange={(e) => setKind(e.target.value)}>
          <option value="">Every property</option>
          {KINDS.map((k) => (
            <option key={k}>{k}</option>
          ))}
        </select>
        <label className="flex items-center gap-1.5 text-sm">
          <input type="checkbox" checked={only} onChange={(e) => setOnly(e.target.checked)} /> Kept at hand
        </label>
      </FormsHead>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(400px,5fr)_minmax(0,6fr)]">
        <div className="overflow-auto pb-8 pl-6 pr-4 pt-3">
          {error && (
            <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">
              The forms can’t be read just now. Reload in a moment.
            </p>
          )}
          {isPending && <p className="text-ink-2">Reading the forms …</p>}
          {forms && shown.length === 0 && (
            <div className="border border-hair bg-sheet px-6 py-10 text-center text-ink-2">
              {only ? (
                'No form is kept at hand yet. The bookmark beside a form keeps it.'
              ) : closed.length > 0 && !find && !side && !kind ? (
                <>
                  The forms of {closed[0]?.association} open with your member number.{' '}
                  <Link to="/forms/releases" className="text-green-2 underline">
                    Enter it
                  </Link>
                </>
              ) : (
                'No form is called that, and none has these words in its text.'
              )}
            </div>
          )}
          <ul aria-label="Forms">
            {shown.map((f) => (
              <FormRow key={f.edition} form={f} here={f === chosen} show={() => show(f)} />
            ))}
          </ul>
        </div>
        {chosen ? <Preview form={chosen} /> : <div className="border-l border-blotter-3" />}
      </div>
    </main>
  );
}

function FormRow({ form: f, here, show }: { form: FormChoice; here: boolean; show: () => void }) {
  const queries = useQueryClient();
  const favour = useAction({
    mutationFn: () =>
      got(client.POST('/api/favourites', { body: { association: f.association, number: f.number, favourite: !f.favourite } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['forms'] }),
    onError: (error) => notify(error.message, { wrong: true }),
  });
  return (
    <li
      className={`relative -mt-px flex gap-3 border px-3 py-2 ${here ? 'z-10 border-green bg-paper' : 'border-hair bg-paper hover:bg-sheet'}`}
    >
      <span className="w-9 shrink-0 font-semibold">{f.number}</span>
      <span className="min-w-0 flex-1">
        <button
          type="button"
          aria-current={here}
          onClick={show}
          className="block text-left font-medium leading-snug after:absolute after:inset-0 after:right-10"
        >
          {f.title}
        </button>
        <span className="block text-xs text-ink-2">
          {f.own ? f.association : f.topic}, {some(f.pages, 'page')}, {some(f.blanks, 'blank')}
          {f.filled_by.length > 0 && `, filled when ${f.filled_by.join(' or ')}`}
        </span>
        {f.found && <span className="mt-0.5 block text-xs italic text-ink-2">{f.found}</span>}
      </span>
      <button
        type="button"
        aria-pressed={f.favourite}
        aria-label={`Keep ${f.number} ${f.title} at hand`}
        title={f.favourite ? 'Kept at hand' : 'Keep at hand'}
        onClick={() => favour.mutate()}
        className={`relative self-start rounded-sm p-0.5 ${f.favourite ? 'text-green' : 'text-ink-3 opacity-60 hover:opacity-100'}`}
      >
        <Bookmark size={16} fill={f.favourite ? 'currentColor' : 'none'} />
      </button>
    </li>
  );
}

function Preview({ form: f }: { form: FormChoice }) {
  const { data: sheet } = useQuery(formSheetQuery(f.edition));
  const [lit, setLit] = useState('');
  useEffect(() => setLit(''), [f.edition]);
  const blanks = sheet?.edition === f.edition ? sheet.fields_on_pages : [];
  return (
    <section aria-label={`Form ${f.number}`} className="flex min-h-0 flex-col border-l border-blotter-3">
      <div className="border-b border-blotter-3 px-5 py-3">
        <h2 className="font-serif text-lg font-semibold leading-tight">
          {f.number} {f.title}
        </h2>
        {f.purpose && <p className="mt-1 text-sm">{f.purpose}</p>}
        <p className="mt-1 text-xs text-ink-2">
          Edition of {shortDate(f.released)}, {f.association}. For {f.audience.join(' and ')}.{' '}
          {f.filled_by.length > 0 && f.filled_by.length < f.sides.length
            ? `Ours to fill when ${f.filled_by.join(' or ')}; otherwise expected from the other side.`
            : `Used when ${f.sides.join(', ')}.`}
          {f.own && (
            <>
              {' '}
              <Link
                to="/forms/papers"
                search={{ replaces: f.edition, of: `${f.number} ${f.title}` }}
                className="text-green-2 underline"
              >
                Read its next edition
              </Link>
            </>
          )}
        </p>
        <p className="mt-1 h-4 truncate text-xs" aria-live="polite">
          {lit ? (
            <>
              <Mark name="open" quiet size={10} /> {lit}
            </>
          ) : (
            <span className="text-ink-3">Point at a blank to see what it asks for.</span>
          )}
        </p>
      </div>
      <div className="min-h-0 flex-1 overflow-auto bg-blotter-2 px-5 py-4" tabIndex={0} aria-label="Pages">
        {Array.from({ length: f.pages }, (_, n) => {
          const [width = 612, height = 792] = sheet?.sizes[n] ?? [];
          return (
            <div key={`${f.edition}-${n}`} className="relative mx-auto mb-4 max-w-[620px] border border-blotter-3 bg-paper">
              <img
                src={`/api/editions/${f.edition}/pages/${n + 1}/110.png`}
                alt={`Page ${n + 1}`}
                loading="lazy"
                width={width}
                height={height}
                className="block h-auto w-full"
              />
              {blanks
                .filter((b) => b.page === n + 1)
                .map((b) => {
                  const [l = 0, bo = 0, r = 0, t = 0] = b.rect;
                  const said = `${b.label}${b.key ? ` · ${b.key}` : ''}${b.who ? ` · ${b.who.replace('.', ' ')}` : ''}`;
                  return (
                    <span
                      key={b.id}
                      onMouseEnter={() => setLit(said)}
                      onMouseLeave={() => setLit('')}
                      className="absolute hover:bg-green-wash hover:outline hover:outline-green"
                      style={{
                        left: `${(l / width) * 100}%`,
                        top: `${(1 - t / height) * 100}%`,
                        width: `${((r - l) / width) * 100}%`,
                        height: `${((t - bo) / height) * 100}%`,
                        mixBlendMode: 'multiply',
                      }}
                    />
                  );
                })}
            </div>
          );
        })}
      </div>
    </section>
  );
}
