/** What is done next, once a property is brought in: each a way to where it is done. */
import { Link } from '@tanstack/react-router';
import type { ReactNode } from 'react';
import { useSide } from '../../api/choices';
import { Button } from '../../primitives/button';
import { Mark } from '../../primitives/mark';
import { some } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { useOpen, useOpenCount } from '../workspace/way';
import { useRecorded } from './use-recorded';

export function NextSteps() {
  const { deal, id } = useDeal();
  const open = useOpenCount();
  const { next } = useOpen();
  const side = useSide(deal.head.side);
  const unnamed = [side.clients, side.others].filter((g) => !deal.parties[g]?.length);
  const expected = deal.documents.filter((d) => !d.edition).length;
  const steps = [
    ...unnamed.map((group) => <Unnamed key={group} group={group} />),
    expected > 0 && (
      <Step key="expected" said={`${some(expected, 'paper')} still expected from others.`}>
        <Link to="/deals/$deal/package" params={{ deal: id }} className="font-medium text-green-2 hover:underline">
          See the package
        </Link>
      </Step>
    ),
    open > 0 && (
      <Step key="open" said={`${some(open, 'blank')} unanswered on the forms.`}>
        <Button look="act" onClick={next}>
          Go to the next unanswered blank
        </Button>
      </Step>
    ),
  ].filter(Boolean);
  if (steps.length === 0) return null;
  return (
    <section aria-label="Next" className="mb-4 border border-green bg-paper text-sm">
      <h2 className="sr-only">Next</h2>
      <ul>{steps}</ul>
    </section>
  );
}

function Step({ said, children }: { said: ReactNode; children: ReactNode }) {
  return (
    <li className="flex min-h-11 flex-wrap items-center gap-x-3 gap-y-1 border-b border-hair px-4 py-1.5 last:border-0">
      <span className="min-w-[200px] flex-1">{said}</span>
      {children}
    </li>
  );
}

/** A side without a name: the owners that the roll has by one action, or the way to name them. */
function Unnamed({ group }: { group: string }) {
  const { named, one, doing, confirm } = useRecorded(group);
  const names = named.map((n) => n.name).join(' and ');
  return (
    <Step
      said={
        names ? (
          <>
            <Mark name="roll" /> The tax roll names <span className="font-medium">{names}</span>.
          </>
        ) : (
          `No ${one} is named yet.`
        )
      }
    >
      {names ? (
        <Button onClick={confirm}>{doing}</Button>
      ) : (
        <a href={`#group-${group}`} className="font-medium text-green-2 hover:underline">
          Name the {group}
        </a>
      )}
    </Step>
  );
}
