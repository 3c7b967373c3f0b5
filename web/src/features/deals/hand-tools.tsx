/** What stands in the header of whatever is at hand: saved or not, undo and redo, history. */
import { CloudOff, History, Redo2, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../../primitives/button';
import { useCommand } from '../../primitives/commands';
import { useScreenKeys } from '../../primitives/screen-keys';
import { useWorkspace, useOutbox } from '../workspace/workspace';
import { useOpenKeys } from '../workspace/way';
import { HistoryDialog } from './history';

/** Ctrl + Z and Ctrl + Shift + Z, but for a field that is being typed in, which undoes its own. */
function useStepKeys() {
  const { step } = useWorkspace();
  useScreenKeys((e) => {
    const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
    if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== 'z' || typing) return;
    e.preventDefault();
    step(e.shiftKey ? 'redo' : 'undo');
  });
}

export function HandTools() {
  const { held, step } = useWorkspace();
  const [history, setHistory] = useState(false);
  const { undo: last, redo } = held.head;
  useStepKeys();
  useOpenKeys();
  useCommand('History', () => setHistory(true));
  return (
    <>
      <SaveSign />
      <Button
        look="words"
        aria-label="Undo my last change"
        title={last ? `Undo: ${last.said}` : 'Nothing to undo'}
        disabled={!last}
        onClick={() => step('undo')}
        className="disabled:opacity-40"
      >
        <Undo2 size={16} />
      </Button>
      <Button
        look="words"
        aria-label="Redo"
        title={redo ? `Redo: ${redo.said}` : 'Nothing to redo'}
        disabled={!redo}
        onClick={() => step('redo')}
        className="disabled:opacity-40 max-[480px]:hidden"
      >
        <Redo2 size={16} />
      </Button>
      <Button look="words" aria-label="History" title="History" onClick={() => setHistory(true)}>
        <History size={16} />
      </Button>
      <HistoryDialog open={history} onOpenChange={setHistory} />
    </>
  );
}

function SaveSign() {
  const { state, stuck } = useOutbox();
  const saved = stuck.length ? `${stuck.length} not saved` : 'Saved';
  return (
    <span
      role="status"
      className={`mr-1 flex items-center gap-1.5 whitespace-nowrap text-xs ${state === 'offline' ? 'text-ochre' : 'text-ink-2'}`}
    >
      {state === 'offline' && <CloudOff size={14} />}
      <span className={state === 'saved' && !stuck.length ? 'max-[620px]:sr-only' : ''}>
        {state === 'saved' ? saved : state === 'saving' ? 'Saving …' : 'Offline, kept here'}
      </span>
    </span>
  );
}
