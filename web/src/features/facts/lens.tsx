/** The lens: the thing in hand, where it came from, where it goes, what can be done. */
import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useMemo, useState, type ReactNode } from 'react';
import { isAllNames, lastOf } from '../../api/keys';
import type { Blank, Fact } from '../../api/client';
import { Button } from '../../primitives/button';
import { Mark, markOf, MARKS, type MarkName } from '../../primitives/mark';
import { capital, moment, some } from '../../primitives/format';
import { FactInput } from './fact-input';
import { Findings } from '../workspace/findings';
import { useWorkspace } from '../workspace/workspace';

interface Place {
  document: string;
  field: string;
}

/** A document's own blank as a fact that is on this form alone. */
export const onThisForm = (blank: Blank): Fact => ({
  ...blank,
  also: '',
  group: '',
  edit: blank.text,
  shown: blank.text || (blank.marked ? blank.value : ''),
  example: '',
  worked_out: false,
  places: 1,
  missing: blank.waits_for,
  differs: false,
  locked: false,
  left: blank.state === 'theirs' && blank.editable,
  section: '',
  states_parts: false,
  beside: [],
  replaced: '',
});

interface Props {
  keyName: string;
  onGo: (place: Place) => void;
  /** Whether it is typed here: where the place itself is too small to be typed in. */
  entry?: boolean;
  children?: ReactNode;
}

export function Lens({ keyName, onGo, entry = false, children }: Props) {
  const { held, at, edit, facts, source, mayLock, isDeal } = useWorkspace();
  const places = useMemo(
    () => held.blanks.filter((b) => b.shape !== 'sign' && (b.fact === keyName || b.own_key === keyName)),
    [held.blanks, keyName],
  );
  const own = places.find((b) => b.marked) ?? places[0];
  const fact = facts.get(keyName) ?? (own && onThisForm(own));
  if (!fact) return <p className="p-4 text-sm text-ink-2">It no longer exists.</p>;
  const group = held.catalog.groups[fact.group];
  const typed = fact.source === source;
  return (
    <div className="space-y-4 p-4 text-sm">
      <div>
        {group ? (
          <Link
            {...at('facts', { search: { fact: keyName } })}
            title="Show in Facts"
            className="text-xs text-ink-2 hover:underline"
          >
            {group}
          </Link>
        ) : (
          <p className="text-xs text-ink-2">Only on this form</p>
        )}
        <h2 className="font-serif text-[1rem] font-semibold leading-snug">{fact.label}</h2>
        {fact.help && <p className="mt-1 text-xs text-ink-2">{fact.help}</p>}
      </div>
      {entry && (
        <div data-entry>
          <FactInput key={`entry ${keyName}`} fact={fact} />
        </div>
      )}
      <Findings of={[...fact.findings, ...places.flatMap((p) => p.findings)]} />
      {children}
      <State fact={fact} />
      {fact.beside.length > 1 && <Sources fact={fact} onUse={(source) => edit({ op: 'choose', key: keyName, source })} />}
      {(typed || (fact.kind !== 'yes_no' && fact.kind !== 'choice' && !fact.shown && !fact.worked_out)) && (
        <div className="flex flex-wrap gap-2">
          {typed && (
            <Button onClick={() => edit({ op: 'clear', key: keyName })}>
              {fact.replaced || fact.beside.length > 1 ? 'Clear this answer' : 'Clear'}
            </Button>
          )}
          {!typed && <Button onClick={() => edit({ op: 'empty', key: keyName })}>Leave blank on purpose</Button>}
          {!typed && isDeal && (
            <Button onClick={() => edit({ op: fact.left ? 'clear' : 'leave', key: keyName })}>
              {fact.left ? 'Not left to the client' : 'Leave to the client'}
            </Button>
          )}
          {typed && mayLock && (
            <Button
              title="A locked answer can’t be changed in the deals that begin with this template"
              onClick={() => edit({ op: fact.locked ? 'unlock' : 'lock', key: keyName })}
            >
              {fact.locked ? 'Unlock' : 'Lock'}
            </Button>
          )}
        </div>
      )}
      {places.length > 0 && <Places places={places} onGo={onGo} />}
      <Changes key={keyName} keyName={keyName} workedOut={fact.source === 'worked_out'} />
    </div>
  );
}

/** What each source says, with the one in force. */
function Sources({ fact, onUse }: { fact: Fact; onUse: (source: string) => void }) {
  return (
    <Block title="Sources">
      <ul>
        {fact.beside.map((b) => (
          <li key={b.source} className="flex items-start gap-2 border-b border-hair py-1.5 last:border-0">
            <span className="pt-0.5">
              <Mark name={b.source as MarkName} size={13} />
            </span>
            <span className="min-w-0 flex-1 wrap-break-word">
              {b.shown}
              <span className="block text-xs text-ink-2">
                {[MARKS[b.source as MarkName]?.label, b.origin].filter(Boolean).join(', ')}
              </span>
            </span>
            {b.source === fact.source ? (
              <span className="text-xs text-ink-2">in force</span>
            ) : (
              <Button look="words" className="py-0!" onClick={() => onUse(b.source)}>
                Use
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Block>
  );
}

/** Every blank that it goes to. */
function Places({ places, onGo }: { places: Blank[]; onGo: (place: Place) => void }) {
  const { held } = useWorkspace();
  const forms = held.documents
    .map((document) => ({ document, at: places.filter((p) => p.document === document.id) }))
    .filter((form) => form.at.length > 0);
  return (
    <Block title={`Goes to ${some(places.length, 'blank')}`}>
      <ul>
        {forms.map(({ document, at }) => (
          <li key={document.id} className="mb-1.5">
            <p className="truncate px-1 text-xs text-ink-2" title={`${document.number} ${document.title}`}>
              <span className="font-semibold">{document.number}</span> {document.title}
            </p>
            <ul>
              {at.map((p) => (
                <li key={p.field}>
                  <button
                    type="button"
                    className="flex min-h-6 w-full justify-between gap-3 rounded-sm px-1 py-0.5 text-left hover:bg-green-wash"
                    onClick={() => onGo({ document: p.document, field: p.field })}
                  >
                    <span className="min-w-0">
                      {p.beside ?? ''}
                      {p.quiet && <span className="block text-xs text-ink-2">{p.quiet}</span>}
                    </span>
                    <span className="shrink-0 text-ink-2">page {p.page}</span>
                  </button>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </Block>
  );
}

const done = (line: { act: string; source: string; shown: string }) => {
  if (line.act === 'clear') return 'cleared';
  if (line.act === 'empty') return 'left blank on purpose';
  if (line.act === 'leave') return 'left to the client';
  return line.act === 'choose' ? `chose ${line.source || 'by rule'}` : line.shown;
};

/** How it was worked out and who changed it: asked for when somebody wants to know. */
function Changes({ keyName, workedOut }: { keyName: string; workedOut: boolean }) {
  const { held, calls, outbox } = useWorkspace();
  const [asked, setAsked] = useState(false);
  const { data, error } = useQuery({
    queryKey: ['lens', outbox.name, keyName, held.head.seq],
    queryFn: () => calls.lens(keyName),
    placeholderData: (before, query) => (query?.queryKey[2] === keyName ? before : undefined),
    enabled: asked,
  });
  return (
    <section>
      <Button look="words" className="-ml-1.25" aria-expanded={asked} onClick={() => setAsked(!asked)}>
        {workedOut ? 'How this was calculated' : 'History'}
      </Button>
      {asked && error && <p className="text-xs text-wax">Couldn’t load this. Your work is safe. Try again.</p>}
      {asked && data?.why && <p className="text-xs">{capital(data.why)}.</p>}
      {asked && data?.history.length === 0 && !data.why && <p className="text-xs text-ink-2">No value yet.</p>}
      {asked && data && (
        <ol>
          {data.history.slice(0, 6).map((line, n) => (
            <li key={n} className="flex gap-2 py-1">
              <span className="pt-0.5">{markOf(line.source) && <Mark name={line.source as MarkName} size={12} />}</span>
              <span className="min-w-0 wrap-break-word">
                {done(line)}
                <span className="block text-xs text-ink-2">
                  {line.by}, {moment(line.at)}
                </span>
              </span>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}

function Block({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section>
      <h3 className="mb-1 text-xs font-semibold text-ink-2">{title}</h3>
      {children}
    </section>
  );
}

function State({ fact }: { fact: Fact }) {
  const { facts } = useWorkspace();
  const mark = markOf(fact.source, fact.differs);
  const known = fact.reads.flatMap((key) => facts.get(key) ?? []).filter((f) => f.shown);
  const waits = fact.missing.filter((k) => k !== fact.key).map((k) => facts.get(k)?.label ?? lastOf(k));
  return (
    <div className="space-y-1 text-xs text-ink-2">
      {mark && (
        <p className="flex items-center gap-1.5">
          <Mark name={mark} size={13} quiet /> {MARKS[mark].label}
          {fact.locked && ', locked by the brokerage'}
        </p>
      )}
      {fact.left && !fact.shown && <p>Left to the client.</p>}
      {fact.source === 'worked_out' && known.length > 0 && (
        <p>
          from{' '}
          {known.map((f, n) => (
            <span key={f.key}>
              {n > 0 && ', '}
              {f.label} <span className="text-ink">{f.shown}</span>
            </span>
          ))}
        </p>
      )}
      {!fact.shown && waits.length > 0 && !isAllNames(fact.key) && <p>Worked out as soon as there is {waits.join(' and ')}.</p>}
      {fact.replaced && fact.replaced !== fact.shown && <p>Replaces {fact.replaced}, which was calculated.</p>}
    </div>
  );
}
