/** Signing in, and asking for a new password. */
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type InputHTMLAttributes, type ReactNode } from 'react';
import { client, got, Problem } from '../../api/client';
import { sessionQuery } from '../../api/queries';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { PageTitle } from '../../primitives/page-title';
import { Wordmark } from '../../primitives/wordmark';

/** `was` is the user whose session has ended while working. */
export function SignIn({ was }: { was?: string }) {
  const queries = useQueryClient();
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const [asked, setAsked] = useState(false); // the account has a second step
  const [forgot, setForgot] = useState(false);
  const enter = useMutation({
    retry: (count, error) => count < 8 && error instanceof Problem && error.again && error.status !== 0,
    retryDelay: 700,
    mutationFn: () => got(client.POST('/api/session', { body: { email, password, code } })),
    onSuccess: (session) => {
      if (was && session.id !== was) location.assign('/'); // somebody else: begin on a fresh page
      if (!was) queries.removeQueries({ predicate: (query) => query.queryKey[0] !== 'session' }); // nothing of another user's stays
      stands(queries, sessionQuery.queryKey, session);
    },
    onError: (error) => error instanceof Problem && error.rule === 'code' && setAsked(true),
  });
  const problem = enter.error instanceof Problem ? enter.error : null;
  if (forgot) return <Forgotten email={email} onBack={() => setForgot(false)} />;
  const welcome = was
    ? 'Your session has ended. What you typed is kept and saved as soon as you sign in.'
    : 'Contract packages, right on every page.';
  return (
    <Sheet told={welcome} submit={() => enter.mutate()}>
      <Labelled id="email" label="E-mail" autoComplete="username" autoFocus value={email} say={setEmail} />
      <Labelled
        id="password"
        label="Password"
        type="password"
        autoComplete="current-password"
        value={password}
        say={setPassword}
      />
      {asked && (
        <Labelled
          id="code"
          label="Code from your authenticator app"
          inputMode="numeric"
          autoComplete="one-time-code"
          autoFocus
          value={code}
          say={setCode}
        />
      )}
      <p role="alert" className={`min-h-11 pt-2 text-sm ${problem?.rule === 'code' && !code ? 'text-ink-2' : 'text-wax'}`}>
        {problem && `${problem.message} ${problem.mend}`}
      </p>
      <Button look="act" type="submit" className="w-full py-2!" disabled={!email || !password || enter.isPending}>
        {enter.isPending ? 'Signing in …' : 'Sign in'}
      </Button>
      <Button look="words" className="mt-3 w-full" onClick={() => setForgot(true)}>
        Forgot password
      </Button>
    </Sheet>
  );
}

/** Where signing in, a password forgotten and an invitation stand. */
export function Sheet({ told, submit, children }: { told: string; submit: () => void; children: ReactNode }) {
  return (
    <div className="grid min-h-full grid-cols-1 place-items-center px-4">
      <form
        className="w-[372px] max-w-full"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <div className="border border-hair bg-paper px-9 pb-9 pt-8">
          <PageTitle of="Sign in" />
          <h1>
            <Wordmark large />
          </h1>
          <p className="mb-2 mt-1 text-sm text-ink-2">{told}</p>
          {children}
        </div>
      </form>
    </div>
  );
}

/** A letter with a link is asked for; what is said is the same for every address. */
function Forgotten({ email: typed, onBack }: { email: string; onBack: () => void }) {
  const [email, setEmail] = useState(typed);
  const ask = useMutation({ mutationFn: () => got(client.POST('/api/password/forgotten', { body: { email } })) });
  const problem = ask.error instanceof Problem ? ask.error : null;
  return (
    <Sheet told="We will e-mail you a link to set a new password." submit={() => ask.mutate()}>
      <Labelled id="email" label="E-mail" autoComplete="username" autoFocus value={email} say={setEmail} />
      <p role={problem ? 'alert' : 'status'} className={`min-h-11 pt-2 text-sm ${problem ? 'text-wax' : 'text-ink-2'}`}>
        {problem && `${problem.message} ${problem.mend}`}
        {ask.isSuccess && 'If this e-mail has an account, a link is on its way. It works for three days.'}
      </p>
      <Button look="act" type="submit" className="w-full py-2!" disabled={!email || ask.isPending || ask.isSuccess}>
        Send the link
      </Button>
      <Button look="words" className="mt-3 w-full" onClick={onBack}>
        Back to signing in
      </Button>
    </Sheet>
  );
}

interface LabelledProps extends InputHTMLAttributes<HTMLInputElement> {
  label: string;
  say: (text: string) => void;
}

export function Labelled({ id, label, say, ...field }: LabelledProps) {
  return (
    <div className="mt-4 first:mt-0">
      <label className="mb-1 block text-sm font-medium" htmlFor={id}>
        {label}
      </label>
      <input id={id} className="field w-full" onChange={(e) => say(e.target.value)} {...field} />
    </div>
  );
}
