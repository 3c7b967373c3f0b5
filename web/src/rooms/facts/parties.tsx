/** The people and entities of one side. */
import { useState } from 'react';
import { Button } from '../../primitives/button';
import { Mark } from '../../primitives/mark';
import { GroupContacts } from '../contacts/group-contacts';
import { Findings } from '../hand/findings';
import { useHand, type Held } from '../hand/hand';
import { FactInput } from './fact-input';

type Party = NonNullable<Held['parties'][string]>[number];

const PERSON = ['given', 'middle', 'family', 'suffix', 'email', 'phone', 'mailing_address', 'capacity'];
const ENTITY = ['entity_name', 'entity_kind', 'signer', 'email', 'phone', 'mailing_address'];
const LABELS: Record<string, string> = {
  given: 'Given name',
  middle: 'Middle',
  family: 'Family name',
  suffix: 'Suffix',
  email: 'E-mail',
  phone: 'Phone',
  mailing_address: 'Mailing address',
  capacity: 'Signs as',
  entity_name: 'Name of the entity',
  entity_kind: 'Kind',
  signer: 'Who signs for it',
};
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

/** What one of the group is called, in the midst of a sentence. */
const oneOf = (held: Held, group: string) => held.catalog.ones.get(group)?.toLowerCase() ?? 'party';

export function Parties({ group, onHand }: { group: string; onHand: (key: string) => void }) {
  const { held, edit } = useHand();
  const parties = held.parties[group] ?? [];
  const one = oneOf(held, group);
  return (
    <div className="border border-hair bg-paper">
      {parties.map((p, n) => (
        <PartyRow key={p.id} group={group} position={n + 1} party={p} onHand={onHand} />
      ))}
      <Suggested group={group} />
      {parties.length === 0 && !held.suggested.some((s) => s.group === group) && (
        <p className="px-4 pt-3 text-sm text-ink-2">No {one} is named yet.</p>
      )}
      <div className="flex flex-wrap items-center gap-x-3 px-3 py-2">
        <Button look="words" onClick={() => edit({ op: 'party_add', key: group, party: crypto.randomUUID().slice(0, 8) })}>
          Add a {one}
        </Button>
        <GroupContacts group={group} />
      </div>
    </div>
  );
}

/** The owners that the roll names, to be confirmed: they are suggested, never assumed. */
function Suggested({ group }: { group: string }) {
  const { held, edit } = useHand();
  const one = oneOf(held, group);
  const owners = held.suggested.filter((s) => s.group === group);
  const named = owners.filter((s) => s.name);
  if (owners.length === 0) return null;
  const confirm = () => {
    const ids = named.map(() => crypto.randomUUID().slice(0, 8));
    edit(
      ...ids.map((party) => ({ op: 'party_add' as const, key: group, party })),
      ...named.flatMap((owner, n) =>
        Object.entries(owner.fields).map(([field, text]) => ({ op: 'type' as const, key: `${group}.${n + 1}.${field}`, text })),
      ),
    );
  };
  return (
    <div className="border-b border-hair px-4 py-3">
      <p className="mb-1.5 flex items-center gap-1.5 text-sm">
        <Mark name="roll" /> The tax roll names <span className="font-medium">{owners[0]?.recorded}</span>
      </p>
      <ul className="mb-2 text-sm">
        {owners.map((owner, n) => (
          <li key={n} className="py-0.5">
            <span className="font-medium">{owner.name || 'Somebody unnamed'}</span>
            {owner.capacity && `, ${owner.capacity}`}
            {owner.name && owner.fields.mailing_address && (
              <span className="block text-xs text-ink-2">Mail to {owner.fields.mailing_address}</span>
            )}
            <Findings of={owner.findings} inLine />
          </li>
        ))}
      </ul>
      {named.length > 0 && <Button onClick={confirm}>{named.length === 1 ? `Name as ${one}` : `Name all as ${group}`}</Button>}
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
  const { held, facts, edit } = useHand();
  const at = `${group}.${position}`;
  const one = oneOf(held, group);
  const [entity, setEntity] = useState(party.is_entity);
  const ids = (held.parties[group] ?? []).map((p) => p.id);
  const up = () => {
    const order = ids.filter((i) => i !== party.id);
    order.splice(position - 2, 0, party.id);
    edit({ op: 'party_order', key: group, text: order.join(',') });
  };
  return (
    <fieldset className="border-b border-hair px-4 py-3">
      <legend className="sr-only">{`${one} ${position}`}</legend>
      <div className="mb-2 flex flex-wrap items-center gap-x-3 text-sm">
        <span className="font-medium">
          {position}. {party.name || <span className="text-ink-2">not named yet</span>}
        </span>
        <span className="ml-auto flex flex-wrap items-center gap-x-2 max-[620px]:ml-0">
          <GroupContacts group={group} position={position} party={party.id} />
          <Button look="words" onClick={() => setEntity(!entity)}>
            {entity ? 'A person instead' : 'A trust, company or estate'}
          </Button>
          {position > 1 && (
            <Button look="words" onClick={up}>
              Move up
            </Button>
          )}
          <Button look="words" onClick={() => edit({ op: 'party_remove', key: group, party: party.id })}>
            Remove
          </Button>
        </span>
      </div>
      <div className="flex flex-wrap gap-x-2 gap-y-2">
        {(entity ? ENTITY : PERSON).map((field) => {
          const fact = facts.get(`${at}.${field}`);
          return fact ? (
            <div key={field} className={`${WIDTH[field]} max-[620px]:w-[calc(50%-4px)]`}>
              <span className="block text-xs text-ink-2" aria-hidden="true">
                {LABELS[field]}
              </span>
              <FactInput
                fact={{ ...fact, example: '' }}
                label={`${held.catalog.ones.get(group)} ${position}, ${LABELS[field]?.toLowerCase()}`}
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
