/** A paper that came back: what they changed in it against ours, who has signed, and its terms taken over as their turn. */
import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { client, got, type PackageItem, type Returned } from '../../api/client';
import { returnedQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { sayProblem } from '../../primitives/notices';
import { moment, some, today } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { useTurnActions, useTurns } from './use-turns';

type Difference = Returned['differences'][number];

interface Props {
  document: PackageItem;
  onClose: () => void;
}

export function WhatChanged({ document, onClose }: Props) {
  const { deal, id } = useDeal();
  const [against, setAgainst] = useState('');
  const { offer, seq } = deal.head;
  const { data, error, isFetching } = useQuery(returnedQuery(id, offer, document.id, against, seq));
  return (
    <Dialog open onOpenChange={onClose} title={`Changes in ${document.title}`} width={720}>
      {error && (
        <p role="alert" className="text-sm text-wax">
          {error.message} {'mend' in error ? String(error.mend) : ''}
        </p>
      )}
      {!data && !error && <p className="text-sm text-ink-2">Comparing the pages …</p>}
      {data && (
        <div aria-busy={isFetching} className="aria-busy:opacity-60">
          <label className="flex flex-wrap items-center gap-x-2 text-sm">
            Compared with
            <select className="field min-w-0 flex-1" value={data.against} onChange={(e) => setAgainst(e.target.value)}>
              {data.choices.map((c) => (
                <option key={c.code} value={c.code}>
                  {c.title}
                </option>
              ))}
            </select>
          </label>
          <p className="mb-3 mt-1 text-xs text-ink-2">
            {data.sent ? `as it was sent to be signed, ${moment(data.sent)}` : 'as it stands now: it was never sent to be signed'}
          </p>
          <Signatures key={data.against} found={data} document={document.id} onClose={onClose} />
          <Differences found={data} document={document.id} />
          <TakeOver found={data} document={document.id} onClose={onClose} />
        </div>
      )}
    </Dialog>
  );
}

interface TakeProps {
  found: Returned;
  document: string;
  onClose: () => void;
}

/** Whose places have ink in them; and that it was signed by pen goes on record. */
function Signatures({ found, document, onClose }: TakeProps) {
  const { id, params, take } = useDeal();
  const inked = found.people.filter((p) => p.signed);
  const [who, setWho] = useState<readonly string[]>(() => inked.map((p) => p.key));
  const [day, setDay] = useState(today);
  const record = useAction({
    mutationFn: (_: void, key: string) =>
      got(
        client.POST('/api/deals/{deal}/documents/{document}/signed', {
          params: { ...params, path: { deal: id, document } },
          body: { change: key, ours: found.against, who: [...who], day },
        }),
      ),
    onSuccess: (delta) => {
      take(delta, delta.said);
      onClose();
    },
    onError: sayProblem,
  });
  if (found.people.length === 0) return null;
  const names = inked.map((p) => p.name).join(', ');
  return (
    <fieldset className="mb-4 text-sm">
      <legend className="mb-1 text-sm font-semibold text-ink-2">Signatures</legend>
      <p className="mb-1.5">{names ? `There is ink in the places of ${names}.` : 'No signatures found.'}</p>
      <ul className="mb-2 flex flex-wrap gap-x-5">
        {found.people.map((p) => (
          <li key={p.key}>
            <label className="flex gap-2 py-0.5">
              <input
                type="checkbox"

                checked={who.includes(p.key)}
                onChange={(e) => setWho(e.target.checked ? [...who, p.key] : who.filter((k) => k !== p.key))}
              />
              {p.name}
            </label>
          </li>
        ))}
      </ul>
      {who.length > 0 && (
        <div className="flex flex-wrap items-end gap-x-3 gap-y-2">
          <label>
            The last one signed on
            <input
              className="field mt-1 block"
              type="date"
              required
              max={today()}
              value={day}
              onChange={(e) => setDay(e.target.value)}
            />
          </label>
          <Button disabled={!day || record.isPending} onClick={() => record.mutate()}>
            Record it as signed on paper
          </Button>
        </div>
      )}
    </fieldset>
  );
}

/** What a difference says, in words. */
function inWords(d: Difference): [string, string] {
  const of = (text: string) => text || 'nothing';
  switch (d.kind) {
    case 'blank':
      return [d.label, `from ${of(d.was)} to ${of(d.now)}`];
    case 'box':
      return [[d.label, d.option].filter(Boolean).join(': '), d.now ? 'is marked now' : 'is no longer marked'];
    case 'words':
      if (!d.was) return ['Added in print', `“${d.now}”`];
      return d.now ? ['Printed otherwise', `“${d.was}” is “${d.now}”`] : ['Struck from the print', `“${d.was}”`];
    case 'drawn':
      return [d.label || 'Written or drawn', 'ink that wasn’t there: a stroke, a word by hand or a stamp'];
    case 'gone':
      return [d.label || 'Gone', 'something that stood here is covered or gone'];
    case 'missing page':
      return ['A page of ours is missing', `it begins “${d.was}”`];
    case 'new page':
      return ['A page that we didn’t send', d.now ? `it begins “${d.now}”` : 'a picture'];
    default:
      return ['This page can’t be compared', 'compare it yourself'];
  }
}

function Differences({ found: { differences }, document }: { found: Returned; document: string }) {
  const { deal } = useDeal();
  if (differences.length === 0)
    return <p className="mb-4 text-sm font-medium">Nothing else is different. Every word and blank is as you sent it.</p>;
  return (
    <>
      <h3 className="mb-1 text-sm font-semibold text-ink-2">{some(differences.length, 'difference')}</h3>
      <ul className="mb-4 max-h-[28vh] overflow-auto border border-hair bg-paper" tabIndex={0} aria-label="Differences">
        {differences.map((d, n) => {
          const [what, how] = inWords(d);
          return (
            <li key={n} className="flex flex-wrap items-baseline gap-x-3 border-b border-hair px-3 py-1.5 text-sm last:border-0">
              <span className="min-w-0 flex-1 basis-[260px] wrap-anywhere">
                <span className="font-medium">{what}</span> <span className="text-ink-2">{how}</span>
              </span>
              {d.their_page > 0 && (
                <Link
                  className="whitespace-nowrap text-green-2 hover:underline"
                  to="/deals/$deal/write"
                  params={{ deal: deal.head.id }}
                  search={(s) => ({ ...s, by: 'paper', document, page: d.their_page })}
                >
                  page {d.their_page}
                  <span className="sr-only"> of theirs: {what}</span>
                </Link>
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}

/** The terms that their paper says otherwise: kept as what they countered, by one action. */
function TakeOver({ found: { terms }, document, onClose }: TakeProps) {
  const { deal } = useDeal();
  const { data: turns } = useTurns();
  const navigate = useNavigate();
  const [left, setLeft] = useState<readonly string[]>([]);
  const { taking } = useTurnActions(() => {
    onClose();
    void navigate({ to: '/deals/$deal/offers', params: { deal: deal.head.id }, search: (s) => s, hash: 'turns' });
  });
  const chosen = terms.filter((t) => !left.includes(t.key));
  if (terms.length === 0) return null;
  const keep = () =>
    turns &&
    taking.mutate({
      maker: turns.sides[1]!,
      day: today(),
      expires: null,
      expires_at: null,
      paper: document,
      terms: chosen.map(({ key, text }) => ({ key, text })),
    });
  return (
    <fieldset className="text-sm">
      <legend className="mb-1 text-sm font-semibold text-ink-2">Their terms</legend>
      <ul className="mb-3 grid gap-x-4 min-[620px]:grid-cols-2">
        {terms.map((t) => (
          <li key={t.key}>
            <label className="flex gap-2 py-0.5">
              <input
                type="checkbox"

                checked={!left.includes(t.key)}
                onChange={(e) => setLeft(e.target.checked ? left.filter((k) => k !== t.key) : [...left, t.key])}
              />
              <span className="wrap-anywhere">
                {t.label}: <span className="font-medium">{t.text}</span>
              </span>
            </label>
          </li>
        ))}
      </ul>
      <Button look="act" disabled={!turns || taking.isPending || chosen.length === 0} onClick={keep}>
        Keep as what they {turns?.binding ? 'want to amend' : 'countered'}
      </Button>
    </fieldset>
  );
}
