/** Firms and people that recur in the deals of a template: read anew from Contacts for each deal. */
import { useState } from 'react';
import { Button } from '../../primitives/button';
import { ContactFinder } from '../contacts/contact-finder';
import { KINDS, type Kind } from '../contacts/kinds';
import type { WrittenTemplate } from '../../api/client';

const GROUPS: Kind[] = ['title', 'lender', 'inspector', 'attorney', 'warranty', 'association_manager'];

interface Props {
  template: WrittenTemplate;
  say: (people: Record<string, string | null>) => void;
}

export function People({ template, say }: Props) {
  const [finding, setFinding] = useState<Kind>();
  const people = Object.fromEntries(Object.entries(template.people).map(([group, who]) => [group, who.id]));
  return (
    <>
      <ul className="mb-1 text-sm">
        {GROUPS.map((group) => {
          const who = template.people[group];
          return (
            <li key={group} className="flex min-h-8 flex-wrap items-center gap-x-3">
              <span className="w-[140px] text-ink-2">{KINDS[group]}</span>
              {finding === group ? (
                <span className="w-[260px] max-w-full">
                  <ContactFinder
                    label={KINDS[group]}
                    kind={group}
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
                  <Button look="words" aria-label={`Choose the ${KINDS[group].toLowerCase()}`} onClick={() => setFinding(group)}>
                    {who ? 'Another' : 'Choose'}
                  </Button>
                  {who && (
                    <Button
                      look="words"
                      aria-label={`No ${KINDS[group].toLowerCase()}`}
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
