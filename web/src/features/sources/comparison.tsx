/** What the sources say beside what the deal holds: nothing is written before it is accepted. */
import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { client, got, Problem, type Comparison, type ComparisonRow } from '../../api/client';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { Mark, markOf } from '../../primitives/mark';
import { moment, some } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';

/** Which home: by number, a row of a file, or the one brought in before. */
export interface Wanted {
  listing: string;
  parcel: string;
  county: string;
  file: string | null;
  row: number;
  again: boolean;
}

const HEADS = { differs: 'Differ', kept: 'Kept as typed here', new: 'New', same: 'The same' } as const;

type Choices = Record<string, 'listing' | 'roll'>;
const isToChoose = (r: ComparisonRow) => r.status === 'differs' || r.status === 'kept';

interface ViewProps {
  wanted: Wanted;
  /** It was left, or accepted. */
  onDone: () => void;
  onAccepted: () => void;
}

export function ComparisonView({ wanted, onDone, onAccepted }: ViewProps) {
  const { id, params } = useDeal();
  const { data, error, isPending, refetch } = useQuery({
    queryKey: ['comparison', id, wanted],
    queryFn: () => got(client.POST('/api/deals/{deal}/comparison', { params, body: wanted })),
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
  });
  if (isPending) return <p className="p-6 text-ink-2">Searching the listing service and the tax roll …</p>;
  if (error) return <NoAnswer error={error} again={() => void refetch()} onDone={onDone} />;
  return <Found data={data} again={wanted.again} onDone={onDone} onAccepted={onAccepted} />;
}

function NoAnswer({ error, again, onDone }: { error: Error; again: () => void; onDone: () => void }) {
  const problem = error instanceof Problem ? error : new Problem(error.message, '', 0);
  return (
    <div role="alert" className="m-6 max-w-[680px] border border-wax bg-wax-wash px-5 py-4">
      <p className="font-medium text-wax">{problem.message}</p>
      <p className="mb-3 text-sm">{problem.mend}</p>
      <div className="flex gap-2">
        <Button onClick={again}>Try again</Button>
        <Button look="words" onClick={onDone}>
          Back to the facts
        </Button>
      </div>
    </div>
  );
}

interface FoundProps {
  data: Comparison;
  /** Whether it is the home brought in before, looked at again. */
  again: boolean;
  onDone: () => void;
  onAccepted: () => void;
}

function Found({ data, again, onDone, onAccepted }: FoundProps) {
  const { params, take } = useDeal();
  const [choices, setChoices] = useState<Choices>({});
  // Papers of another firm's listing are old ones until somebody says otherwise.
  const [left, setLeft] = useState<ReadonlySet<string>>(() => new Set(data.remark ? data.papers.map((p) => p.key) : []));
  const papers = data.papers.filter((p) => !left.has(p.key)).map((p) => p.key);
  const accept = useAction({
    mutationFn: (_: void, key: string) => {
      const body = { change: key, comparison: data.id, take: choices, papers };
      return got(client.POST('/api/deals/{deal}/bring-in', { params, body }));
    },
    onSuccess: (delta) => {
      take(delta, delta.said);
      onAccepted();
    },
  });
  const moved = again ? data.rows.filter((r) => Object.keys(r.was).length > 0) : [];
  const tables = [
    { title: 'Changed at the source', rows: moved, folded: false },
    ...Object.entries(HEADS).map(([status, title]) => ({
      title,
      rows: data.rows.filter((r) => r.status === status && !moved.includes(r)),
      folded: status === 'same' || (status === 'new' && data.rows.some(isToChoose)),
    })),
  ];
  return (
    <section aria-label="Comparison" className="flex h-full flex-col">
      <Head data={data} again={again} moved={moved.length} trouble={accept.error?.message}>
        <Button onClick={onDone}>Cancel</Button>
        <Button look="act" disabled={accept.isPending} onClick={() => accept.mutate()}>
          {accept.isPending ? 'Importing …' : 'Accept'}
        </Button>
      </Head>
      <div className="min-h-0 flex-1 overflow-auto px-6 py-4 max-[620px]:px-3">
        {data.papers.length > 0 && <Attached papers={data.papers} left={left} setLeft={setLeft} />}
        <TakeAll rows={data.rows.filter(isToChoose)} setChoices={setChoices} />
        {tables
          .filter(({ rows }) => rows.length > 0)
          .map(({ title, rows, folded }) => (
            <Folded key={title} title={title} rows={rows} folded={folded}>
              <Table
                title={title}
                rows={heavyFirst(rows)}
                choices={choices}
                choose={(key, source) => setChoices({ ...choices, [key]: source })}
              />
            </Folded>
          ))}
      </div>
    </section>
  );
}

const heavyFirst = (rows: ComparisonRow[]) => [...rows].sort((a, b) => Number(b.heavy) - Number(a.heavy));

interface FoldedProps {
  title: string;
  rows: ComparisonRow[];
  folded: boolean;
  children: ReactNode;
}

/** Rows that ask for nothing are one line, which says what they are about; what has to be looked at stands open. */
function Folded({ title, rows, folded, children }: FoldedProps) {
  if (!folded) return children;
  return (
    <details className="group mb-3">
      <summary className="flex min-h-8 cursor-pointer items-baseline gap-2 text-sm">
        <span className="font-semibold text-ink-2">
          {title} <span className="font-normal">{rows.length}</span>
        </span>
        <span className="min-w-0 flex-1 truncate text-xs text-ink-2 group-open:hidden">
          {heavyFirst(rows)
            .map((r) => `${r.label} ${r.becomes}`)
            .join(' · ')}
        </span>
      </summary>
      {children}
    </details>
  );
}

interface HeadProps extends Pick<FoundProps, 'data' | 'again'> {
  moved: number;
  trouble?: string;
  children: ReactNode;
}

/** What was found, how much of it asks for a look, and what to do with it. */
function Head({ data, again, moved, trouble, children }: HeadProps) {
  const found = [data.listing && `Listing ${data.listing}`, data.parcel && `Parcel ${data.parcel}`, data.file]
    .filter(Boolean)
    .join(' · ');
  const fresh = data.rows.filter((r) => r.status === 'new').length;
  const sum =
    again && data.before
      ? `${moved ? some(moved, 'value') : 'Nothing'} changed at the source since ${moment(data.before)}`
      : `${some(fresh, 'new value')}, ${data.rows.filter(isToChoose).length} to look at`;
  const status = data.status && data.status !== 'Active' && !data.remark ? ` · the listing is ${data.status.toLowerCase()}` : '';
  return (
    <div className="flex flex-wrap items-center gap-4 border-b border-hair bg-sheet px-6 py-3 max-[620px]:px-3">
      <div className="min-w-0">
        <h2 className="font-serif text-[1.0625rem] font-semibold">{data.address || found}</h2>
        {data.address && <p className="text-sm text-ink-2">{found}</p>}
        <p className="text-sm text-ink-2">
          {sum}
          {status}. Nothing is written until you accept.
        </p>
        {data.remark && <p className="max-w-[760px] text-sm font-medium text-ochre">{data.remark}</p>}
        {data.troubles.map((t) => (
          <p key={t} className="text-sm text-ochre">
            {t}
          </p>
        ))}
        {trouble && (
          <p role="alert" className="text-sm text-wax">
            {trouble}
          </p>
        )}
      </div>
      <div className="ml-auto flex gap-2">{children}</div>
    </div>
  );
}

/** One source for all that differ. */
function TakeAll({ rows, setChoices }: { rows: ComparisonRow[]; setChoices: (choices: Choices) => void }) {
  if (rows.length < 2) return null;
  const all = (source: 'listing' | 'roll') =>
    setChoices(Object.fromEntries(rows.filter((r) => r[source]).map((r) => [r.key, source])));
  return (
    <p className="mb-3 flex flex-wrap items-center gap-1 text-sm text-ink-2">
      Use all differences
      <Button look="words" onClick={() => all('listing')}>
        from the listing
      </Button>
      <Button look="words" onClick={() => all('roll')}>
        from the tax roll
      </Button>
      <Button look="words" onClick={() => setChoices({})}>
        as proposed
      </Button>
    </p>
  );
}

/** Papers that came with the listing: each goes where the package waits for it, or to its end. */
function Attached({
  papers,
  left,
  setLeft,
}: {
  papers: Comparison['papers'];
  left: ReadonlySet<string>;
  setLeft: (left: ReadonlySet<string>) => void;
}) {
  const turn = (key: string) => {
    const next = new Set(left);
    if (!next.delete(key)) next.add(key);
    setLeft(next);
  };
  return (
    <fieldset className="mb-4 border border-hair bg-paper px-4 py-2.5 text-sm">
      <legend className="px-1 font-semibold text-ink-2">Papers attached to the listing</legend>
      {papers.map((p) => (
        <label key={p.key} className="flex items-baseline gap-2 py-0.5">
          <input type="checkbox" checked={!left.has(p.key)} onChange={() => turn(p.key)} />
          <span className="font-medium">{p.title}</span>
          <span className="text-ink-2">{p.place ? `takes the place of “${p.place}”` : 'is added to the package'}</span>
        </label>
      ))}
    </fieldset>
  );
}

function Table({
  title,
  rows,
  choices,
  choose,
}: {
  title: string;
  rows: ComparisonRow[];
  choices: Record<string, string>;
  choose: (key: string, source: 'listing' | 'roll') => void;
}) {
  return (
    <section aria-label={title} tabIndex={0} className="mb-5 overflow-x-auto">
      <h3 className="mb-1 text-sm font-semibold text-ink-2 group-open:sr-only">
        {title} <span className="font-normal">{rows.length}</span>
      </h3>
      <table className="w-full min-w-[640px] table-fixed border border-hair bg-paper text-sm">
        <thead>
          <tr className="border-b border-hair text-left text-xs text-ink-3">
            {['Fact', 'Now', 'Listing', 'Tax roll', 'Will become'].map((h, n) => (
              <th key={h} scope="col" className={`px-3 py-1 font-medium ${n === 0 ? 'w-[17%]' : ''}`}>
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const chosen = choices[row.key];
            const becomes = chosen === 'listing' ? row.listing : chosen === 'roll' ? row.roll : row.becomes;
            const mark = markOf(chosen ?? row.becomes_source);
            return (
              <tr key={row.key} className="border-b border-hair align-top last:border-0">
                <th
                  scope="row"
                  className={`px-3 py-1.5 text-left ${row.heavy ? 'font-semibold text-wax' : 'font-normal text-ink-2'}`}
                >
                  {row.label}
                </th>
                <td className="px-3 py-1.5 text-ink-2 wrap-break-word">{row.now}</td>
                <Choice row={row} source="listing" chosen={chosen} choose={choose} />
                <Choice row={row} source="roll" chosen={chosen} choose={choose} />
                <td className="px-3 py-1.5 wrap-break-word">
                  <span className="flex gap-1.5">
                    {mark && (
                      <span className="pt-px">
                        <Mark name={mark} size={13} />
                      </span>
                    )}
                    <span className="min-w-0">{becomes}</span>
                  </span>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

function Choice({
  row,
  source,
  chosen,
  choose,
}: {
  row: ComparisonRow;
  source: 'listing' | 'roll';
  chosen?: string;
  choose: (key: string, source: 'listing' | 'roll') => void;
}) {
  const value = row[source];
  const was = row.was[source];
  if (!value || (row.status !== 'differs' && row.status !== 'kept'))
    return (
      <td className="px-3 py-1.5 wrap-break-word">
        {value}
        <Was text={was} />
      </td>
    );
  const inForce = (chosen ?? row.becomes_source) === source;
  return (
    <td className="px-1.5 py-1 wrap-break-word">
      <label
        className={`flex cursor-pointer items-start gap-1.5 rounded-sm px-1.5 py-0.5 ${inForce ? 'bg-green-wash' : 'hover:bg-sheet'}`}
      >
        <input
          type="radio"
          className="mt-1"
          name={row.key}
          checked={inForce}
          onChange={() => choose(row.key, source)}
          aria-label={`${row.label}: take ${value} from the ${source === 'roll' ? 'tax roll' : 'listing'}`}
        />
        <span className="min-w-0">
          {value}
          <Was text={was} />
        </span>
      </label>
    </td>
  );
}

/** What the source said before. */
const Was = ({ text }: { text?: string }) => (text ? <span className="block text-xs text-ochre">was {text}</span> : null);
