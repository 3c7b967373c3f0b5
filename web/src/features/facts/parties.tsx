/** The people and entities of one side. */
import { useLayoutEffect, useRef, useState } from 'react';
import { partyKey } from '../../api/keys';
import { Button } from '../../primitives/button';
import { Mark } from '../../primitives/mark';
import { announce } from '../../primitives/notices';
import { capital } from '../../primitives/format';
import { GroupContacts } from '../contacts/group-contacts';
import { Findings } from '../workspace/findings';
import { useWorkspace, type Held } from '../workspace/workspace';
import { FactInput } from './fact-input';
import { oneOf, useRecorded } from './use-recorded';

type Party = NonNullable<Held['parties'][string]>[number];

const WIDTH: Record<string, string> = {
  given: 'w-[23%]',
  middle: 'w-[16%]',
  family: 'w-[26%]',
  suffix: 'w-[12%]',
  email: 'w-[38%]',
  phone: 'w-[24%]',
  mailing_address: 'w-[58%]',
  capacity: 'w-[30%]',
  entity_name: 'w-[52%]',
  entity_kind: 'w-[24%]',
  signer: 'w-[38%]',
};

/** The fields of such a party; what sort it is, is said by a button. */
const askedOf = (held: Held, sort: string) =>
  held.catalog.party_fields.filter((f) => !f.worked_out && f.field !== 'kind' && (!f.of || f.of === sort));

export function Parties({ group, onHand }: { group: string; onHand: (key: string) => void }) {
  const { held, edit } = useWorkspace();
  const there = held.parties[group];
  const parties = there ?? [];
  const one = oneOf(held, group);
  const added = useRef('');
  const box = useRef<HTMLDivElement>(null);
  // Whoever is added is who is named next.
  useLayoutEffect(() => {
    if (!there?.some((p) => p.id === added.current)) return;
    box.current?.querySelector<HTMLElement>(`[data-party="${added.current}"] :is(input, select)`)?.focus();
    added.current = '';
  }, [there]);
  const add = () => {
    added.current = crypto.randomUUID().slice(0, 8);
    edit({ op: 'party_add', key: group, party: added.current });
  };
  return (
    <div ref={box} className="@container border border-hair bg-paper">
      {parties.map((p, n) => (
        <PartyRow key={p.id} group={group} position={n + 1} party={p} onHand={onHand} />
      ))}
      <Suggested group={group} />
      {parties.length === 0 && !held.suggested.some((s) => s.group === group) && (
        <p className="px-4 pt-3 text-sm text-ink-2">No {one} is named yet.</p>
      )}
      <div className="flex flex-wrap items-center gap-x-3 px-3 py-2">
        <Button look="words" onClick={add}>
          Add a {one}
        </Button>
        <GroupContacts group={group} />
      </div>
    </div>
  );
}

/** The owners that the roll names, to be confirmed: they are suggested, never assumed. */
function Suggested({ group }: { group: string }) {
  const { owners, named, doing, confirm } = useRecorded(group);
  if (owners.length === 0) return null;
  return (
    <div className="border-b border-hair px-4 py-3">
      <p className="mb-1.5 text-sm">
        <Mark name="roll" /> The tax roll names <span className="font-medium">{owners[0]?.recorded}</span>
      </p>
      <ul className="mb-2 text-sm">
        {owners.map((owner, n) => (
          <li key={n} className="py-0.5">
            <span className="font-medium">{owner.name || 'Unnamed'}</span>
            {owner.capacity && `, ${owner.capacity}`}
            {owner.name && owner.fields.mailing_address && (
              <span className="block text-xs text-ink-2">Mail to {owner.fields.mailing_address}</span>
            )}
            <Findings of={owner.findings} inLine />
          </li>
        ))}
      </ul>
      {named.length > 0 && <Button onClick={confirm}>{doing}</Button>}
    </div>
  );
}

function PartyRow({
  group,
  position,
  party,
  onHand,
}: {
  group: string;
  position: number;
  party: Party;
  onHand: (key: string) => void;
}) {
  const { held, facts, edit } = useWorkspace();
  const one = oneOf(held, group);
  const called = party.name || `${one} ${position}`;
  const [entity, setEntity] = useState(party.is_entity);
  const asked = askedOf(held, entity ? 'entity' : 'person');
  const ids = (held.parties[group] ?? []).map((p) => p.id);
  const up = () => {
    const order = ids.filter((i) => i !== party.id);
    order.splice(position - 2, 0, party.id);
    edit({ op: 'party_order', key: group, text: order.join(',') });
    announce(`${called} is ${one} ${position - 1} of ${ids.length} now.`);
  };
  return (
    <fieldset data-party={party.id} className="border-b border-hair px-4 py-3">
      <legend className="sr-only">{`${one} ${position}`}</legend>
      <div className="mb-2 flex flex-wrap items-center gap-x-3 text-sm">
        <span className="font-medium">
          {position}. {party.name || <span className="text-ink-2">not named yet</span>}
        </span>
        <span className="ml-auto flex flex-wrap items-center gap-x-2 @max-[560px]:ml-0">
          <GroupContacts group={group} position={position} party={party.id} />
          <Button
            look="words"
            aria-label={`${entity ? 'A person instead' : 'A trust, company or estate'}, ${called}`}
            onClick={() => setEntity(!entity)}
          >
            {entity ? 'A person instead' : 'A trust, company or estate'}
          </Button>
          {position > 1 && (
            <Button look="words" aria-label={`Move up ${called}`} onClick={up}>
              Move up
            </Button>
          )}
          <Button
            look="words"
            aria-label={`Remove ${called}`}
            onClick={() => edit({ op: 'party_remove', key: group, party: party.id })}
          >
            Remove
          </Button>
        </span>
      </div>
      <div className="flex flex-wrap gap-x-2 gap-y-2">
        {asked.map(({ field, label }) => {
          const fact = facts.get(partyKey(group, position, field));
          return fact ? (
            <div
              key={field}
              data-fact={fact.key}
              className={`${WIDTH[field]} @max-[560px]:w-[calc(50%-4px)] @max-[340px]:w-full`}
            >
              <span className="block text-xs text-ink-2" aria-hidden="true">
                {capital(label)}
              </span>
              <FactInput
                fact={{ ...fact, example: '' }}
                label={`${held.catalog.ones.get(group)} ${position}, ${label}`}
                onFocus={() => onHand(fact.key)}
              />
            </div>
          ) : null;
        })}
      </div>
      <Findings of={party.findings} />
    </fieldset>
  );
}
