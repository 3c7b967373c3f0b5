/** Somebody by name and e-mail, added to a list. It may stand within a form: Enter adds, and sends nothing. */
import { useRef, useState, type KeyboardEvent } from 'react';
import { Button } from './button';

interface Props {
  /** Who it is, for those who don't see where the fields stand. */
  of: string;
  placeholder: string;
  /** What is typed stays until it is `done`. */
  add: (person: { name: string; email: string }, done: () => void) => void;
}

export function NameAndEmail({ of, placeholder, add }: Props) {
  const [name, setName] = useState('');
  const [email, setEmail] = useState('');
  const field = useRef<HTMLInputElement>(null);
  const isWhole = name.trim() !== '' && email.trim() !== '';
  const run = () => {
    if (!isWhole || !field.current?.reportValidity()) return;
    add({ name: name.trim(), email: email.trim() }, () => {
      setName((now) => (now === name ? '' : now));
      setEmail((now) => (now === email ? '' : now));
    });
  };
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.key !== 'Enter') return;
    e.preventDefault();
    run();
  };
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm">
      <input
        className="field w-[180px] max-w-full"
        aria-label={`Name of ${of}`}
        placeholder={placeholder}
        maxLength={200}
        value={name}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={onKeyDown}
      />
      <input
        ref={field}
        className="field w-[210px] max-w-full"
        type="email"
        aria-label={`E-mail of ${of}`}
        placeholder="e-mail"
        maxLength={254}
        value={email}
        onChange={(e) => setEmail(e.target.value)}
        onKeyDown={onKeyDown}
      />
      <Button disabled={!isWhole} onClick={run}>
        Add
      </Button>
    </div>
  );
}
