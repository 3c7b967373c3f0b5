/** On the paper itself: the places of a round that wait for whoever sits here, each the way to signing it. */
import { useQuery } from '@tanstack/react-query';
import { roundsQuery, sessionQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { START } from '../../api/sign-at';
import { onPage } from '../../primitives/on-page';
import { sayProblem } from '../../primitives/notices';
import { useWorkspace } from '../workspace/workspace';
import { linkTo } from './use-rounds';

interface Wanted {
  id: string;
  round: string;
  signer: string;
  document: string;
  page: number;
  rect: number[];
  sign: string;
}

/** Places that wait for the user in rounds of this deal that are out, by paper and page. */
export function useOwnTurn(): Wanted[] {
  const { id, isDeal } = useWorkspace();
  const { data: session } = useQuery(sessionQuery);
  const { data: rounds = [] } = useQuery({ ...roundsQuery(id), enabled: isDeal });
  const mine = session?.email.toLowerCase();
  const every = rounds.flatMap((row) => {
    const me = row.state === 'out' && row.signers.find((s) => s.waited_on && s.email.toLowerCase() === mine);
    if (!me) return [];
    return row.papers.flatMap((paper) =>
      paper.places
        .filter((p) => p.who === me.key && p.sign !== 'date')
        .map((p) => ({ ...p, round: row.id, signer: me.id, document: paper.document })),
    );
  });
  // A place that several rounds ask for stands there once, for the newest.
  return [...new Map(every.reverse().map((w) => [w.id, w])).values()];
}

interface Props {
  wanted: Wanted[];
  size: { width: number; height: number };
}

/** The own places on one page. */
export function OwnPlaces({ wanted, size }: Props) {
  const go = useAction({
    mutationFn: ({ round, signer }: Wanted) => linkTo.own(round, signer),
    onSuccess: ({ address }, { id }) => {
      sessionStorage.setItem(START, id);
      location.assign(address);
    },
    onError: sayProblem,
  });
  return wanted.map((w) => (
    <button
      key={w.id}
      type="button"
      data-own-place={w.id}
      disabled={go.isPending}
      onClick={() => go.mutate(w)}
      className="absolute z-10 min-w-[72px] overflow-hidden border border-green bg-green-wash px-1 text-left text-xs font-medium leading-none text-green-2 hover:bg-green hover:text-paper"
      style={onPage(w.rect, size)}
    >
      {w.sign === 'initials' ? 'Initial' : 'Sign here'}
    </button>
  ));
}
