/** Editing one fact in a row or in the lens: what was typed stays until it is right. */
import type { ClipboardEvent } from 'react';
import type { Fact } from '../../api/client';
import { ClashNote } from '../deals/clash-note';
import { useDeal } from '../deals/use-deal';
import { useTyped } from '../deals/use-typed';

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
  const { edit } = useDeal();
  const typed = useTyped({ key: fact.key, text: fact.edit, version: fact.version, draft: fact.draft });
  const { echo } = typed;
  const invalid = typed.text === null && fact.draft !== null;
  const props = {
    className: 'field values w-full',
    'aria-label': label ?? fact.label,
    'aria-invalid': invalid,
    placeholder: fact.example,
    autoFocus,
    disabled: fact.locked,
    value: typed.value,
    onFocus: () => {
      typed.enter();
      onFocus?.();
    },
    onChange: (e: { target: { value: string } }) => typed.change(e.target.value),
    onBlur: typed.leave,
    onPaste: (e: ClipboardEvent<HTMLInputElement | HTMLTextAreaElement>) => {
      const field = e.currentTarget;
      const pasted = e.clipboardData.getData('text/plain');
      const all = field.selectionStart === 0 && field.selectionEnd === field.value.length;
      // An address or several lines may state several facts: the server tells them apart.
      if (!all || !/\n.*\S|\d.*,/s.test(pasted.trim())) return;
      e.preventDefault();
      typed.giveBack();
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
        <textarea
          rows={3}
          onKeyDown={(e) => e.key === 'Escape' && typed.giveBack()}
          {...props}
          className={`${props.className} whitespace-pre-wrap!`}
        />
      ) : (
        <input
          {...props}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
            if (e.key === 'Escape') typed.giveBack();
          }}
        />
      )}
      {fact.draft && invalid && (
        <p role="alert" className="mt-1 text-xs text-wax">
          {fact.draft.message} {fact.draft.mend}{' '}
          <button type="button" className="underline" onClick={() => edit({ op: 'drop', key: fact.key })}>
            Drop it
          </button>
        </p>
      )}
      <ClashNote clashes={fact.clashes} of={fact.key} shown={fact.shown} />
    </>
  );
}
