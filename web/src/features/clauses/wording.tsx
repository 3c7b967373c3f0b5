/** A wording as it is read: its words, and in place of each fact what it is called or what it says. */
import type { Clause } from '../../api/client';

const GAP = '__________';

interface Props {
  parts: Clause['parts'];
  /** What a fact says now; without it they are called by their names. */
  said?: (key: string) => string;
}

export function Wording({ parts, said }: Props) {
  return (
    <span className="whitespace-pre-line">
      {parts.map((part, n) =>
        !part.key ? (
          part.words
        ) : (
          <span key={n} title={part.label} className={said ? 'values' : 'rounded-sm bg-green-wash px-1'}>
            {said ? said(part.key) || GAP : part.label}
          </span>
        ),
      )}
    </span>
  );
}

/** Whose it is, in a word or two. */
export const whose = (clause: Clause) =>
  clause.reach === 'mine' ? 'mine' : clause.reach === 'office' ? clause.of : 'the brokerage’s';
