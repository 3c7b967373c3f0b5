/** Rounds of a deal: read, changed, sent, followed. */
import { useQueryClient } from '@tanstack/react-query';
import { client, got, once, Problem, type WholeRound } from '../../api/client';
import { roundQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { sayProblem } from '../../primitives/notices';
import type { components } from '../../api/schema';
import { stands } from '../../api/stands';

export type ChangeRound = components['schemas']['ChangeRoundRequest'];

/** Rounds of which two changes were on their way at once: their answers may come in the other order. */
const crossed = new Set<string>();

/** An action on a round: what it gives is what the round then is. */
export function useOnRound<In>(
  round: string,
  call: (input: In, key: string) => Promise<WholeRound>,
  done?: (row: WholeRound) => void,
) {
  const queries = useQueryClient();
  const { queryKey } = roundQuery(round);
  const mutationKey = ['round', round];
  return useAction<WholeRound, In>({
    mutationKey,
    mutationFn: call,
    // A look that was on its way says what stood before, and must not be taken for what stands now.
    onMutate: () => {
      if (queries.isMutating({ mutationKey }) > 1) crossed.add(round);
      return queries.cancelQueries({ queryKey });
    },
    onSuccess: (row) => {
      stands(queries, queryKey, row);
      void queries.invalidateQueries({ queryKey: ['rounds'] });
      done?.(row);
    },
    // Once the last of several is answered, the round is read anew; before that, a look would say what stood in between.
    onSettled: () => {
      if (queries.isMutating({ mutationKey }) === 1 && crossed.delete(round)) void queries.invalidateQueries({ queryKey });
    },
    onError: (error) => {
      sayProblem(error);
      // Another window may have been quicker: what stands is shown.
      if (error instanceof Problem && error.status === 409) void queries.invalidateQueries({ queryKey });
    },
  });
}

const of = (round_id: string) => ({ params: { path: { round_id } } });
const ofSigner = (round_id: string, signer: string) => ({ params: { path: { round_id, signer } } });

export const calls = {
  change: (round: string) => (body: ChangeRound, key: string) =>
    got(client.POST('/api/rounds/{round_id}', { ...of(round), headers: once(key), body })),
  look: (round: string) => () => got(client.POST('/api/rounds/{round_id}/look', of(round))),
  send: (round: string) => (reason: string) =>
    got(client.POST('/api/rounds/{round_id}/send', { ...of(round), body: { reason } })),
  recall: (round: string) => (said: string) =>
    got(client.POST('/api/rounds/{round_id}/recall', { ...of(round), body: { said } })),
  remind: (round: string) => (signer: string) =>
    got(client.POST('/api/rounds/{round_id}/signers/{signer}/remind', ofSigner(round, signer))),
  readdress: (round: string) => (said: { signer: string; email: string }) =>
    got(
      client.POST('/api/rounds/{round_id}/signers/{signer}/address', {
        ...ofSigner(round, said.signer),
        body: { email: said.email },
      }),
    ),
};

/** Where somebody goes on signing on this device: the user's own place, or that of a client who is handed the device. */
export const linkTo = {
  own: (round: string, signer: string) =>
    got(client.POST('/api/rounds/{round_id}/signers/{signer}/link', ofSigner(round, signer))),
  inPerson: (round: string, signer: string) =>
    got(client.POST('/api/rounds/{round_id}/signers/{signer}/in-person', ofSigner(round, signer))),
};
