/** What can be done with the blank in hand beyond typing: choices, only here, rejoin. */
import { useNavigate } from '@tanstack/react-router';
import type { Blank } from '../../api/client';
import { Button } from '../../primitives/button';
import { ClashNote } from '../hand/clash-note';
import { useHand } from '../hand/hand';

/** `onOnlyHere` puts the cursor into the blank, which from then on is written alone. */
export function BlankActions({ blank, onOnlyHere }: { blank: Blank; onOnlyHere: () => void }) {
  const { edit, held, at, facts, isDeal, answeredBy } = useHand();
  const by = answeredBy(blank);
  const navigate = useNavigate();
  const group = facts.get(blank.key)?.group ?? '';
  const named = group in held.parties && !blank.editable && blank.state !== 'theirs';
  const key = blank.only_here ? blank.own_key : blank.key;
  const document = held.documents.find((d) => d.id === blank.document);
  const shared = blank.own_key !== blank.key;
  const choices = blank.kind === 'yes_no' ? ['yes', 'no'] : blank.options;
  const now = blank.kind === 'yes_no' ? (facts.get(key)?.edit.toLowerCase() ?? '') : (facts.get(key)?.edit ?? '');
  return (
    <div className="space-y-2">
      {by && <p className="text-ink-2">In a deal: {by}.</p>}
      {blank.state === 'theirs' && <p className="text-ochre">Only {blank.role} may answer this. It is left for them.</p>}
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
      {named && isDeal && (
        <div>
          <p className="mb-2 text-ink-2">Names come from the parties, so that they stand alike on every form.</p>
          <Button onClick={() => void navigate(at('facts', { hash: `group-${group}` }))}>
            {blank.state === 'filled' ? `Change the ${group}` : `Name the ${group}`}
          </Button>
        </div>
      )}
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
      <Explained of={blank.explained} />
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
