/** An offer's turns: what they are, another one, and agreeing on one. */
import { useQuery } from '@tanstack/react-query';
import { client, got, type WireDelta, type Turns } from '../../api/client';
import { turnsQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { sayProblem } from '../../primitives/notices';
import { useDeal } from '../deals/use-deal';
import type { AgreedSaid } from './agree-dialog';

/** What one side puts otherwise, as it is typed. */
export interface TurnSaid {
  day: string;
  expires: string | null;
  expires_at: string | null;
  terms: { key: string; text: string }[];
  paper: string;
}

export type Turn = Turns['turns'][number];

export function useTurns() {
  const { id, deal } = useDeal();
  return useQuery(turnsQuery(id, deal.head.offer, deal.head.seq));
}

export function useTurnActions(onTaken: () => void) {
  const { id, deal, take } = useDeal();
  const path = { deal: id, offer: deal.head.offer };
  const then = {
    onSuccess: (delta: WireDelta) => {
      take(delta, delta.said);
      onTaken();
    },
    onError: sayProblem, // the dialog stays, with what was typed in it
  };
  const taking = useAction({
    mutationFn: (said: TurnSaid & { maker: string }, key: string) =>
      got(client.POST('/api/deals/{deal}/offers/{offer}/turns', { params: { path }, body: { change: key, ...said } })),
    ...then,
  });
  const changing = useAction({
    mutationFn: ({ turn, ...said }: TurnSaid & { turn: number }, key: string) =>
      got(
        client.PUT('/api/deals/{deal}/offers/{offer}/turns/{turn}', {
          params: { path: { ...path, turn } },
          body: { change: key, ...said },
        }),
      ),
    ...then,
  });
  const agreeing = useAction({
    mutationFn: ({ turn, day, hour, paper, how }: AgreedSaid & { turn: number }, key: string) =>
      got(
        client.POST('/api/deals/{deal}/offers/{offer}/turns/{turn}', {
          params: { path: { ...path, turn } },
          body: { change: key, day, hour, paper, how },
        }),
      ),
    ...then,
  });
  return { taking, changing, agreeing };
}
