/** What waits for somebody: texts that can't be read, values typed twice at once, edits that could not be saved. */
import { Link } from '@tanstack/react-router';
import { ownKey } from '../../api/keys';
import { Popover } from 'radix-ui';
import { Button } from '../../primitives/button';
import { useAfloat } from '../../primitives/use-afloat';
import { some } from '../../primitives/format';
import { useOutbox } from '../workspace/workspace';
import { useDeal } from './use-deal';

type Waits = ReturnType<typeof useDeal>['deal']['head']['waiting'][number];

/** In a sentence, with what the paper says meanwhile. */
export function sentence(w: Waits): string {
  const prints = w.prints ? `the paper prints “${w.prints}”` : 'the paper prints nothing';
  return w.what === 'draft'
    ? `“${w.typed}” can’t be read; ${prints}.`
    : `${w.by} typed “${w.typed}” at the same time; ${prints}.`;
}

/** The header's count, and under it each with the way to its place. */
export function WaitingCount() {
  const { deal, id } = useDeal();
  const { waiting } = deal.head;
  const { root, container } = useAfloat();
  if (waiting.length === 0) return null;
  return (
    <Popover.Root {...root}>
      <Popover.Trigger className="moves whitespace-nowrap rounded-sm px-1 font-medium text-ochre underline-offset-3 hover:underline">
        {some(waiting.length, 'answer')} to look at
      </Popover.Trigger>
      <Popover.Portal container={container}>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label="Answers to review"
          className="z-50 max-h-[60vh] w-[380px] overflow-auto rounded-md border border-blotter-3 bg-paper py-1 text-sm shadow-lg"
        >
          {waiting.map((w) => (
            <Popover.Close key={w.what + w.key + w.by} asChild>
              <WaitingLink deal={id} waits={w} />
            </Popover.Close>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function WaitingLink({ deal, waits: w, ...rest }: { deal: string; waits: Waits }) {
  const own = ownKey(w.key);
  const body = (
    <>
      <span className="font-medium">{w.label}</span>
      <span className="block text-xs text-ink-2">{sentence(w)}</span>
    </>
  );
  const look = 'block px-4 py-1.5 hover:bg-green-wash';
  return own ? (
    <Link {...rest} to="/deals/$deal/write" params={{ deal }} search={own} className={look}>
      {body}
    </Link>
  ) : (
    <Link {...rest} to="/deals/$deal/facts" params={{ deal }} search={{ fact: w.key }} className={look}>
      {body}
    </Link>
  );
}

/** Edits that the server did not take: what was typed is at hand until it is tried again or let go. */
export function NotSaved() {
  const { outbox } = useDeal();
  const { stuck } = useOutbox();
  if (stuck.length === 0) return null;
  return (
    <div role="alert" className="max-h-[30vh] overflow-auto border-b border-wax bg-wax-wash px-5 py-2 text-sm">
      {stuck.map((s) => (
        <div key={s.change} className="flex flex-wrap items-center gap-x-3 py-0.5">
          <span className="min-w-0 flex-1">
            <span className="text-wax">
              {s.message} {s.mend}
            </span>{' '}
            {typedIn(s.edits) && (
              <>
                You had typed: <span className="font-medium select-all">{typedIn(s.edits)}</span>
              </>
            )}
          </span>
          {s.again && (
            <Button className="py-0.5!" onClick={() => outbox.tryAgain(s.change)}>
              Try again
            </Button>
          )}
          <Button look="words" className="py-0.5!" onClick={() => outbox.letGo(s.change)}>
            Discard
          </Button>
        </div>
      ))}
    </div>
  );
}

const typedIn = (edits: { text?: string }[]) =>
  edits
    .map((e) => e.text)
    .filter(Boolean)
    .join(', ');
