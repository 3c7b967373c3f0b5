/** The keys of the screen, shown by "?". */
import { useLocation } from '@tanstack/react-router';
import { useState } from 'react';
import { Dialog } from '../../primitives/dialog';
import { useScreenKeys } from '../../primitives/screen-keys';

const EVERYWHERE: [string, string][] = [
  ['Ctrl K', 'Find a deal, fact, form or action'],
  ['Ctrl Z', 'Undo your last change (outside a field)'],
  ['?', 'These keys'],
];
const SCREENS: [RegExp, [string, string][]][] = [
  [
    /^\/(deals|templates)\/./,
    [
      ['Ctrl Enter', 'Next unanswered blank on any form'],
      ['Ctrl Shift Enter', 'Previous unanswered blank'],
    ],
  ],
  [
    /\/write$/,
    [
      ['Tab', 'Next blank in reading order'],
      ['Enter', 'On a party’s name: the owners that the roll names, or the parties beside the paper'],
      ['Space', 'Mark or clear a box'],
      ['Esc', 'Back to what the blank held'],
      ['none', 'Typed in a blank: left blank on purpose'],
      ['fri, +10, 3/9', 'Typed as a date'],
      ['412.5k', 'Typed as an amount'],
    ],
  ],
  [
    /\/facts$/,
    [
      ['Tab', 'Next fact'],
      ['Enter, ↑ ↓', 'Save the value, and on to the next fact'],
      ['Esc', 'Back to what the fact held'],
    ],
  ],
  [
    /\/package$/,
    [
      ['Space', 'On a handle: take a document up, put it down'],
      ['↑ ↓', 'Move it'],
    ],
  ],
  [/^\/$/, [['Enter', 'In the finder: open the first deal']]],
];

export function Keys() {
  const [open, setOpen] = useState(false);
  const { pathname } = useLocation();
  useScreenKeys((e) => {
    const typing =
      e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement || e.target instanceof HTMLSelectElement;
    if (e.key === '?' && !typing) setOpen(true);
  });
  const here = SCREENS.filter(([fits]) => fits.test(pathname)).flatMap(([, keys]) => keys);
  return (
    <Dialog open={open} onOpenChange={setOpen} title="Keys" width={440}>
      <dl className="grid grid-cols-[130px_1fr] gap-y-1.5 text-sm">
        {[...here, ...EVERYWHERE].map(([key, what]) => (
          <div key={key} className="contents">
            <dt className="font-semibold">{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
