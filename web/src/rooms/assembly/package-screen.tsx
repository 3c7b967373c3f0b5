/** The package of a deal: its papers, of which some outlive it with the client. */
import { client, got, once, type PackageItem } from '../../api/client';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { useDeal } from '../deals/use-deal';
import { PackageList } from './package-list';

export function PackageScreen() {
  return <PackageList tools={(d) => d.clients_own && <KeepWithClient document={d} />} />;
}

/** A paper between client and agent goes on the client's record, as it stands. */
function KeepWithClient({ document: d }: { document: PackageItem }) {
  const { id, deal, params } = useDeal();
  const names = deal.clients.map((c) => c.name).join(' and ');
  const keep = useAction({
    mutationFn: (_: void, key: string) =>
      got(
        client.POST('/api/deals/{deal}/documents/{document}/keep', {
          params: { ...params, path: { deal: id, document: d.id } },
          headers: once(key),
        }),
      ),
    onSuccess: () => notify(`${d.title} is on record with ${names}, as it stands now.`),
    onError: sayProblem,
  });
  if (!names) return null;
  return (
    <Button
      look="words"
      disabled={keep.isPending}
      title={`On the record of ${names}, and in each of their deals`}
      onClick={() => keep.mutate()}
    >
      Keep with the client
    </Button>
  );
}
