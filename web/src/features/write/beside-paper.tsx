/** What stands beside the paper: how much is open and the way there, the blank in hand, and how one writes. */
import { useNavigate } from '@tanstack/react-router';
import { ChevronUp } from 'lucide-react';
import type { Blank, Remark } from '../../api/client';
import { Button } from '../../primitives/button';
import { Legend, Mark } from '../../primitives/mark';
import { TWO_COLUMNS, useWide } from '../../primitives/use-wide';
import { Lens } from '../facts/lens';
import { Findings } from '../workspace/findings';
import { useWorkspace } from '../workspace/workspace';
import { RULE, useOpen, useOpenCount } from '../workspace/way';
import { BlankActions } from './blank-actions';
import { asFinding } from './use-remarks';

export function OpenCount() {
  const open = useOpenCount();
  const { next, previous } = useOpen();
  if (open === 0) return <span className="py-1">Every required blank is answered.</span>;
  return (
    <>
      <span className="flex items-center gap-2 whitespace-nowrap max-[480px]:hidden">
        <Mark name="open" quiet size={13} /> {open}
        <span className="max-[760px]:sr-only">unanswered</span>
      </span>
      <Button className="ml-auto px-2!" onClick={previous} aria-label="Previous unanswered blank" title="Ctrl + Shift + Enter">
        <ChevronUp size={16} />
      </Button>
      <Button onClick={next} title={`Ctrl + Enter. ${RULE}`}>
        Next blank
      </Button>
    </>
  );
}

export function BlankInHand({ blank, goTo, said }: { blank: Blank; goTo: (blank: Blank) => void; said: Remark[] }) {
  const { held } = useWorkspace();
  const jump = (place: { document: string; field: string }) => {
    const found = held.blanks.find((b) => b.document === place.document && b.field === place.field);
    if (found) goTo(found);
  };
  const beside = useWide(TWO_COLUMNS);
  return (
    <Lens keyName={blank.only_here ? blank.own_key : blank.key} onGo={jump} entry={!beside && blank.editable}>
      <Findings of={said.map(asFinding)} />
      <BlankActions blank={blank} onOnlyHere={() => goTo(blank)} />
    </Lens>
  );
}

export function HowToWrite() {
  return (
    <div className="p-4 text-sm text-ink-2">
      <p className="mb-4">
        Click a blank to fill it in. Tab goes to the next blank, Ctrl + Enter to the next unanswered one. {RULE}
      </p>
      <Legend />
    </div>
  );
}

export function NothingYet() {
  const { at } = useWorkspace();
  const navigate = useNavigate();
  return (
    <div className="grid h-full grid-cols-1 place-items-center">
      <div className="max-w-[420px] text-center">
        <p className="mb-4 text-ink-2">This package has no forms yet.</p>
        <Button look="act" onClick={() => void navigate(at('package'))}>
          Add forms or a template
        </Button>
      </div>
    </div>
  );
}
