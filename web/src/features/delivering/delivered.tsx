/** What of a deal was delivered, and delivering more of it. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got, once, type Delivered } from '../../api/client';
import { deliveriesQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { stands } from '../../api/stands';
import { Button } from '../../primitives/button';
import { useCommand } from '../../primitives/commands';
import { Dialog } from '../../primitives/dialog';
import { notify, sayProblem } from '../../primitives/notices';
import { moment } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { Deliver } from './deliver';

export function DeliveredPapers() {
  const { id, deal } = useDeal();
  const { data } = useQuery(deliveriesQuery(id, deal.head.offer, deal.head.seq));
  const [open, setOpen] = useState(false);
  useCommand('Deliver papers', () => setOpen(true));
  return (
    <section aria-label="Delivered" className="mt-8">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h2 className="flex-1 font-serif text-[1.125rem] font-semibold">Delivered</h2>
        <Button onClick={() => setOpen(true)}>Deliver papers</Button>
      </div>
      {data?.sent.length === 0 && (
        <p className="border border-hair bg-sheet px-4 py-4 text-sm text-ink-2">
          Papers for the other side, a lender or a title company: by mail or by a link that ends, and on record as they were.
        </p>
      )}
      {data && data.sent.length > 0 && (
        <ul className="border border-hair bg-paper">
          {data.sent.map((row) => (
            <OneDelivery key={row.id} row={row} />
          ))}
        </ul>
      )}
      <Dialog open={open} onOpenChange={setOpen} title="Deliver papers" width={640}>
        {open && data && <Deliver choice={data} close={() => setOpen(false)} />}
      </Dialog>
    </section>
  );
}

function OneDelivery({ row }: { row: Delivered }) {
  const { id, deal } = useDeal();
  const queries = useQueryClient();
  const again = useAction({
    mutationFn: (_: void, key: string) =>
      got(client.POST('/api/deliveries/{delivery}/again', { params: { path: { delivery: row.id } }, headers: once(key) })),
    onSuccess: (told) => {
      stands(queries, deliveriesQuery(id, deal.head.offer, deal.head.seq).queryKey, told);
      notify('The same papers were sent once more.');
    },
    onError: sayProblem,
  });
  const ended = row.ends !== null && Date.parse(row.ends) < Date.now();
  return (
    <li className="border-b border-hair px-3 py-2.5 text-sm last:border-0">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-0.5">
        <span className="min-w-0 flex-1 basis-[260px]">
          <span className="font-semibold wrap-anywhere">{row.subject}</span>
          {row.to.map((p) => (
            <span key={p.email} className="block text-xs text-ink-2 wrap-anywhere">
              to {p.name}, {p.email}
              {row.how === 'link' && (p.opened ? `, opened ${moment(p.opened)}` : ', not opened yet')}
              {p.refused && <span className="text-wax">, the letter was not taken: {p.refused}</span>}
            </span>
          ))}
          <span className="block text-xs text-ink-2 wrap-anywhere">
            {row.files.map((f) => `${f.name} (${f.hash.slice(0, 8)})`).join(', ')}
          </span>
        </span>
        <span className="text-xs text-ink-2">
          {moment(row.made)} by {row.by},{' '}
          {row.how === 'mail' ? 'by mail' : ended ? 'link ended' : `link until ${moment(row.ends!)}`}
        </span>
        <Button look="words" disabled={again.isPending} aria-label={`Send again: ${row.subject}`} onClick={() => again.mutate()}>
          Send again
        </Button>
      </div>
    </li>
  );
}
