/** The lens: the thing in hand, where it came from, where it goes, what can be done. */
import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import type { ReactNode } from 'react';
import type { Fact } from '../../api/client';
import { lensQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { Mark, markOf, MARKS, type MarkName } from '../../primitives/mark';
import { moment, some } from '../../primitives/words';
import { useDeal } from '../deals/use-deal';

interface Place {
  document: string;
  field: string;
}

export function Lens({ keyName, onGo, children }: { keyName: string; onGo: (place: Place) => void; children?: ReactNode }) {
  const { deal, id, edit, facts } = useDeal();
  const { data, error } = useQuery(lensQuery(id, deal.head.offer, keyName, deal.head.seq));
  const fact = facts.get(keyName) ?? data?.fact;
  if (error) return <p className="p-4 text-sm text-wax">This can’t be read just now. What you typed is safe.</p>;
  if (!fact) return <p className="p-4 text-sm text-ink-2">Reading …</p>;
  const group = deal.groups[fact.group];
  const typed = fact.source === 'typed';
  return (
    <div className="space-y-4 p-4 text-sm">
      <div>
        {group ? (
          <Link
            to="/deals/$deal/facts"
            params={{ deal: id }}
            search={{ fact: keyName }}
            title="Show it among the facts"
            className="text-xs text-ink-2 hover:underline"
          >
            {group}
          </Link>
        ) : (
          <p className="text-xs text-ink-2">Only on this form</p>
        )}
        <h2 className="font-serif text-[16px] font-semibold leading-snug">{fact.label}</h2>
        {fact.help && <p className="mt-1 text-xs text-ink-2">{fact.help}</p>}
      </div>
      {children}
      <State fact={fact} replaced={data?.replaced ?? ''} reads={data?.reads ?? []} />
      {data && data.beside.length > 1 && (
        <Block title="At each source">
          <ul>
            {data.beside.map((b) => (
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
                  <Button look="words" className="py-0!" onClick={() => edit({ op: 'choose', key: keyName, source: b.source })}>
                    Use
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </Block>
      )}
      {(typed || (fact.kind !== 'yes_no' && fact.kind !== 'choice' && !fact.shown && !fact.worked_out)) && (
        <div className="flex flex-wrap gap-2">
          {typed && (
            <Button onClick={() => edit({ op: 'clear', key: keyName })}>
              {data?.replaced || (data && data.beside.length > 1) ? 'Give back' : 'Clear'}
            </Button>
          )}
          {!typed && <Button onClick={() => edit({ op: 'empty', key: keyName })}>Intentionally empty</Button>}
        </div>
      )}
      {data && data.places.length > 0 && (
        <Block title={`Goes to ${some(data.places.length, 'blank')}`}>
          <ul>
            {data.places.map((p) => (
              <li key={p.document + p.field}>
                <button
                  type="button"
                  className="flex w-full justify-between gap-3 rounded-sm px-1 py-0.5 text-left hover:bg-green-wash"
                  onClick={() => onGo({ document: p.document, field: p.field })}
                >
                  <span>Form {p.number}</span>
                  <span className="text-ink-2">page {p.page}</span>
                </button>
              </li>
            ))}
          </ul>
        </Block>
      )}
      {data && data.history.length > 0 && (
        <Block title="Changed">
          <ol>
            {data.history.slice(0, 6).map((line, n) => (
              <li key={n} className="flex gap-2 py-1">
                <span className="pt-0.5">{markOf(line.source) && <Mark name={line.source as MarkName} size={12} />}</span>
                <span className="min-w-0 wrap-break-word">
                  {line.act === 'clear'
                    ? 'cleared'
                    : line.act === 'empty'
                      ? 'intentionally empty'
                      : line.act === 'choose'
                        ? `chose ${line.source || 'by rule'}`
                        : line.shown}
                  <span className="block text-xs text-ink-2">
                    {line.by}, {moment(line.at)}
                  </span>
                </span>
              </li>
            ))}
          </ol>
        </Block>
      )}
    </div>
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

function State({ fact, replaced, reads }: { fact: Fact; replaced: string; reads: string[] }) {
  const { facts } = useDeal();
  const mark = markOf(fact.source, fact.differs);
  const known = reads.flatMap((key) => facts.get(key) ?? []).filter((f) => f.shown);
  const waits = fact.missing.filter((k) => k !== fact.key).map((k) => facts.get(k)?.label ?? k.split('.').pop());
  return (
    <div className="space-y-1 text-xs text-ink-2">
      {mark && (
        <p className="flex items-center gap-1.5">
          <Mark name={mark} size={13} quiet /> {MARKS[mark].label}
          {fact.locked && ', locked by the brokerage'}
        </p>
      )}
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
      {!fact.shown && waits.length > 0 && !fact.key.endsWith('.names') && (
        <p>Worked out as soon as there is {waits.join(' and ')}.</p>
      )}
      {fact.fault && <p className="text-wax">{fact.fault}</p>}
      {replaced && replaced !== fact.shown && <p>Replaces {replaced}, which was worked out.</p>}
    </div>
  );
}
