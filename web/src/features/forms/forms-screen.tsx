/** Forms: found by number, title, topic, purpose or words in the text; looked at before they are used. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { Bookmark } from 'lucide-react';
import { useDeferredValue, useState } from 'react';
import { useChoices } from '../../api/choices';
import { client, got, type FormChoice } from '../../api/client';
import { useAction } from '../../api/use-action';
import { formsQuery, membershipsQuery } from '../../api/queries';
import { notify } from '../../primitives/notices';
import { some } from '../../primitives/format';
import { FormPreview } from './form-preview';
import { FormsHead } from './forms-head';

export function FormsScreen() {
  const { sides, property_kinds } = useChoices();
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
    <div className="flex h-full flex-col">
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
        <Narrow label="Side" all="Every side" options={sides.map((s) => s.side)} value={side} onChoose={setSide} />
        <Narrow label="Kind of property" all="Every property" options={property_kinds} value={kind} onChoose={setKind} />
        <label className="flex items-center gap-1.5 text-sm">
          <input type="checkbox" checked={only} onChange={(e) => setOnly(e.target.checked)} /> Bookmarked
        </label>
      </FormsHead>
      <div className="grid min-h-0 flex-1 min-[900px]:grid-cols-[minmax(400px,5fr)_minmax(0,6fr)]">
        <div className={`min-h-0 overflow-auto pb-8 pl-6 pr-4 pt-3 max-[620px]:px-3 ${edition ? 'max-[899px]:hidden' : ''}`}>
          {error && (
            <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">Couldn’t load forms. Nothing was lost. Try again.</p>
          )}
          {isPending && <p className="text-ink-2">Loading forms …</p>}
          {forms && shown.length === 0 && (
            <div className="border border-hair bg-sheet px-6 py-10 text-center text-ink-2">
              {only ? (
                'No bookmarks yet. Use the bookmark beside a form.'
              ) : closed.length > 0 && !find && !side && !kind ? (
                <>
                  The forms of {closed[0]?.association} open with your member number.{' '}
                  <Link to="/forms/releases" className="text-green-2 underline">
                    Enter it
                  </Link>
                </>
              ) : (
                'No matching forms.'
              )}
            </div>
          )}
          <ul aria-label="Forms">
            {shown.map((f) => (
              <FormRow key={f.edition} form={f} here={f === chosen} show={() => show(f)} />
            ))}
          </ul>
        </div>
        <div className={`flex min-h-0 flex-col border-blotter-3 min-[900px]:border-l ${edition ? '' : 'max-[899px]:hidden'}`}>
          <Link to="/forms" search={{}} className="px-5 pt-2 text-sm font-medium text-green-2 min-[900px]:hidden">
            All forms
          </Link>
          {chosen && <FormPreview form={chosen} />}
        </div>
      </div>
    </div>
  );
}

interface NarrowProps {
  label: string;
  all: string;
  options: string[];
  value: string;
  onChoose: (value: string) => void;
}

function Narrow({ label, all, options, value, onChoose }: NarrowProps) {
  return (
    <select className="field" aria-label={label} value={value} onChange={(e) => onChoose(e.target.value)}>
      <option value="">{all}</option>
      {options.map((o) => (
        <option key={o}>{o}</option>
      ))}
    </select>
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
        aria-label={`Bookmark ${f.number} ${f.title}`}
        title={f.favourite ? 'Bookmarked' : 'Bookmark'}
        onClick={() => favour.mutate()}
        className={`relative self-start rounded-sm p-0.5 ${f.favourite ? 'text-green' : 'text-ink-3 opacity-60 hover:opacity-100'}`}
      >
        <Bookmark size={16} fill={f.favourite ? 'currentColor' : 'none'} />
      </button>
    </li>
  );
}
