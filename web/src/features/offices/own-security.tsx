/** The own sign-in: password, second step, and the sessions that are open. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got } from '../../api/client';
import { ownSessionsQuery, secondStepQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { notify, sayProblem } from '../../primitives/notices';
import { moment, some } from '../../primitives/format';
import { Asked } from './asked';
import { PasswordField } from './password-field';
import { SetUpSecondStep } from './second-step';

export function OwnSecurity() {
  const [asked, setAsked] = useState<'password' | 'set up' | 'end' | null>(null);
  const queries = useQueryClient();
  const { data: step } = useQuery(secondStepQuery);
  const { data: sessions = [] } = useQuery(ownSessionsQuery);
  const close = () => setAsked(null);
  const endOthers = useAction({
    mutationFn: () => got(client.DELETE('/api/sessions')),
    onSuccess: (left) => {
      stands(queries, ownSessionsQuery.queryKey, left);
      notify('Every other session has ended.');
    },
    onError: sayProblem,
  });
  return (
    <section className="border border-hair bg-sheet px-5 py-4">
      <h2 className="mb-2 font-serif text-[1rem] font-semibold">Signing in</h2>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
        <Button onClick={() => setAsked('password')}>Change password</Button>
        {step && (
          <>
            <Button onClick={() => setAsked(step.on ? 'end' : 'set up')}>
              {step.on ? 'Turn off the second step' : 'Set up a second step'}
            </Button>
            <span className="text-xs text-ink-2">
              {step.on
                ? `A second step is on; ${some(step.recovery_codes, 'recovery code')} left.`
                : step.asked_for
                  ? 'Your brokerage asks for a second step.'
                  : 'No second step yet.'}
            </span>
          </>
        )}
      </div>
      <h3 className="mb-1 mt-4 text-xs font-semibold text-ink-2">Where you are signed in</h3>
      <ul className="border border-hair bg-paper text-sm">
        {sessions.map((s, n) => (
          <li key={n} className="flex flex-wrap items-baseline gap-x-3 border-b border-hair px-3 py-1.5 last:border-0">
            <span className="min-w-[150px] flex-1">
              {s.device || 'A browser'}
              {s.here && <span className="ml-2 text-xs font-medium text-green-2">this one</span>}
            </span>
            <span className="whitespace-nowrap text-xs text-ink-2">{s.address}</span>
            <span className="whitespace-nowrap text-xs text-ink-2">last used {moment(s.seen)}</span>
          </li>
        ))}
      </ul>
      {sessions.length > 1 && (
        <Button look="words" className="mt-1 px-0!" onClick={() => endOthers.mutate()}>
          End all others
        </Button>
      )}
      {asked === 'password' && <ChangePassword onClose={close} />}
      {asked === 'end' && <EndSecondStep onClose={close} />}
      <Dialog open={asked === 'set up'} onOpenChange={close} title="A second step at sign-in" width={520}>
        <SetUpSecondStep onDone={close} />
      </Dialog>
    </section>
  );
}

function ChangePassword({ onClose }: { onClose: () => void }) {
  const [old, setOld] = useState('');
  const [next, setNext] = useState('');
  const save = useAction({
    mutationFn: () => got(client.POST('/api/password', { body: { old, new: next } })),
    onSuccess: () => {
      notify('The password is changed; every other session has ended.');
      onClose();
    },
  });
  return (
    <Asked title="Change password" act="Change it" ready={Boolean(old && next)} action={save} onClose={onClose}>
      <PasswordField label="Current password" value={old} set={setOld} complete="current-password" />
      <PasswordField label="New password, twelve characters or more" value={next} set={setNext} complete="new-password" />
    </Asked>
  );
}

function EndSecondStep({ onClose }: { onClose: () => void }) {
  const [proof, setProof] = useState('');
  const queries = useQueryClient();
  const end = useAction({
    mutationFn: () => got(client.PUT('/api/second-step', { body: { proof } })),
    onSuccess: (state) => {
      stands(queries, secondStepQuery.queryKey, state);
      onClose();
    },
  });
  return (
    <Asked title="Turn off the second step" act="Turn off" ready={Boolean(proof)} action={end} onClose={onClose}>
      <PasswordField label="Your password or a current code" value={proof} set={setProof} complete="current-password" />
    </Asked>
  );
}
