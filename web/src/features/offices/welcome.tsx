/** Where a link by mail leads: whoever was invited, or forgot the password, sets one. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got, Problem } from '../../api/client';
import { Button } from '../../primitives/button';
import { Labelled, Sheet } from './sign-in';

/** What stands behind the #, which no browser sends anywhere by itself. */
function linkAt(hash: string) {
  const [user = '', token = ''] = hash.replace(/^#/, '').split('.');
  return { user, token };
}

export function Welcome() {
  const [link] = useState(() => linkAt(location.hash));
  const queries = useQueryClient();
  const { data: whose, error } = useQuery({
    queryKey: ['link', link.user],
    queryFn: () => got(client.POST('/api/password/link', { body: link })),
    retry: false,
    gcTime: 0,
    staleTime: Infinity,
  });
  const [password, setPassword] = useState('');
  const set = useMutation({
    mutationFn: () => got(client.POST('/api/password/new', { body: { ...link, password } })),
    onSuccess: () => {
      queries.clear(); // whoever was signed in here before is so no more
    },
  });
  const leave = () => location.assign('/');
  if (set.isSuccess)
    return (
      <Sheet told="Your password is set." submit={leave}>
        <p className="my-4 text-sm">Sign in with {whose?.email} and the password that you have just set.</p>
        <Button look="act" type="submit" className="w-full py-2!">
          Go to signing in
        </Button>
      </Sheet>
    );
  const problem = (set.error ?? error) as Problem | null;
  return (
    <Sheet told={whose ? toldTo(whose) : 'Setting a password.'} submit={() => set.mutate()}>
      {whose && (
        <>
          <input type="hidden" autoComplete="username" value={whose.email} readOnly />
          <Labelled
            id="new"
            label="New password, twelve characters or more"
            type="password"
            autoComplete="new-password"
            autoFocus
            value={password}
            say={setPassword}
          />
        </>
      )}
      <p role="alert" className="min-h-11 pt-2 text-sm text-wax">
        {problem && `${problem.message} ${problem.mend}`}
      </p>
      {whose ? (
        <Button look="act" type="submit" className="w-full py-2!" disabled={!password || set.isPending}>
          Set the password
        </Button>
      ) : (
        error && (
          <Button look="act" className="w-full py-2!" onClick={leave}>
            Go to signing in
          </Button>
        )
      )}
    </Sheet>
  );
}

const toldTo = (whose: { name: string; email: string; brokerage: string; invited: boolean }) =>
  whose.invited
    ? `Welcome, ${whose.name}. ${whose.brokerage} invites you; you sign in with ${whose.email}.`
    : `A new password for ${whose.email}.`;
