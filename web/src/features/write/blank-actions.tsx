/** What can be done with the blank in hand beyond typing: choices, only here, rejoin. */
import { useRef } from 'react';
import type { Blank } from '../../api/client';
import { Button } from '../../primitives/button';
import { useScreenKeys } from '../../primitives/screen-keys';
import { DayPicker } from '../facts/day-picker';
import { Parties } from '../facts/parties';
import { useRecorded } from '../facts/use-recorded';
import { ClashNote } from '../workspace/clash-note';
import { useWorkspace, type Held } from '../workspace/workspace';
import { idOf } from '../workspace/way';
import type { Field } from './clause-names';
import { ClausesHere, takesWording } from './clauses-here';
import { Earlier } from './earlier';

/** Whether the blank shows names that stand among the parties of `group`, and is not typed over. */
export const namesParties = (blank: Blank, held: Held, group: string) =>
  group in held.parties && !blank.editable && blank.state !== 'theirs';

/** `onOnlyHere` puts the cursor into the blank, which from then on is written alone. */
export function BlankActions({ blank, onOnlyHere }: { blank: Blank; onOnlyHere: () => void }) {
  const { edit, held, facts, isDeal, answeredBy } = useWorkspace();
  const by = answeredBy(blank);
  const group = facts.get(blank.key)?.group ?? '';
  const named = namesParties(blank, held, group);
  const key = blank.only_here ? blank.own_key : blank.key;
  const document = held.documents.find((d) => d.id === blank.document);
  const shared = blank.own_key !== blank.key;
  const choices = blank.kind === 'yes_no' ? ['yes', 'no'] : blank.options;
  const now = blank.kind === 'yes_no' ? (facts.get(key)?.edit.toLowerCase() ?? '') : (facts.get(key)?.edit ?? '');
  return (
    <div className="space-y-2">
      {by && <p className="text-ink-2">In a deal: {by}.</p>}
      {blank.state === 'theirs' && !blank.editable && (
        <p className="text-ochre">Only {blank.role} may answer this. It is left for them.</p>
      )}
      {blank.only_here && (
        <p className="text-ochre">Only here: this place of form {document?.number} differs from the shared answer on purpose.</p>
      )}
      <ClashNote clashes={blank.clashes} of={key} shown={blank.text} />
      {blank.draft && (
        <p className="text-wax">
          “{blank.draft.text}” can’t be read; the paper prints {blank.text ? `“${blank.text}”` : 'nothing'}.{' '}
          <button type="button" className="underline" onClick={() => edit({ op: 'drop', key })}>
            Drop it
          </button>
        </p>
      )}
      {named && isDeal && <PartiesHere group={group} missing={blank.waits_for} />}
      {choices.length > 0 && blank.editable && (
        <div className="flex flex-wrap gap-1.5">
          {choices.map((o) => (
            <Button
              key={o}
              onClick={() => edit({ op: 'type', key, text: o })}
              aria-pressed={now === o}
              className={`px-2! py-1! ${now === o ? 'border-green! bg-green-wash!' : ''}`}
            >
              {o}
            </Button>
          ))}
        </div>
      )}
      {blank.editable && blank.kind === 'date' && (
        <DayPicker shown={blank.text} label={blank.label} onPick={(day) => edit({ op: 'type', key, text: day })} />
      )}
      <Explained of={blank.explained} />
      {blank.editable && takesWording(blank.kind) && (
        <ClausesHere key={key} of={key} short={blank.lines === 1} fieldOf={() => fieldOnPaper(blank)} />
      )}
      {blank.editable && blank.shape === 'text' && <Earlier of={key} onTake={(text) => edit({ op: 'type', key, text })} />}
      {shared && blank.editable && (
        <div>
          {blank.only_here ? (
            <Button onClick={() => edit({ op: 'clear', key: blank.own_key })}>Rejoin the shared answer</Button>
          ) : (
            blank.state === 'filled' &&
            blank.shape === 'text' && (
              <Button
                title="From now on, what is typed here changes this place alone"
                onClick={() => {
                  edit({ op: 'type', key: blank.own_key, text: blank.text });
                  onOnlyHere();
                }}
              >
                Only here
              </Button>
            )
          )}
        </div>
      )}
    </div>
  );
}

/** The blank's field: on the paper, or in the lens where the paper is too small to be typed in. */
const fieldOnPaper = (blank: Blank) =>
  document.querySelector<Field>(`[data-entry] :is(input, textarea)`) ??
  document.querySelector<Field>(`[data-blank="${CSS.escape(idOf(blank))}"]`);

/** The parties whose names the blank shows, named here; Enter on the paper takes the owners that the roll has, or comes here. */
function PartiesHere({ group, missing }: { group: string; missing: string[] }) {
  const { held } = useWorkspace();
  const { named, confirm } = useRecorded(group);
  const box = useRef<HTMLDivElement>(null);
  const takes = (held.parties[group] ?? []).length === 0 && named.length > 0;
  useScreenKeys((e) => {
    const onPaper = e.target instanceof Element && e.target.matches('[data-blank]');
    if (e.key !== 'Enter' || e.ctrlKey || e.metaKey || !onPaper) return;
    e.preventDefault();
    if (takes) confirm();
    else fieldFor(box.current, missing)?.focus();
  });
  return (
    <div ref={box}>
      <p className="mb-2 text-ink-2">
        Named once here, the {group} stand alike on every form.
        {takes && ` Enter on the paper names ${named.map((n) => n.name).join(' and ')}.`}
      </p>
      <Parties group={group} onHand={() => undefined} />
    </div>
  );
}

/** The field of what is missing, or else the first; a button where nobody is named yet. */
function fieldFor(box: HTMLElement | null, missing: string[]): HTMLElement | null | undefined {
  const named = missing.map((key) => box?.querySelector<HTMLElement>(`[data-fact="${CSS.escape(key)}"] :is(input, select)`));
  return named.find(Boolean) ?? box?.querySelector('input') ?? box?.querySelector('button');
}

/** What each of the choices means, where the form says so. */
function Explained({ of }: { of: Blank['explained'] }) {
  if (Object.keys(of).length === 0) return null;
  return (
    <dl className="text-xs text-ink-2">
      {Object.entries(of).map(([value, meaning]) => (
        <div key={value} className="py-0.5">
          <dt className="inline font-semibold">{value}: </dt>
          <dd className="inline">{meaning}</dd>
        </div>
      ))}
    </dl>
  );
}
