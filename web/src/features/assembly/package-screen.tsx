/** The package of a deal: its papers, of which some outlive it with the client. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got, once, type PackageItem } from '../../api/client';
import { incomingQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { notify, sayProblem } from '../../primitives/notices';
import { useDeal } from '../deals/use-deal';
import { openPapers } from '../workspace/dropped';
import { WhatChanged } from '../offers/what-changed';
import { WhoSigns } from '../signing/who-signs';
import { PackageList } from './package-list';

export function PackageScreen() {
  return (
    <PackageList
      tools={(d) => (
        <>
          {d.clients_own && <KeepWithClient document={d} />}
          {d.edition && !d.number && <ComesBack document={d} />}
        </>
      )}
      waiting={<WaitingPapers />}
      beside={<WhoSigns />}
    />
  );
}

/** Papers that were sent and aren't put in their places yet. */
function WaitingPapers() {
  const { id, deal } = useDeal();
  const { data: rows = [] } = useQuery(incomingQuery(id, deal.head.offer, deal.head.seq));
  if (rows.length === 0) return null;
  return (
    <p className="mb-3 flex flex-wrap items-center gap-3 border border-ochre bg-ochre-wash px-3 py-2 text-sm">
      {rows.length === 1
        ? `“${rows[0]?.name}” waits to be put in its place.`
        : `${rows.length} papers wait to be put in their places.`}
      <Button onClick={openPapers}>Look at {rows.length === 1 ? 'it' : 'them'}</Button>
    </p>
  );
}

/** A paper that came may be one of ours that came back. */
function ComesBack({ document: d }: { document: PackageItem }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button look="words" aria-label={`Changes in ${d.title}`} onClick={() => setOpen(true)}>
        Changes
      </Button>
      {open && <WhatChanged document={d} onClose={() => setOpen(false)} />}
    </>
  );
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
