/** The secret address at which a calendar program reads one's dates. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { client, got, once } from '../../api/client';
import { feedQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';

export function Feed() {
  const { data } = useQuery(feedQuery);
  const queries = useQueryClient();
  const renew = useAction({
    mutationFn: (_: void, key: string) => got(client.POST('/api/tasks/feed', { headers: once(key) })),
    onSuccess: (feed) => stands(queries, feedQuery.queryKey, feed),
    onError: sayProblem,
  });
  const end = useAction({
    mutationFn: () => got(client.DELETE('/api/tasks/feed')),
    onSuccess: () => stands(queries, feedQuery.queryKey, { address: '' }),
    onError: sayProblem,
  });
  if (!data) return <p className="text-sm text-ink-2">Reading …</p>;
  const address = data.address && `${location.origin}${data.address}`;
  const copy = () =>
    navigator.clipboard.writeText(address).then(
      () => notify('Copied. Add it to your calendar as a subscription.'),
      () => notify('This browser doesn’t allow copying. Select the address and copy it yourself.', { wrong: true }),
    );
  return (
    <div className="space-y-3 text-sm">
      <p>
        A calendar app with this address shows your tasks and updates them. Anyone with the address can read them without signing
        in: the task, the property’s address, and who it belongs to.
      </p>
      {address ? (
        <>
          <input
            readOnly
            aria-label="Address of your feed"
            className="field w-full text-sm"
            value={address}
            onFocus={(e) => e.target.select()}
          />
          <div className="flex flex-wrap gap-3">
            <Button look="act" onClick={() => void copy()}>
              Copy the address
            </Button>
            <Button disabled={renew.isPending} onClick={() => renew.mutate()}>
              Give it another address
            </Button>
            <Button look="words" disabled={end.isPending} onClick={() => end.mutate()}>
              End the feed
            </Button>
          </div>
          <p className="text-xs text-ink-2">If you change or end the address, the one above stops working.</p>
        </>
      ) : (
        <Button look="act" disabled={renew.isPending} onClick={() => renew.mutate()}>
          Make an address
        </Button>
      )}
    </div>
  );
}
