/** Editing one fact in a row or in the lens: what was typed stays until it is right. */
import type { ClipboardEvent } from 'react';
import type { Fact } from '../../api/client';
import { ClashNote } from '../workspace/clash-note';
import { useEcho, useWorkspace } from '../workspace/workspace';
import { useTyped } from '../workspace/use-typed';

interface Props {
  fact: Fact;
  label?: string;
  autoFocus?: boolean;
  onFocus?: () => void;
}

export function FactInput(props: Props) {
  const { fact } = props;
  const isChoice = fact.kind === 'choice' || fact.kind === 'yes_no';
  return (
    <>
      {isChoice ? <Choice {...props} /> : <Text {...props} />}
      <ClashNote clashes={fact.clashes} of={fact.key} shown={fact.shown} />
    </>
  );
}

function Choice({ fact, label, onFocus }: Props) {
  const { edit, mayLock } = useWorkspace();
  const echo = useEcho(fact.key);
  const isYesNo = fact.kind === 'yes_no';
  return (
    <>
      <select
        className="field w-full"
        aria-label={label ?? fact.label}
        value={echo ?? (isYesNo ? fact.edit.toLowerCase() : fact.edit)}
        disabled={fact.locked && !mayLock}
        onFocus={onFocus}
        onChange={(e) => edit({ op: e.target.value ? 'type' : 'clear', key: fact.key, text: e.target.value })}
      >
        <option value=""> </option>
        {(isYesNo ? ['yes', 'no'] : fact.options).map((o) => (
          <option key={o}>{o}</option>
        ))}
      </select>
      <Unread fact={fact} />
    </>
  );
}

/** Whether what is pasted over a whole field may state several facts: the server tells them apart. */
const statesSeveral = (pasted: string) => /\n.*\S|\d.*,/s.test(pasted.trim());

function Text({ fact, label, autoFocus = false, onFocus }: Props) {
  const { edit, mayLock } = useWorkspace();
  const typed = useTyped({ key: fact.key, text: fact.edit, draft: fact.draft });
  const isUnread = typed.text === null && fact.draft !== null;
  const field = {
    className: 'field values w-full',
    'aria-label': label ?? fact.label,
    'aria-invalid': isUnread,
    placeholder: fact.example,
    autoFocus,
    disabled: fact.locked && !mayLock,
    value: typed.value,
    onFocus: () => {
      typed.enter();
      onFocus?.();
    },
    onChange: (e: { target: { value: string } }) => typed.change(e.target.value),
    onBlur: typed.leave,
    onPaste: (e: ClipboardEvent<HTMLInputElement | HTMLTextAreaElement>) => {
      const { selectionStart, selectionEnd, value } = e.currentTarget;
      const pasted = e.clipboardData.getData('text/plain');
      const isAllOfIt = selectionStart === 0 && selectionEnd === value.length;
      if (!isAllOfIt || !statesSeveral(pasted)) return;
      e.preventDefault();
      typed.giveBack();
      edit({ op: 'paste', key: fact.key, text: pasted, based_on: fact.version });
    },
  };
  return (
    <>
      {fact.kind === 'long_text' ? (
        <textarea
          rows={3}
          onKeyDown={(e) => e.key === 'Escape' && typed.giveBack()}
          {...field}
          className={`${field.className} whitespace-pre-wrap!`}
        />
      ) : (
        <input
          {...field}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
            if (e.key === 'Escape') typed.giveBack();
          }}
        />
      )}
      {isUnread && <Unread fact={fact} />}
    </>
  );
}

/** What was typed and can't be read, why, and the way to be rid of it. */
function Unread({ fact }: { fact: Fact }) {
  const { edit } = useWorkspace();
  if (!fact.draft) return null;
  return (
    <p role="alert" className="mt-1 text-xs text-wax">
      {fact.draft.message} {fact.draft.mend}{' '}
      <button type="button" className="underline" onClick={() => edit({ op: 'drop', key: fact.key })}>
        Drop it
      </button>
    </p>
  );
}
