/** Beside the paper while places to sign are put: what a press puts and for whom, the place in hand, and all of this paper. */
import { useState } from 'react';
import type { HandSpot } from '../../api/client';
import { Button } from '../../primitives/button';
import { shortDate, some } from '../../primitives/format';
import { DATED, inOrder, isFilledIn, kindOf, KINDS, pagesFrom, type What } from './spots';
import type { Held } from './keeping-spots';
import type { Spots } from './use-spots';

const MOST_LABEL = 120;

export function SpotsLens({ spots, show }: { spots: Spots; show: (document: string, page: number) => void }) {
  const { document, chosen } = spots;
  const mine = spots.spots.filter((s) => s.document === document?.id).sort(inOrder);
  return (
    <div className="space-y-4 p-4 text-sm" data-spots-lens>
      <div className="flex items-baseline justify-between gap-2">
        <h2 className="font-serif text-[1rem] font-semibold">Places to sign</h2>
        <Button look="words" onClick={spots.leave} title="Esc">
          Done
        </Button>
      </div>
      <p className="flex items-baseline justify-between gap-2 text-xs text-ink-2">
        <span className="min-w-0 wrap-anywhere">{`${document?.number ?? ''} ${document?.title ?? ''}`.trim()}</span>
        <span role="status" className="whitespace-nowrap">
          {spots.state}
        </span>
      </p>
      {spots.state.startsWith('Not') && <Button onClick={spots.tryAgain}>Try again</Button>}
      {spots.remembered && mine.length === 0 && <Remembered of={spots.remembered} put={spots.putRemembered} />}
      <Arming spots={spots} />
      {chosen && <InHand key={`${chosen.document}/${chosen.id}`} spot={chosen} spots={spots} />}
      {mine.length > 0 && <All mine={mine} spots={spots} show={show} />}
    </div>
  );
}

interface RememberedProps {
  of: NonNullable<Spots['remembered']>;
  put: (spots: HandSpot[]) => void;
}

function Remembered({ of, put }: RememberedProps) {
  return (
    <div className="border border-hair bg-green-wash px-3 py-2">
      <p className="mb-1.5">
        This paper was here before{of.by && `: ${of.by}`} put {some(of.spots.length, 'place')} on it, {shortDate(of.at)}.
      </p>
      <Button look="act" onClick={() => put(of.spots)}>
        Put them here
      </Button>
    </div>
  );
}

/** What the next press on the page puts, and for whom. */
function Arming({ spots }: { spots: Spots }) {
  const { what, who, people } = spots;
  return (
    <section aria-label="Place to add" className="space-y-2">
      <Whose people={people} who={who} choose={spots.setWho} label="For" />
      <div role="group" aria-label="Put" className="grid grid-cols-2 gap-1.5">
        {KINDS.map((k) => (
          <Button
            key={k.what}
            aria-pressed={what === k.what}
            title={`Key ${k.key.toUpperCase()}`}
            className={`justify-between! px-2! py-1! ${what === k.what ? 'border-green! bg-green-wash!' : ''}`}
            onClick={() => spots.arm(k.what)}
          >
            {k.name} <kbd className="font-sans text-xs text-ink-3 max-[899px]:hidden">{k.key.toUpperCase()}</kbd>
          </Button>
        ))}
      </div>
      <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
        <legend className="mb-1 text-xs text-ink-2">With the date beside</legend>
        {DATED.map((kind) => (
          <label key={kind} className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={spots.dated[kind]}
              onChange={(e) => spots.setDated({ ...spots.dated, [kind]: e.target.checked })}
            />
            {kind === 'signature' ? 'signatures' : 'initials'}
          </label>
        ))}
      </fieldset>
      <p className="text-xs text-ink-2">
        {what
          ? 'Press on the page, or draw it there. Enter puts it on the page in view.'
          : 'Choose what to put. Places are moved by the pointer or the arrows.'}
      </p>
    </section>
  );
}

interface WhoseProps {
  people: Spots['people'];
  who: string;
  choose: (who: string) => void;
  label: string;
}

function Whose({ people, who, choose, label }: WhoseProps) {
  return (
    <label className="block">
      <span className="mb-1 block text-xs text-ink-2">{label}</span>
      <select className="field w-full" value={who} onChange={(e) => choose(e.target.value)}>
        {!people.some((p) => p.key === who) && <option value={who}>{who ? 'nobody in this deal' : 'Reading …'}</option>}
        {people.map((p) => (
          <option key={p.key} value={p.key}>
            {p.name ? `${p.name}, ${p.role.toLowerCase()}` : `${p.role}, not named yet`}
          </option>
        ))}
      </select>
    </label>
  );
}

/** The place in hand: what and whose it is, on which other pages, and whose comes next. */
function InHand({ spot, spots }: { spot: Held; spots: Spots }) {
  const [pages, setPages] = useState('');
  const next = spots.next(spot);
  const most = spots.document?.pages ?? 1;
  return (
    <section aria-label="In hand" className="space-y-2 border-t border-hair pt-3">
      <h3 className="font-semibold">
        {kindOf(spot.what).name}, page {spot.page}
      </h3>
      <Whose people={spots.people} who={spot.who} choose={(who) => spots.change(spot, { who })} label="Whose" />
      <label className="block">
        <span className="mb-1 block text-xs text-ink-2">Kind</span>
        <select
          className="field w-full"
          value={spot.what}
          onChange={(e) => spots.change(spot, { what: e.target.value as What, required: e.target.value !== 'check' })}
        >
          {KINDS.map((k) => (
            <option key={k.what} value={k.what}>
              {k.name}
            </option>
          ))}
        </select>
      </label>
      {isFilledIn(spot.what) && <Asked spot={spot} spots={spots} />}
      {most > 1 && (
        <form
          className="flex items-end gap-1.5"
          onSubmit={(e) => {
            e.preventDefault();
            spots.onPages(spot, pagesFrom(pages || 'all', most));
            setPages('');
          }}
        >
          <label className="min-w-0 flex-1">
            <span className="mb-1 block text-xs text-ink-2">Also on pages</span>
            <input
              className="field w-full"
              value={pages}
              placeholder={`all ${most}`}
              maxLength={60}
              onChange={(e) => setPages(e.target.value)}
            />
          </label>
          <Button type="submit">Put there</Button>
        </form>
      )}
      <div className="flex flex-wrap gap-1.5">
        {next && (
          <Button title="Key A" onClick={() => spots.forNext(spot)}>
            Same for {spots.nameOf(next)} <kbd className="font-sans text-xs text-ink-3 max-[899px]:hidden">A</kbd>
          </Button>
        )}
        <Button look="warn" title="Delete" onClick={() => void spots.remove([spot])}>
          Take off
        </Button>
      </div>
    </section>
  );
}

/** What a text or a box asks of whoever signs. */
function Asked({ spot, spots }: { spot: Held; spots: Spots }) {
  return (
    <>
      <label className="block">
        <span className="mb-1 block text-xs text-ink-2">Asked as</span>
        <input
          className="field w-full"
          maxLength={MOST_LABEL}
          value={spot.label ?? ''}
          placeholder={spot.what === 'check' ? 'Should this box be checked?' : 'What goes here?'}
          onChange={(e) => spots.change(spot, { label: e.target.value })}
        />
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={spot.required ?? true}
          onChange={(e) => spots.change(spot, { required: e.target.checked })}
        />
        Required
      </label>
    </>
  );
}

interface AllProps {
  mine: Held[];
  spots: Spots;
  show: (document: string, page: number) => void;
}

/** Every place of this paper, by page. */
function All({ mine, spots, show }: AllProps) {
  return (
    <section aria-label="On this paper" className="border-t border-hair pt-3">
      <h3 className="mb-1 flex items-baseline justify-between text-xs text-ink-2">
        <span>{some(mine.length, 'place')} on this paper</span>
        <span title="Keys . and ,">. next, , before</span>
      </h3>
      <ul>
        {mine.map((s) => (
          <li key={s.id} className="border-b border-hair last:border-0">
            <button
              type="button"
              aria-current={spots.chosen?.id === s.id || undefined}
              className="flex w-full items-baseline justify-between gap-2 py-1.5 text-left hover:bg-blotter aria-[current]:font-semibold"
              onClick={() => {
                show(s.document, s.page);
                spots.choose({ document: s.document, id: s.id });
              }}
            >
              <span className="min-w-0 wrap-anywhere">
                {kindOf(s.what).name}, {spots.nameOf(s.who)}
              </span>
              <span className="text-xs text-ink-2">{s.page}</span>
            </button>
          </li>
        ))}
      </ul>
      {mine.length > 1 && (
        <Button look="words" className="-ml-1 mt-1" onClick={() => void spots.remove(mine)}>
          Take all off
        </Button>
      )}
    </section>
  );
}
