/** Changing the paper by hand: what is done with the words or the place chosen, and what was changed so far. */
import type { HandChange, HandOp, PackageItem } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import type { Words } from '../../api/whole';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { useWorkspace } from '../workspace/workspace';
import { changeOf, chosenWords, type Chosen } from './chosen-words';

const MOST_TEXT = 600;

interface Props {
  document: PackageItem | undefined;
  chosen: Chosen | null;
  words: Words[number];
  /** Forms whose print can't be read now. */
  failed: number;
  done: () => void;
  leave: () => void;
}

export function ByHand({ document, chosen, words, failed, done, leave }: Props) {
  const { calls, take } = useWorkspace();
  const send = useAction({
    mutationFn: ({ of, op }: { of: string; op: HandOp }, change: string) => calls.byHand(change, of, op),
    onSuccess: (delta) => {
      take(delta);
      if (delta.said) notify(`${delta.said}.`);
      done();
    },
    onError: sayProblem,
  });
  return (
    <div className="space-y-4 p-4 text-sm">
      <div className="flex items-baseline justify-between gap-2">
        <h2 className="font-serif text-[1rem] font-semibold">Change by hand</h2>
        <Button look="words" onClick={leave} title="Esc">
          Done
        </Button>
      </div>
      {failed > 0 && <p className="text-wax">The words of some forms can’t be read now. Try again in a moment.</p>}
      {chosen ? (
        <What
          key={`${chosen.page.id} ${chosen.from} ${chosen.at}`}
          chosen={chosen}
          words={words}
          busy={send.isPending}
          make={(op, made) => send.mutate({ of: chosen.page.document.id, op }, made)}
        />
      ) : (
        <p className="text-ink-2">
          Choose words on the page to strike them out, or click where something is to be written in. Everybody who signs the paper
          puts initials beside it.
        </p>
      )}
      {document && document.by_hand.length > 0 && (
        <Made
          document={document}
          busy={send.isPending}
          takeOut={(id) => send.mutate({ of: document.id, op: { op: 'remove', id } })}
        />
      )}
    </div>
  );
}

interface WhatProps {
  chosen: Chosen;
  words: Words[number];
  busy: boolean;
  make: (op: HandOp, made: () => void) => void;
}

/** What becomes of the words or the place. */
function What({ chosen, words, busy, make }: WhatProps) {
  // What is typed waits for its words, or for another place on the page, whatever is pressed or opened meanwhile.
  const { typed: text, set: setText, settle } = useKept(`by hand ${chosen.page.id} ${chosen.at ? 'place' : chosen.from}`, '');
  const said = chosenWords(words, chosen)
    .map((w) => w[4])
    .join(' ');
  const isPlace = said === '';
  const plain = text.trim();
  const send = (isStruck: boolean) => make(changeOf(chosen, words, plain, isStruck), () => settle(''));
  const isReceived = !chosen.page.document.number && chosen.page.document.by_hand.length === 0;
  return (
    <form
      className="space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (!busy && !(isPlace && plain === '')) send(!isPlace);
      }}
    >
      {!isPlace && (
        <p className="line-clamp-6 border-l-2 border-hair pl-2 font-serif">
          <del>{said}</del>
        </p>
      )}
      <label className="block">
        <span className="mb-1 block text-xs text-ink-2">{isPlace ? 'Written in here' : 'Written in above, if anything'}</span>
        <textarea
          data-hand-text
          rows={2}
          className="field values w-full whitespace-pre-wrap!"
          maxLength={MOST_TEXT}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && (e.ctrlKey || !e.shiftKey)) {
              e.preventDefault();
              e.stopPropagation();
              e.currentTarget.form?.requestSubmit();
            }
          }}
        />
      </label>
      {isReceived && <p className="text-xs text-ink-2">The paper stays as it came: a copy of it is changed.</p>}
      <div className="flex flex-wrap gap-2">
        <Button type="submit" look="act" disabled={busy || (isPlace && plain === '')}>
          {isPlace ? 'Write in' : plain ? 'Strike out and write' : 'Strike out'}
        </Button>
        {!isPlace && plain && (
          <Button disabled={busy} onClick={() => send(false)}>
            Only write
          </Button>
        )}
      </div>
    </form>
  );
}

interface MadeProps {
  document: PackageItem;
  busy: boolean;
  takeOut: (id: string) => void;
}

function Made({ document, busy, takeOut }: MadeProps) {
  return (
    <section>
      <h3 className="mb-1 text-xs text-ink-2">
        Changed on {document.number} {document.title}
      </h3>
      <ul>
        {document.by_hand.map((c) => (
          <li key={c.id} className="flex items-start gap-2 border-b border-hair py-1.5 last:border-0">
            <span className="min-w-0 flex-1 wrap-break-word">
              <Told change={c} />
              <span className="block text-xs text-ink-2">
                Page {c.page}. {initialsOf(c)}
              </span>
            </span>
            <Button look="words" aria-label={`Take out: ${c.words || c.text}`} disabled={busy} onClick={() => takeOut(c.id)}>
              Take out
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const Told = ({ change: c }: { change: HandChange }) => (
  <>
    {c.rules.length > 0 && <del className="line-clamp-2">{c.words}</del>}
    {c.text && <span className="values block whitespace-pre-line!">{c.text}</span>}
  </>
);

const initialsOf = (c: HandChange) => {
  const names = c.initials.map((i) => i.name).filter(Boolean);
  return names.length > 0 ? `Initials: ${names.join(', ')}` : 'No one is named to initial this yet.';
};
