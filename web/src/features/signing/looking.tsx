/** What will be sent, as each signer will see it; and sending it. */
import { useEffect, useRef, useState } from 'react';
import type { WholeRound } from '../../api/client';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { onPage } from '../../primitives/on-page';
import { PagePicture } from '../../primitives/page-picture';
import { Switch } from '../../primitives/switch';
import { some } from '../../primitives/format';
import { calls, useOnRound } from './use-rounds';

interface Props {
  row: WholeRound;
  back: () => void;
}

const SHOWN = 6;

export function Looking({ row, back }: Props) {
  const signing = row.signers.filter((s) => s.turn > 0);
  const [who, setWho] = useState(signing[0]?.key ?? '');
  const head = useRef<HTMLDivElement>(null);
  useEffect(() => {
    head.current?.scrollIntoView({ block: 'nearest' }); // begun from the foot of a long page
  }, []);
  return (
    <div className="grid gap-6 min-[980px]:grid-cols-[minmax(0,1fr)_320px]">
      <div className="min-w-0">
        <div ref={head} className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1.5">
          <span className="text-sm text-ink-2">Preview as</span>
          <Switch label="Preview as" ways={signing.map((s) => [s.key, s.name] as const)} at={who} choose={setWho} />
        </div>
        <RoundPages row={row} who={who} />
      </div>
      <Sending row={row} back={back} />
    </div>
  );
}

/** To whom it goes, what stands against it, and the button. */
function Sending({ row, back }: Props) {
  const signing = row.signers.filter((s) => s.turn > 0);
  const first = signing.filter((s) => s.turn === signing[0]?.turn).map((s) => s.name);
  const kept = useKept(`round ${row.id} reason`, '');
  const send = useOnRound<string>(row.id, calls.send(row.id), () => kept.settle(''));
  const look = useOnRound<void>(row.id, calls.look(row.id));
  const needsReason = row.must.length > 0;
  return (
    <aside aria-label="Sending" className="min-[980px]:sticky min-[980px]:top-0 min-[980px]:self-start max-[979px]:order-first">
      <div className="border border-hair bg-sheet px-4 py-3.5 text-sm">
        <h2 className="mb-1 font-serif text-[1.0625rem] font-semibold">{row.subject}</h2>
        <p className="mb-2 text-ink-2">
          {some(row.papers.length, 'paper')},{' '}
          {some(
            row.papers.reduce((n, p) => n + p.pages.length, 0),
            'page',
          )}
          . First to {first.join(' and ')}
          {signing.length > first.length &&
            `, then to ${signing
              .slice(first.length)
              .map((s) => s.name)
              .join(', ')}`}
          .
        </p>
        {!row.current && (
          <p role="alert" className="mb-2 border border-ochre bg-ochre-wash px-3 py-2">
            The deal has changed since this preview.{' '}
            <Button look="words" disabled={look.isPending} onClick={() => look.mutate()}>
              Update the preview
            </Button>
          </p>
        )}
        {needsReason && (
          <div className="mb-3">
            <p className="font-medium text-wax">{some(row.must.length, 'thing')} to be fixed first</p>
            <ul className="mb-1.5 mt-0.5 list-disc space-y-0.5 pl-4 text-xs text-ink-2">
              {row.must.slice(0, SHOWN).map((m) => (
                <li key={m}>{m}</li>
              ))}
              {row.must.length > SHOWN && <li>and {row.must.length - SHOWN} more, under Proofread</li>}
            </ul>
            <label>
              Reason for sending it as is
              <input
                className="field mt-0.5 w-full"
                maxLength={300}
                value={kept.typed}
                onChange={(e) => kept.set(e.target.value)}
              />
            </label>
          </div>
        )}
        <Button
          look="act"
          className="w-full"
          disabled={send.isPending || !row.current || (needsReason && !kept.typed.trim())}
          onClick={() => send.mutate(kept.typed.trim())}
        >
          {send.isPending ? 'Sending …' : `Send to ${first.join(' and ')}`}
        </Button>
        <Button look="words" className="-ml-1 mt-2" onClick={back}>
          Change something
        </Button>
      </div>
    </aside>
  );
}

/** The pages as they are sent; the places of one signer lit, those of others quiet. */
function RoundPages({ row, who }: { row: WholeRound; who: string }) {
  return (
    <>
      {row.papers.map((paper) => (
        <section key={paper.id} aria-label={paper.title} className="mb-5">
          <h3 className="mb-1 flex flex-wrap items-baseline gap-x-3 text-sm font-semibold">
            <span className="wrap-anywhere">{paper.title}</span>
            <span className="font-normal text-ink-2">
              {some(paper.places.filter((p) => p.who === who && p.sign !== 'date').length, 'place')} of theirs
            </span>
          </h3>
          {paper.pages.map((size, n) => (
            <div
              key={n}
              className="on-paper relative mb-2 w-full border border-blotter-3 bg-paper"
              style={{ aspectRatio: `${size.width} / ${size.height}` }}
            >
              <PagePicture
                src={`/api/rounds/${row.id}/papers/${paper.id}/${n + 1}/110.png`}
                alt={`Page ${n + 1} of ${paper.title}`}
                loading="lazy"
                className="absolute inset-0 h-full w-full"
              />
              {paper.places
                .filter((p) => p.page === n + 1)
                .map((p) => (
                  <Spot key={p.id} place={p} size={size} mine={p.who === who} />
                ))}
            </div>
          ))}
        </section>
      ))}
    </>
  );
}

type Paper = WholeRound['papers'][number];

function Spot({ place, size, mine }: { place: Paper['places'][number]; size: Paper['pages'][number]; mine: boolean }) {
  return (
    <span
      aria-hidden="true"
      data-spot={mine ? 'mine' : 'other'}
      className={`absolute ${mine ? 'border-2 border-green bg-green/20' : 'border border-dotted border-ink-3'}`}
      style={onPage(place.rect, size)}
    />
  );
}
