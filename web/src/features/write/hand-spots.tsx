/** Places put on a page for those who sign it, as they stand while one writes: printed names as they print, the others quiet. */
import type { PackageItem } from '../../api/client';
import { onPage } from '../../primitives/on-page';
import type { Size } from '../assembly/pages';
import { SetText } from './hand-marks';
import { kindOf } from './spots';

type Spotted = PackageItem['spots'][number];

interface Props {
  spots: Spotted[];
  page: number;
  size: Size;
  scale: number;
  /** On the printer only what prints. */
  printed?: boolean;
}

export function HandSpots({ spots, page, size, scale, printed = false }: Props) {
  const here = spots.filter((s) => s.page === page && s.is_there);
  return (
    <div className="pointer-events-none" data-spots>
      {here.map((s) =>
        s.what === 'name' ? (
          <SetText key={s.id} of={s} size={size} scale={scale} />
        ) : (
          !printed && (
            <span
              key={s.id}
              className="absolute flex items-end overflow-hidden border-b border-dotted border-ink-3 pb-[2px] text-[0.625rem] leading-none text-ink-3"
              style={onPage(s.rect, size)}
              title={`${kindOf(s.what).name}: ${s.name}`}
            >
              <span className="truncate pl-0.5">{saidIn(s)}</span>
            </span>
          )
        ),
      )}
    </div>
  );
}

/** For whom a place is, in as few letters as it has room for. */
function saidIn({ what, name, initials, label }: Spotted): string {
  if (what === 'check') return '';
  if (what === 'initials') return initials;
  if (what === 'text') return `${label || 'fills in'}: ${name}`;
  return `${what === 'date' ? 'date' : 'signs here'}: ${name}`;
}
