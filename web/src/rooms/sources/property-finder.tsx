/** Finding a home in both sources while typing. */
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useId, useState } from 'react';
import type { Found } from '../../api/client';
import { countiesQuery, propertiesQuery } from '../../api/queries';
import { Mark } from '../../primitives/mark';

export function PropertyFinder({
  onPick,
  label,
  autoFocus = false,
}: {
  onPick: (home: Found) => void;
  label: string;
  autoFocus?: boolean;
}) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const [open, setOpen] = useState(true);
  const sought = useDeferredValue(text.trim());
  const [county, setCounty] = useState('');
  const { data: counties = [] } = useQuery(countiesQuery);
  const { data, error, isFetching, isPlaceholderData } = useQuery(propertiesQuery(sought, county));
  const id = useId();
  const homes = open && sought.length >= 3 ? (data?.found ?? []) : [];
  return (
    <div className="relative">
      <div className="flex gap-2">
        <input
          className="field min-w-0 flex-1"
          role="combobox"
          aria-label={label}
          aria-expanded={homes.length > 0}
          aria-controls={id}
          aria-activedescendant={homes[at] ? `${id}-${at}` : undefined}
          placeholder="Listing or parcel number, address, or owner"
          value={text}
          autoFocus={autoFocus}
          onChange={(e) => {
            setText(e.target.value);
            setAt(0);
            setOpen(true);
          }}
          onFocus={() => setOpen(true)}
          onBlur={() => setOpen(false)}
          onKeyDown={(e) => {
            if (e.key === 'Escape' && open) setOpen(false);
            else if (e.key === 'ArrowDown') setAt((n) => Math.min(n + 1, homes.length - 1));
            else if (e.key === 'ArrowUp') setAt((n) => Math.max(n - 1, 0));
            else if (e.key === 'Enter' && homes[at] && !isPlaceholderData && sought === text.trim()) onPick(homes[at]);
            else return;
            e.preventDefault();
          }}
        />
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
      <ul
        id={id}
        role="listbox"
        aria-label="Homes found"
        className={
          homes.length
            ? 'absolute inset-x-0 z-20 mt-1 max-h-[322px] overflow-auto rounded-md border border-ink-3 bg-paper shadow-lg'
            : ''
        }
      >
        {homes.map((home, n) => (
          <li
            key={home.listing + home.parcel}
            id={`${id}-${n}`}
            role="option"
            aria-selected={n === at}
            onMouseEnter={() => setAt(n)}
            onMouseDown={(e) => e.preventDefault()} // the field keeps the focus, and the list stays until it is clicked
            onClick={() => onPick(home)}
            className={`flex cursor-pointer items-center gap-3 border-b border-hair px-3 py-1.5 last:border-0 ${n === at ? 'bg-green-wash' : ''}`}
          >
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
          </li>
        ))}
      </ul>
      {open && sought.length >= 3 && !isFetching && data && homes.length === 0 && data.troubles.length === 0 && (
        <p className="mt-1.5 text-sm text-ink-2">Neither the listing service nor the tax rolls have “{sought}”.</p>
      )}
    </div>
  );
}
