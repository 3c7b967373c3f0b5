/** Firms and people that recur in the deals of a template: read anew from Contacts for each deal. */
import { useState } from 'react';
import { useChoices } from '../../api/choices';
import { Button } from '../../primitives/button';
import { ContactFinder } from '../contacts/contact-finder';
import type { WrittenTemplate } from '../../api/client';

/** Who needs no choosing: read from where they say it themselves. */
const FROM_PROFILES = [
  ['Agent', 'whoever begins the deal, from their profile'],
  ['Broker', 'the managing broker, from the brokerage'],
];

interface Props {
  template: WrittenTemplate;
  say: (people: Record<string, string | null>) => void;
}

export function People({ template, say }: Props) {
  const { recurring } = useChoices();
  const [finding, setFinding] = useState<string>();
  const people = Object.fromEntries(Object.entries(template.people).map(([group, who]) => [group, who.id]));
  return (
    <>
      <ul className="mb-1 text-sm">
        {FROM_PROFILES.map(([label, from]) => (
          <li key={label} className="flex min-h-8 flex-wrap items-center gap-x-3">
            <span className="w-[140px] text-ink-2">{label}</span>
            <span className="pl-[5px] text-ink-2">{from}</span>
          </li>
        ))}
        {recurring.map(({ group, kind, label }) => {
          const who = template.people[group];
          return (
            <li key={group} className="flex min-h-8 flex-wrap items-center gap-x-3">
              <span className="w-[140px] text-ink-2">{label}</span>
              {finding === group ? (
                <span className="w-[260px] max-w-full">
                  <ContactFinder
                    label={label}
                    kind={kind}
                    autoFocus
                    onPick={(c) => {
                      setFinding(undefined);
                      say({ ...people, [group]: c.id });
                    }}
                  />
                </span>
              ) : (
                <>
                  {who && <span className="font-medium">{who.name}</span>}
                  <Button look="words" aria-label={`Choose the ${label.toLowerCase()}`} onClick={() => setFinding(group)}>
                    {who ? 'Another' : 'Choose'}
                  </Button>
                  {who && (
                    <Button
                      look="words"
                      aria-label={`No ${label.toLowerCase()}`}
                      onClick={() => say({ ...people, [group]: null })}
                    >
                      None
                    </Button>
                  )}
                </>
              )}
            </li>
          );
        })}
      </ul>
      <p className="text-xs text-ink-2">
        Each deal gets what the contact says on the day it begins. To have it as it is now and always, fill it in under Facts.
      </p>
    </>
  );
}
