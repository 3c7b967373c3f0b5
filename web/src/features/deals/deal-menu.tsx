/** What can be done with a deal as a whole: its clients' records, the deal before, and the client's next one. */
import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useSide } from '../../api/choices';
import { client, got, once } from '../../api/client';
import { useAction } from '../../api/use-action';
import { MenuItem, MoreMenu } from '../../primitives/menu';
import { notify, sayProblem } from '../../primitives/notices';
import { useDeal } from './use-deal';

/** What is done with the deal as a whole. */
function useWholeDeal() {
  const { deal, id } = useDeal();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const path = { deal: id };
  const next = useAction({
    mutationFn: (fell_through: boolean, key: string) =>
      got(client.POST('/api/deals/{deal}/hand-on', { params: { path }, headers: once(key), body: { fell_through } })),
    onSuccess: (made, fellThrough) => {
      void queries.invalidateQueries({ queryKey: ['deals'] });
      if (fellThrough) void queries.invalidateQueries({ queryKey: ['deal', id] });
      notify(`Started from ${deal.head.name}: its client, package and answers that still apply came along.`);
      void navigate({ to: '/deals/$deal/facts', params: { deal: made.id }, search: { offer: undefined } });
    },
    onError: sayProblem,
  });
  const stage = useAction({
    mutationFn: (wanted: 'filling' | 'fell through' | 'closed', key: string) =>
      got(client.POST('/api/deals/{deal}/stage', { params: { path }, headers: once(key), body: { stage: wanted } })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['deals'] });
      void queries.invalidateQueries({ queryKey: ['deal', id] });
    },
    onError: sayProblem,
  });
  const away = useAction({
    mutationFn: () => got(client.DELETE('/api/deals/{deal}', { params: { path } })),
    onSuccess: () => {
      const back = async () => {
        const found = await got(client.POST('/api/deals/{deal}', { params: { path } }));
        void queries.invalidateQueries({ queryKey: ['deals'] });
        void navigate({ to: '/deals/$deal/write', params: { deal: found.id } });
      };
      notify(`${deal.head.name} was deleted.`, { action: { label: 'Undo', run: () => void back().catch(sayProblem) } });
      void queries.invalidateQueries({ queryKey: ['deals'] });
      void navigate({ to: '/' });
    },
    onError: sayProblem,
  });
  return { next, stage, away };
}

export function DealMenu() {
  const { deal } = useDeal();
  const navigate = useNavigate();
  const { next, stage, away } = useWholeDeal();
  const isOver = deal.head.stage !== 'filling';
  const side = useSide(deal.head.side);
  return (
    <MoreMenu label="More about this deal" width={320}>
      {deal.clients.map((c) => (
        <MenuItem
          key={c.id}
          run={() => void navigate({ to: '/contacts', search: { contact: c.id } })}
          note="papers, homes seen, deals"
        >
          {`Record of ${c.name}`}
        </MenuItem>
      ))}
      {deal.earlier && (
        <MenuItem
          run={() =>
            void navigate({
              to: '/deals/$deal/package',
              params: { deal: deal.earlier?.id ?? '' },
              search: { offer: undefined },
            })
          }
          note="the deal that handed on to this one"
        >
          {deal.earlier.name}
        </MenuItem>
      )}
      <MenuItem run={() => next.mutate(false)} note="with its client, package and answers that still apply">
        Start the client’s next deal
      </MenuItem>
      {isOver ? (
        <MenuItem run={() => stage.mutate('filling')}>Reopen the deal</MenuItem>
      ) : (
        <>
          <MenuItem run={() => stage.mutate('closed')} note="no more tasks or questions">
            {side.ends_well}
          </MenuItem>
          <MenuItem run={() => next.mutate(true)} note="closes this one and starts the next from it">
            {`${side.ends_without}, go on to ${side.goes_on_to}`}
          </MenuItem>
          <MenuItem run={() => stage.mutate('fell through')}>{side.ends_without}</MenuItem>
        </>
      )}
      <MenuItem
        run={() => void navigate({ to: '/templates', search: { deal: deal.head.id } })}
        note="its forms and usual answers"
      >
        Save as a template
      </MenuItem>
      <MenuItem run={() => away.mutate()} note="you can restore it for 30 days">
        Delete this deal
      </MenuItem>
    </MoreMenu>
  );
}
