/** Finding a home in both sources while typing. */
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { Found } from '../../api/client';
import { countiesQuery, propertiesQuery } from '../../api/queries';
import { Finder } from '../../primitives/finder';
import { Mark } from '../../primitives/mark';

export function PropertyFinder({
  onPick,
  label,
  autoFocus = false,
  onWaiting,
}: {
  onPick: (home: Found) => void;
  label: string;
  autoFocus?: boolean;
  onWaiting?: (waiting: boolean) => void;
}) {
  const [text, setText] = useState('');
  const [open, setOpen] = useState(true);
  const sought = useDeferredValue(text.trim());
  const [county, setCounty] = useState('');
  const { data: counties = [] } = useQuery(countiesQuery);
  const { data, error, isFetching, isPlaceholderData } = useQuery(propertiesQuery(sought, county));
  const homes = sought.length >= 3 ? (data?.found ?? []) : [];
  return (
    <div>
      <div className="flex gap-2">
        <Finder
          label={label}
          placeholder="Listing or parcel number, address, or owner"
          listLabel="Homes found"
          text={text}
          onText={setText}
          found={homes}
          fresh={sought === text.trim() && (sought.length < 3 || (!isPlaceholderData && !isFetching))}
          keyOf={(h) => h.listing + h.parcel}
          onOpen={setOpen}
          onWaiting={onWaiting}
          onPick={onPick}
          autoFocus={autoFocus}
          listWidth="left-0 w-full min-w-[480px]"
        >
          {(home) => (
            <span className="flex items-center gap-3">
              <span className="flex w-9 gap-1">
                {home.listing && <Mark name="listing" />}
                {(home.owner || !home.listing) && <Mark name="roll" />}
              </span>
              <span className="min-w-0 flex-1">
                <span className="block truncate font-medium">{home.address}</span>
                <span className="block truncate text-xs text-ink-2">
                  {home.listing ? `Listing ${home.listing} · ${home.status}` : home.owner} · parcel {home.parcel}
                </span>
              </span>
              <span className="text-sm">{home.price}</span>
            </span>
          )}
        </Finder>
        <select className="field" aria-label="County" value={county} onChange={(e) => setCounty(e.target.value)}>
          <option value="">Every county</option>
          {counties.map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      </div>
      {(data?.troubles ?? []).map((t) => (
        <p key={t} className="mt-1.5 text-sm text-ochre">
          {t}
        </p>
      ))}
      {error && <p className="mt-1.5 text-sm text-wax">{error.message}</p>}
      {open && sought.length >= 3 && !isFetching && data && homes.length === 0 && data.troubles.length === 0 && (
        <p className="mt-1.5 text-sm text-ink-2">Neither the listing service nor the tax rolls have “{sought}”.</p>
      )}
    </div>
  );
}
