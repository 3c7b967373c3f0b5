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
  const sought = useDeferredValue(text.trim());
  const [county, setCounty] = useState('');
  const { data: counties = [] } = useQuery(countiesQuery);
  const { data, error, isFetching, isPlaceholderData } = useQuery(propertiesQuery(sought, county));
  const isShort = sought.length < 3;
  const isNow = sought === text.trim() && !isPlaceholderData && !isFetching;
  const isSilent = isNow && !error && data && data.found.length > 0 && data.more === 0 && data.troubles.length === 0;
  // Only what was found for what is typed now: an older answer would be another home.
  const homes = !isShort && isNow ? (data?.found ?? []) : [];
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
          fresh={sought === text.trim() && (isShort || isNow)}
          foot={
            !isShort &&
            !isSilent && (
              <Foot text={sought} now={isNow} found={homes.length} more={data?.more} troubles={data?.troubles} error={error} />
            )
          }
          keyOf={(h) => h.listing + h.parcel}
          onWaiting={onWaiting}
          onPick={onPick}
          autoFocus={autoFocus}
          listWidth="left-0 w-full min-w-[min(480px,92vw)]"
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
              <span className="text-right text-sm">
                {home.price}
                <span className="block text-xs text-ink-2">{home.county}</span>
              </span>
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
    </div>
  );
}

interface FootProps {
  text: string;
  /** Whether what stands there was found for what is typed now. */
  now: boolean;
  found: number;
  more?: number;
  troubles?: string[];
  error: Error | null;
}

/** That it is being looked for, how many more there are, and which source could not be asked. */
function Foot({ text, now, found, more = 0, troubles = [], error }: FootProps) {
  if (!now) return <>Searching listings and tax rolls …</>;
  if (error) return <span className="text-wax">{error.message}</span>;
  return (
    <>
      {more > 0 && <p>{more} more; type another word, or choose a county.</p>}
      {found === 0 && troubles.length === 0 && <p>Neither the listing service nor the tax rolls have “{text}”.</p>}
      {troubles.map((t) => (
        <p key={t} className="text-ochre">
          {t}
        </p>
      ))}
    </>
  );
}
