/** The facts of a deal: what holds, and properties brought in from listing service, tax roll and files. */
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { Button } from '../../primitives/button';
import { useDeal } from '../deals/use-deal';
import { ComparisonView, type Wanted } from '../sources/comparison';
import { FileFinder } from '../sources/file-finder';
import { PropertyFinder } from '../sources/property-finder';
import { FactList } from './fact-list';
import { NextSteps } from './next-steps';

export function FactsScreen() {
  const { deal, id, facts } = useDeal();
  const {
    fact,
    listing = '',
    parcel = '',
    county = '',
    file,
    row = 0,
    again = false,
    accepted = false,
  } = useSearch({ from: '/deals/$deal/facts' });
  const navigate = useNavigate();
  const [finding, setFinding] = useState(false);
  const bring = (wanted?: Partial<Wanted> & { accepted?: boolean }) =>
    void navigate({ to: '/deals/$deal/facts', params: { deal: id }, search: { ...wanted, file: wanted?.file ?? undefined } });
  if (listing || parcel || file || again) {
    return (
      <ComparisonView
        wanted={{ listing, parcel, county, file: file ?? null, row, again }}
        onDone={() => bring()}
        onAccepted={() => bring({ accepted: true })}
      />
    );
  }
  const broughtIn = deal.facts.some((f) => f.source === 'listing' || f.source === 'roll');
  const onRoll = { parcel: facts.get('property.parcel_number')?.shown ?? '', county: facts.get('property.county')?.shown };
  return (
    <FactList
      wanted={fact}
      tools={
        <>
          {broughtIn && (
            <Button
              look="words"
              title="Changes at the listing service and on the tax roll since then"
              onClick={() => bring({ again: true })}
            >
              Refresh from listing and tax roll
            </Button>
          )}
          <Button aria-expanded={finding} onClick={() => setFinding(!finding)}>
            Import a property
          </Button>
        </>
      }
      beside={(group) =>
        group === 'tax' &&
        onRoll.parcel && (
          <Link
            to="/property"
            search={{ parcel: onRoll.parcel, county: onRoll.county || undefined }}
            className="text-sm font-medium text-green-2 hover:underline"
          >
            Property report
          </Link>
        )
      }
    >
      {accepted && <NextSteps />}
      {finding && (
        <div className="mb-4 border border-hair bg-sheet p-4">
          <PropertyFinder
            label="Bring in"
            autoFocus
            onPick={(h) => bring({ listing: h.listing, parcel: h.parcel, county: h.county })}
          />
          <FileFinder onPick={(chosen, at) => bring({ file: chosen, row: at })} />
        </div>
      )}
    </FactList>
  );
}
