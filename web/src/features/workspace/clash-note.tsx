/** Two people changed one value at once: what each typed, in words for whoever reads it, and the choice. */
import { Fragment } from 'react';
import type { Fact } from '../../api/client';
import { useWorkspace } from './workspace';

const CHOICE = 'min-h-6 underline underline-offset-2';

interface Props {
  clashes: Fact['clashes'];
  /** The key that is edited, and what holds meanwhile. */
  of: string;
  shown: string;
  /** On the paper the choice stands in the lens. */
  plain?: boolean;
}

export function ClashNote({ clashes, of, shown, plain = false }: Props) {
  const { edit } = useWorkspace();
  if (clashes.length === 0) return null;
  const holds = shown ? `“${shown}”` : 'nothing';
  return (
    <div role="alert" className="mt-1 flex flex-wrap items-center gap-x-4 text-xs leading-snug text-ochre">
      {clashes.map((c) => (
        <Fragment key={c.by}>
          <p className="basis-full">
            {c.mine
              ? `You typed “${c.text}” while it was changed elsewhere. It says ${holds} now.`
              : `${c.by} typed “${c.text}” while it was being changed. It says ${holds} now.`}
          </p>
          {!plain && (
            <button type="button" className={CHOICE} onClick={() => edit({ op: 'type', key: of, text: c.text })}>
              {c.mine ? 'Use mine' : 'Use theirs'}
            </button>
          )}
        </Fragment>
      ))}
      {!plain && (
        <button type="button" className={CHOICE} onClick={() => edit({ op: 'keep', key: of })}>
          Keep {shown ? holds : 'it empty'}
        </button>
      )}
    </div>
  );
}
