/** A finished file, checked for anybody: seal, record, and the paper that it began as. Nothing of it is kept. */
import { useState } from 'react';
import { FileButton } from '../primitives/file-button';
import { PageTitle } from '../primitives/page-title';
import { Wordmark } from '../primitives/wordmark';
import { inWords, verify, type Verdict } from './asking';

export function VerifyPage() {
  const [found, setFound] = useState<{ name: string; verdict: Verdict } | null>(null);
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState('');
  const check = (file: File) => {
    setFound(null);
    setTrouble('');
    setBusy(file.name);
    verify(file)
      .then(
        (verdict) => setFound({ name: file.name, verdict }),
        (error: unknown) => setTrouble(inWords(error)),
      )
      .finally(() => setBusy(''));
  };
  return (
    <main
      className="grid min-h-full grid-cols-1 place-items-center px-4 py-8"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        const file = e.dataTransfer.files[0];
        if (file && !busy) check(file);
      }}
    >
      <div className="w-[600px] max-w-full border border-hair bg-paper px-7 py-7 max-[420px]:px-5">
        <PageTitle of="Check a signed paper" />
        <Wordmark />
        <h1 className="mb-1 mt-4 font-serif text-[1.3rem] font-semibold">Is this paper what was signed?</h1>
        <p className="mb-4 text-ink-2">
          Choose a signed PDF, or drop it here. Its seal, its record and every byte of it are checked. Nothing of the file is
          kept.
        </p>
        <FileButton label="Choose a signed PDF" accept=".pdf,application/pdf" onFile={(file) => !busy && check(file)}>
          <span className="inline-flex min-h-11 items-center rounded-md bg-green px-5 text-base text-on-green">
            Choose a file
          </span>
        </FileButton>
        <div role="status" className="mt-4">
          {busy && <p className="text-ink-2 wrap-anywhere">Checking {busy} …</p>}
          {trouble && <p className="border border-wax bg-wax-wash px-4 py-3 text-wax">{trouble}</p>}
          {found && <Said {...found} />}
        </div>
      </div>
    </main>
  );
}

function Said({ name, verdict }: { name: string; verdict: Verdict }) {
  return (
    <div className={`border px-4 py-3 ${verdict.holds ? 'border-green bg-green-wash' : 'border-wax bg-wax-wash'}`}>
      <h2 className="font-serif text-[1.1rem] font-semibold wrap-anywhere">
        {verdict.holds ? 'This file is valid' : 'This file is not valid'}: {name}
      </h2>
      {verdict.holds && (
        <p className="mt-1">
          {verdict.paper}, signed by {verdict.signers.join(' and ')}.
        </p>
      )}
      <ul className="mt-2 space-y-1 text-sm">
        {verdict.said.map((one) => (
          <li key={one.about} className="flex gap-2">
            <span aria-hidden="true" className={one.holds ? 'text-green-2' : 'text-wax'}>
              {one.holds ? '✓' : '✗'}
            </span>
            <span>
              <span className="sr-only">{one.holds ? 'Holds: ' : 'Does not hold: '}</span>
              {one.sentence}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
