/** A value being typed, on the paper and among the facts alike: sent after a pause and before it is left, taken back by Escape. */
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Edit } from '../../api/client';
import { useEcho, useWorkspace } from './workspace';

const PAUSE_MS = 1200;

interface Value {
  key: string;
  /** The value as it is typed over. */
  text: string;
  draft: { text: string } | null;
}

export function useTyped({ key, text: shown, draft }: Value) {
  const { edit, outbox } = useWorkspace();
  const echo = useEcho(key);
  const [text, setText] = useState<string | null>(null); // what is typed here and not yet left
  const timer = useRef(0);
  const sent = useRef<string | null>(null); // what went off since the field was entered
  const before = useRef(shown);
  const held = draft?.text ?? shown;
  const now = useRef(held);
  useEffect(() => {
    now.current = held;
  });

  const edited = (value: string): Edit => ({ op: value.trim() ? 'type' : 'clear', key, text: value });
  /** Send what is typed, unless it is there already. */
  const commit = useCallback(
    (value: string) => {
      clearTimeout(timer.current);
      const same = value === (sent.current ?? now.current);
      if (same) outbox.type(key, null);
      else {
        sent.current = value;
        edit(edited(value));
      }
    },
    [edit, outbox, key], // eslint-disable-line react-hooks/exhaustive-deps -- `edited` is made from the key
  );
  // Whatever takes the field away (another page, a link, Back) finds what was typed queued.
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      outbox.flush(key);
      outbox.leave(key);
    },
    [outbox, key],
  );
  return {
    text,
    value: text ?? echo ?? held,
    held,
    echo,
    enter: () => {
      before.current = shown;
      sent.current = null;
    },
    change: (value: string) => {
      setText(value);
      if (value === (sent.current ?? held)) outbox.type(key, null);
      else outbox.type(key, edited(value));
      clearTimeout(timer.current);
      timer.current = window.setTimeout(() => commit(value), PAUSE_MS); // the field keeps what is typed until it is left
    },
    commit: () => text !== null && commit(text),
    leave: () => {
      if (text !== null) commit(text);
      outbox.leave(key);
      setText(null);
      sent.current = null;
    },
    /** What was there when the field was entered; what can't be read is dropped. */
    giveBack: () => {
      clearTimeout(timer.current);
      outbox.type(key, null);
      setText(null);
      const wasSent = sent.current !== null && sent.current !== before.current;
      sent.current = null;
      if (wasSent) edit(before.current ? { op: 'type', key, text: before.current } : { op: 'clear', key, text: '' });
      else if (draft) edit({ op: 'drop', key });
      outbox.leave(key);
    },
  };
}
