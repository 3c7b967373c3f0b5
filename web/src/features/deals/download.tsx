/** The package as one flat PDF, and beside it the other ways it can leave. What waits for somebody is said before. */
import { ChevronDown, Download, LoaderCircle } from 'lucide-react';
import { AlertDialog } from 'radix-ui';
import { useState } from 'react';
import { Button } from '../../primitives/button';
import { useCommand } from '../../primitives/commands';
import { givesBack } from '../../primitives/dialog';
import { useKeepFile } from '../../primitives/file-link';
import { Menu, MenuItem } from '../../primitives/menu';
import { some } from '../../primitives/format';
import { useOutbox } from '../workspace/workspace';
import { useDeal } from './use-deal';
import { sentence } from './waiting';

/** What the command is called that downloads the package with an arrow at each place to sign. */
export const FOR_THE_PEN = 'Download to sign by hand';

const WAYS = [
  ['pen', 'For signing by hand', 'an arrow and a name at each place'],
  ['fillable', 'Still fillable', 'the blanks stay fields with their values'],
  ['separate', 'One file each', 'a ZIP of single PDFs'],
  ['xfdf', 'Answers only', 'XFDF, for programs that fill forms'],
] as const;

export function DownloadPackage() {
  const { deal, id, outbox } = useDeal();
  const { state, stuck } = useOutbox();
  const [asked, setAsked] = useState<string | null>(null);
  const { waiting } = deal.head;
  /** Everything typed has to be there first; what can't be is asked about. */
  const ask = async (how: string) => {
    outbox.flush();
    await outbox.send();
    const unsent = outbox.look().state !== 'saved' || outbox.look().stuck.length > 0;
    if (waiting.length > 0 || unsent) setAsked(how);
    else fetchFile(how);
  };
  const { keep, making } = useKeepFile();
  const fetchFile = (how: string) => keep(`/api/deals/${id}/package.pdf?as=${how}&offer=${deal.head.offer}`);
  const unsent = state !== 'saved' || stuck.length > 0;
  useCommand('Download the package', () => void ask('flat'));
  useCommand(FOR_THE_PEN, () => void ask('pen'));
  return (
    <span className="ml-1 inline-flex">
      <button
        type="button"
        onClick={() => void ask('flat')}
        aria-busy={making}
        className="moves inline-flex items-center gap-1.5 whitespace-nowrap rounded-l-md border border-green bg-green px-3 py-1.5 text-sm font-medium text-on-green hover:bg-green-2"
      >
        {making ? <LoaderCircle size={15} className="motion-safe:animate-spin" /> : <Download size={15} />}{' '}
        <span className="max-[480px]:sr-only">Download</span>
      </button>
      <Menu
        width={270}
        trigger={
          <button
            type="button"
            aria-label="Download in another way"
            className="moves min-w-7 rounded-r-md border border-l-0 border-green bg-green px-1.5 text-on-green shadow-[inset_1px_0_0_var(--color-green-wash)] hover:bg-green-2"
          >
            <ChevronDown size={15} />
          </button>
        }
      >
        {WAYS.map(([how, name, about]) => (
          <MenuItem key={how} run={() => void ask(how)} note={about}>
            {name}
          </MenuItem>
        ))}
      </Menu>
      <AskFirst asked={asked !== null} unsent={unsent} onClose={() => setAsked(null)} go={() => asked && fetchFile(asked)} />
    </span>
  );
}

interface AskProps {
  asked: boolean;
  unsent: boolean;
  onClose: () => void;
  go: () => void;
}

/** What the file would be without, before it leaves. */
function AskFirst({ asked, unsent, onClose, go }: AskProps) {
  const { waiting } = useDeal().deal.head;
  const isOffline = useOutbox().state === 'offline';
  return (
    <AlertDialog.Root open={asked} onOpenChange={(open) => !open && onClose()}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-veil" />
        <AlertDialog.Content
          {...givesBack}
          className="fixed left-1/2 top-[14vh] z-50 max-h-[76vh] w-[520px] max-w-[94vw] -translate-x-1/2 overflow-auto rounded-md border border-ink-3 bg-sheet p-5 shadow-xl"
        >
          <AlertDialog.Title className="mb-2 font-serif text-lg font-semibold">
            {isOffline ? 'Can’t download while offline' : 'Some answers are not saved yet'}
          </AlertDialog.Title>
          <AlertDialog.Description asChild>
            <div className="mb-4 space-y-2 text-sm">
              {unsent && (
                <p>
                  {isOffline
                    ? 'The server can’t be reached. Your answers are kept here and saved when you are back online. Download again then.'
                    : 'Some answers are not on the server yet. The file would leave them out.'}
                </p>
              )}
              {waiting.slice(0, 8).map((w) => (
                <p key={w.what + w.key + w.by}>
                  <span className="font-medium">{w.label}:</span> {sentence(w)}
                </p>
              ))}
              {waiting.length > 8 && <p>And {some(waiting.length - 8, 'more answer')}.</p>}
            </div>
          </AlertDialog.Description>
          <div className="flex gap-2">
            <AlertDialog.Cancel asChild>
              <Button look="act">Review first</Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button onClick={go} disabled={isOffline}>
                Download anyway
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
