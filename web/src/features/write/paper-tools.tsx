/** What can be done with the paper as a whole: find in it, enlarge it, print it. */
import { Check, PenLine, Printer, Search, ZoomIn } from 'lucide-react';
import type { ComponentProps } from 'react';
import { Menu, MenuItem } from '../../primitives/menu';
import { ZOOMS, type Zoom } from './zoom';

interface ToolProps extends ComponentProps<'button'> {
  label: string;
  hint?: string;
}

const Tool = ({ label, hint, className = '', ...rest }: ToolProps) => (
  <button
    type="button"
    aria-label={label}
    title={hint ?? label}
    {...rest}
    className={`moves grid h-8 w-8 place-items-center rounded-md text-green-2 hover:bg-blotter max-[900px]:h-11 max-[900px]:w-11 ${className}`}
  />
);

interface Props {
  zoom: Zoom;
  choose: (zoom: Zoom) => void;
  find: () => void;
  print: () => void;
  /** Changing the paper by hand: whether that is being done; undefined where it can’t be. */
  byHand?: boolean;
  turnByHand: () => void;
  /** Putting places to sign, likewise. */
  spots?: boolean;
  turnSpots: () => void;
}

const Work = ({ name, tells, on }: { name: string; tells: string; on: boolean }) => (
  <span className="flex items-center justify-between gap-3">
    <span>
      {name}
      <span className="block text-xs text-ink-2">{tells}</span>
    </span>
    {on && <Check size={14} aria-label="now" />}
  </span>
);

const AT_IT = 'bg-green-wash outline-1 outline-green';

export function PaperTools({ zoom, choose, find, print, byHand, turnByHand, spots, turnSpots }: Props) {
  return (
    <span role="group" aria-label="The paper" className="flex items-center">
      <Tool label="Find in this package" hint="Find in this package: Ctrl + F" onClick={find}>
        <Search size={16} />
      </Tool>
      <Menu
        width={220}
        trigger={
          <Tool label={`Size of the paper: ${ZOOMS.find(([z]) => z === zoom)?.[1]}`} hint="Size of the paper">
            <ZoomIn size={16} />
          </Tool>
        }
      >
        {ZOOMS.map(([way, name]) => (
          <MenuItem key={way} run={() => choose(way)}>
            <span className="flex items-center justify-between gap-3">
              {name}
              {way === zoom && <Check size={14} aria-label="now" />}
            </span>
          </MenuItem>
        ))}
      </Menu>
      {byHand !== undefined && (
        <Menu
          width={260}
          trigger={
            <Tool
              label="Work on the paper"
              hint="Change it by hand, or put places to sign"
              className={byHand || spots ? AT_IT : ''}
            >
              <PenLine size={16} />
            </Tool>
          }
        >
          <MenuItem run={turnByHand}>
            <Work name="Change by hand" tells="Strike words out, write some in." on={byHand} />
          </MenuItem>
          <MenuItem run={turnSpots}>
            <Work name="Places to sign" tells="Put them on a paper that has none, or beside its own." on={spots === true} />
          </MenuItem>
        </Menu>
      )}
      <Tool label="Print these pages" hint="Print these pages: Ctrl + P" onClick={print}>
        <Printer size={16} />
      </Tool>
    </span>
  );
}
