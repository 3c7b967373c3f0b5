/** Two people changed one value at once: what each typed, in words for whoever reads it, and the choice. */
import type { Fact } from '../../api/client';
import { useHand } from './hand';

interface Props {
  clashes: Fact['clashes'];
  /** The key that is edited, and what holds meanwhile. */
  of: string;
  shown: string;
  /** On the paper the choice stands in the lens. */
  plain?: boolean;
}

export function ClashNote({ clashes, of, shown, plain = false }: Props) {
  const { edit } = useHand();
  if (clashes.length === 0) return null;
  const holds = shown ? `“${shown}”` : 'nothing';
  return (
    <div role="alert" className="mt-1 text-xs leading-snug text-ochre">
      {clashes.map((c) => (
        <p key={c.by}>
          {c.mine
            ? `You typed “${c.text}” while it was changed elsewhere. It says ${holds} now.`
            : `${c.by} typed “${c.text}” while it was being changed. It says ${holds} now.`}
          {!plain && (
            <button type="button" className="ml-1.5 underline" onClick={() => edit({ op: 'type', key: of, text: c.text })}>
              {c.mine ? 'Use mine' : 'Use theirs'}
            </button>
          )}
        </p>
      ))}
      {!plain && (
        <button type="button" className="underline" onClick={() => edit({ op: 'keep', key: of })}>
          Keep {shown ? holds : 'it empty'}
        </button>
      )}
    </div>
  );
}
