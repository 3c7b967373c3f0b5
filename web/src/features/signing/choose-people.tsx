/** Who signs in a round, in whose turn, and who only gets a copy. */
import { Link } from '@tanstack/react-router';
import type { WholeRound } from '../../api/client';
import { Button } from '../../primitives/button';
import { NameAndEmail } from '../../primitives/name-and-email';
import { some } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { FactInput } from '../facts/fact-input';
import type { ChangeRound } from './use-rounds';

type Choice = NonNullable<WholeRound['choice']>;
type Person = Choice['people'][number];

interface Props {
  choice: Choice;
  copied: WholeRound['copied'];
  save: (body: ChangeRound, done?: () => void) => void;
}

export function ChoosePeople({ choice, copied, save }: Props) {
  const turns = Object.fromEntries(choice.people.map((p) => [p.key, p.turn]));
  return (
    <section aria-label="Who signs">
      <h2 className="mb-1.5 text-sm font-semibold text-ink-2">
        Who signs <span className="font-normal">{choice.people.filter((p) => p.turn).length}</span>
      </h2>
      <ul className="border border-hair bg-paper">
        {choice.people.length === 0 && <li className="px-3 py-2.5 text-sm text-ink-2">No one signs the chosen papers.</li>}
        {choice.people.map((person) => (
          <OnePerson
            key={person.key}
            person={person}
            most={choice.people.length}
            against={choice.against.filter((a) => a.who === person.key)}
            setTurn={(turn) => save({ turns: { ...turns, [person.key]: turn } })}
          />
        ))}
      </ul>
      <Copied copied={copied} save={save} />
    </section>
  );
}

interface OneProps {
  person: Person;
  most: number;
  against: Choice['against'];
  setTurn: (turn: number) => void;
}

const NTH = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth'];

function OnePerson({ person, most, against, setTurn }: OneProps) {
  const { deal, at } = useDeal();
  const name = person.name || 'Not named yet';
  const email = deal.facts.find((f) => f.key === person.email_key);
  const turns = Math.min(most, NTH.length);
  return (
    <li className="border-b border-hair px-3 py-2 text-sm last:border-0">
      <div className="flex flex-wrap items-start gap-x-4 gap-y-1.5">
        <div className="min-w-0 flex-1 basis-[180px]">
          <p className={`wrap-anywhere ${person.turn ? 'font-medium' : 'text-ink-2'}`}>{name}</p>
          <p className="text-xs text-ink-2">
            {person.role}, {some(person.places, 'place')}
            {person.signs_as && person.signs_as !== person.name && `, as ${person.signs_as}`}
          </p>
        </div>
        <div className="w-[230px] max-w-full">
          {email && person.turn > 0 ? (
            <FactInput fact={email} label={`E-mail of ${name}`} />
          ) : (
            <span className="text-xs text-ink-2 wrap-anywhere">{person.email}</span>
          )}
        </div>
        <select
          className="field w-[160px] text-sm"
          aria-label={`When ${name} signs`}
          value={person.turn}
          onChange={(e) => setTurn(Number(e.target.value))}
        >
          <option value={0}>not in this round</option>
          {NTH.slice(0, turns).map((nth, n) => (
            <option key={nth} value={n + 1}>
              signs {nth}
            </option>
          ))}
          {person.turn > turns && <option value={person.turn}>signs in turn {person.turn}</option>}
        </select>
      </div>
      {against.map((a) => (
        <p key={a.message} className="mt-1 text-xs text-wax">
          {a.message}{' '}
          {a.place && a.place !== person.email_key ? (
            <Link {...at('facts', { search: { fact: a.place } })} className="text-green-2 underline">
              {a.mend}
            </Link>
          ) : (
            a.mend
          )}
        </p>
      ))}
    </li>
  );
}

/** People who get a copy once everybody has signed. */
function Copied({ copied, save }: { copied: Props['copied']; save: Props['save'] }) {
  return (
    <div className="mt-2">
      {copied.length > 0 && (
        <ul className="mb-2 text-sm">
          {copied.map((one, n) => (
            <li key={`${one.email}${n}`} className="flex flex-wrap items-center gap-x-2">
              <span className="wrap-anywhere">
                Copy to {one.name}, {one.email}
              </span>
              <Button
                look="words"
                aria-label={`No copy to ${one.name}`}
                onClick={() => save({ copied: copied.filter((_, other) => other !== n) })}
              >
                Take off
              </Button>
            </li>
          ))}
        </ul>
      )}
      <NameAndEmail
        of="who gets a copy"
        placeholder="Copy to: name"
        add={(person, done) => save({ copied: [...copied, person] }, done)}
      />
    </div>
  );
}
