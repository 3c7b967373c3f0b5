/** Rounds of a deal: read, changed, sent, followed. */
import { useQueryClient } from '@tanstack/react-query';
import { client, got, once, Problem, type WholeRound } from '../../api/client';
import { roundQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { sayProblem } from '../../primitives/notices';
import type { components } from '../../api/schema';
import { stands } from '../../api/stands';

export type ChangeRound = components['schemas']['ChangeRoundRequest'];

/** An action on a round, after those before it: what it gives is what the round then is. */
export function useOnRound<In>(
  round: string,
  call: (input: In, key: string) => Promise<WholeRound>,
  done?: (row: WholeRound) => void,
) {
  const queries = useQueryClient();
  const { queryKey } = roundQuery(round);
  return useAction<WholeRound, In>({
    scope: { id: `round ${round}` },
    mutationFn: call,
    onSuccess: (row) => {
      stands(queries, queryKey, row);
      void queries.invalidateQueries({ queryKey: ['rounds'] });
      done?.(row);
    },
    onError: (error) => {
      sayProblem(error);
      // Another window may have been quicker: what stands is shown.
      if (error instanceof Problem && error.status === 409) void queries.invalidateQueries({ queryKey });
    },
  });
}

/** A round as it will be once what is being done is done: it is shown so, and chosen from. */
export function asAsked(row: WholeRound, doing: ChangeRound[]): WholeRound {
  return doing.reduce<WholeRound>((so, { papers, turns, ...said }) => {
    const choice = so.choice && {
      ...so.choice,
      papers: papers ? inOrder(so.choice.papers, papers) : so.choice.papers,
      people: so.choice.people.map((p) => ({ ...p, turn: turns?.[p.key] ?? p.turn })),
    };
    return { ...so, ...said, choice };
  }, row);
}

type Papers = NonNullable<WholeRound['choice']>['papers'];

/** Those that are chosen take each other's places; the others stay in theirs. */
function inOrder(papers: Papers, chosen: string[]): Papers {
  const ordered = chosen.flatMap((id) => papers.filter((p) => p.document === id));
  return papers.map((p) => (chosen.includes(p.document) ? { ...ordered.shift()!, chosen: true } : { ...p, chosen: false }));
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
