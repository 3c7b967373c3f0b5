/** Setting up the second step at sign-in: an authenticator reads the picture, and its code confirms it. */
import { useState } from 'react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { client, got } from '../../api/client';
import { secondStepQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { PasswordField } from './password-field';

type Begun = { picture: string; key: string };

/** `onDone` comes after the recovery codes were seen. */
export function SetUpSecondStep({ onDone }: { onDone: () => void }) {
  const [begun, setBegun] = useState<Begun | null>(null);
  const [proof, setProof] = useState('');
  const [code, setCode] = useState('');
  const { data: state } = useQuery(secondStepQuery);
  const [codes, setCodes] = useState<string[]>([]);
  const queries = useQueryClient();
  const step = useAction({
    mutationFn: (code: string) => got(client.POST('/api/second-step', { body: { code, proof } })),
    onSuccess: (answer) => {
      if (answer.begun) setBegun(answer.begun);
      if (answer.codes.length) setCodes(answer.codes);
      void queries.invalidateQueries({ queryKey: ['second step'] });
    },
  });
  const problem = step.error as (Error & { mend?: string }) | null;
  if (codes.length) return <RecoveryCodes codes={codes} onDone={onDone} />;
  if (!begun)
    return (
      <form
        onSubmit={(e) => {
          e.preventDefault();
          step.mutate('');
        }}
      >
        <p className="mb-3 text-sm">When you sign in, you will also enter six digits from an authenticator app on your phone.</p>
        <div className="mb-3 max-w-[280px]">
          <PasswordField
            label={state?.on ? 'Your password or a current code' : 'Your password'}
            value={proof}
            set={setProof}
            complete="current-password"
          />
        </div>
        <Button look="act" type="submit" disabled={step.isPending || !proof}>
          Set up
        </Button>
        {problem && <Trouble problem={problem} />}
      </form>
    );
  return (
    <form
      className="flex flex-wrap items-start gap-5"
      onSubmit={(e) => {
        e.preventDefault();
        step.mutate(code);
      }}
    >
      <img
        alt="QR code for your authenticator app"
        className="size-[168px] border border-hair bg-white"
        src={`data:image/svg+xml;utf8,${encodeURIComponent(withNamespace(begun.picture))}`}
      />
      <div className="min-w-[200px] flex-1 text-sm">
        <p className="mb-1">Read this with your authenticator, or type the key into it:</p>
        <p className="mb-3 font-mono text-xs wrap-anywhere select-all">{begun.key}</p>
        <label className="block text-xs text-ink-2">
          The six digits it shows
          <input
            className="field mt-1 block w-[140px] text-base text-ink"
            inputMode="numeric"
            autoComplete="one-time-code"
            autoFocus
            value={code}
            onChange={(e) => setCode(e.target.value)}
          />
        </label>
        {problem && <Trouble problem={problem} />}
        <Button look="act" type="submit" className="mt-3" disabled={!code.trim() || step.isPending}>
          Confirm
        </Button>
      </div>
    </form>
  );
}

/** Shown once, when the second step is on. */
function RecoveryCodes({ codes, onDone }: { codes: string[]; onDone: () => void }) {
  return (
    <div>
      <p className="mb-2 text-sm">
        The second step is on. Save these recovery codes in a safe place. Each one signs you in once if you lose your
        authenticator. They are shown only now.
      </p>
      <ul className="mb-3 grid grid-cols-2 gap-x-6 border border-hair bg-paper px-4 py-2 font-mono text-sm select-all">
        {codes.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
      <Button look="act" onClick={onDone}>
        I saved them
      </Button>
    </div>
  );
}

const withNamespace = (svg: string) =>
  svg.includes('xmlns=') ? svg : svg.replace('<svg', '<svg xmlns="http://www.w3.org/2000/svg"');

function Trouble({ problem }: { problem: Error & { mend?: string } }) {
  return (
    <p role="alert" className="mt-2 text-sm text-wax">
      {problem.message} {problem.mend}
    </p>
  );
}
