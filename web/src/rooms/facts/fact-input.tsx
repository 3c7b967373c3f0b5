/** Editing one fact in a row or in the lens: what was typed stays until it is right. */
import { useEffect, useRef, useState, type ClipboardEvent } from 'react';
import type { Fact } from '../../api/client';
import { useDeal, useEcho } from '../deals/use-deal';

export function FactInput({
  fact,
  label,
  autoFocus = false,
  onFocus,
}: {
  fact: Fact;
  label?: string;
  autoFocus?: boolean;
  onFocus?: () => void;
}) {
  const { edit, outbox } = useDeal();
  const echo = useEcho(fact.key);
  const held = fact.draft?.text ?? fact.edit;
  const [text, setText] = useState<string | null>(null);
  const cancelled = useRef(false);
  const shown = text ?? echo ?? held;
  const invalid = text === null && fact.draft !== null;
  useEffect(() => () => outbox.type(fact.key, null), [outbox, fact.key]);
  const commit = () => {
    if (text !== null && text !== held && !cancelled.current)
      edit({ op: text.trim() ? 'type' : 'clear', key: fact.key, text, based_on: fact.version });
    else outbox.type(fact.key, null);
    cancelled.current = false;
    setText(null);
  };
  const props = {
    className: 'field values w-full',
    'aria-label': label ?? fact.label,
    'aria-invalid': invalid,
    placeholder: fact.example,
    autoFocus,
    disabled: fact.locked,
    value: shown,
    onFocus,
    onChange: (e: { target: { value: string } }) => {
      setText(e.target.value);
      outbox.type(fact.key, e.target.value);
    },
    onBlur: commit,
    onPaste: (e: ClipboardEvent<HTMLInputElement | HTMLTextAreaElement>) => {
      const field = e.currentTarget;
      const pasted = e.clipboardData.getData('text/plain');
      const all = field.selectionStart === 0 && field.selectionEnd === field.value.length;
      // An address or several lines may state several facts: the server tells them apart.
      if (!all || !/\n.*\S|\d.*,/s.test(pasted.trim())) return;
      e.preventDefault();
      setText(null);
      outbox.type(fact.key, null);
      edit({ op: 'paste', key: fact.key, text: pasted, based_on: fact.version });
    },
  };
  return (
    <>
      {fact.kind === 'choice' || fact.kind === 'yes_no' ? (
        <select
          className="field w-full"
          aria-label={label ?? fact.label}
          value={echo !== undefined ? echo : fact.kind === 'yes_no' ? fact.edit.toLowerCase() : fact.edit}
          disabled={fact.locked}
          onFocus={onFocus}
          onChange={(e) => edit({ op: e.target.value ? 'type' : 'clear', key: fact.key, text: e.target.value })}
        >
          <option value=""> </option>
          {(fact.kind === 'yes_no' ? ['yes', 'no'] : fact.options).map((o) => (
            <option key={o}>{o}</option>
          ))}
        </select>
      ) : fact.kind === 'long_text' ? (
        <textarea rows={3} {...props} className={`${props.className} whitespace-pre-wrap!`} />
      ) : (
        <input
          {...props}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
            if (e.key === 'Escape') {
              cancelled.current = true;
              outbox.type(fact.key, null);
              e.currentTarget.blur();
            }
          }}
        />
      )}
      {invalid && fact.draft && (
        <p role="alert" className="mt-1 text-xs text-wax">
          {fact.draft.message} {fact.draft.mend}{' '}
          <button type="button" className="underline" onClick={() => edit({ op: 'drop', key: fact.key })}>
            Drop it
          </button>
        </p>
      )}
      {fact.clash && (
        <p role="alert" className="mt-1 text-xs text-ochre">
          {fact.clash.by} typed “{fact.clash.text}” at the same time.{' '}
          <button
            type="button"
            className="underline"
            onClick={() => edit({ op: 'type', key: fact.key, text: fact.clash?.text ?? '' })}
          >
            Take theirs
          </button>{' '}
          <button type="button" className="underline" onClick={() => edit({ op: 'drop', key: fact.key })}>
            Keep this
          </button>
        </p>
      )}
    </>
  );
}
