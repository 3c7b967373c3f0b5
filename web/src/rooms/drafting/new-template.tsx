/** A new template: what it is for, and what it begins from. */
import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { client, got, once, type TemplateChoice } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { notify } from '../../primitives/notices';
import { some } from '../../primitives/words';
import { KindsChoice } from './kinds-choice';

const SIDES = ['buying', 'listing', 'renting', 'leasing out'] as const;
type Side = (typeof SIDES)[number];

/** What a template is begun from: nothing, another one, or a deal. */
export interface From {
  like?: TemplateChoice;
  deal?: { id: string; name: string };
}

export function useBegin(onBegun: () => void) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return useAction({
    mutationFn: (body: { name: string; side?: Side; kinds?: string[]; copy_of?: string; from_deal?: string }, key: string) =>
      got(client.POST('/api/templates', { headers: once(key), body })),
    onSuccess: (begun) => {
      onBegun();
      void queries.invalidateQueries({ queryKey: ['templates'] });
      const out = begun.stayed_out.length;
      if (out) notify(`${some(out, 'answer')} of this deal’s own stayed out: ${begun.stayed_out.slice(0, 6).join(', ')} …`);
      void navigate({ to: '/templates/$template/package', params: { template: begun.id } });
    },
  });
}

export function NewTemplate({ from, onClose }: { from: From; onClose: () => void }) {
  const named = from.like ? `${from.like.name}, my own` : '';
  const kept = useKept(`new template ${from.like?.id ?? from.deal?.id ?? ''}`, named);
  const [side, setSide] = useState<Side>('buying');
  const [kinds, setKinds] = useState<string[]>(from.like?.kinds ?? []);
  const begin = useBegin(() => {
    kept.settle('');
    onClose();
  });
  const isFresh = !from.like && !from.deal;
  const title = from.like ? 'Make my own copy' : from.deal ? 'A template from this deal' : 'New template';
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title={title} width={540}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          begin.mutate({
            name: kept.typed.trim(),
            kinds,
            ...(isFresh && { side }),
            ...(from.like && { copy_of: from.like.id }),
            ...(from.deal && { from_deal: from.deal.id }),
          });
        }}
      >
        {from.deal && (
          <p className="text-sm text-ink-2">
            The forms of {from.deal.name}, and how this sort of deal is done: periods, percents, who pays what. Property, people,
            prices, dates and wording stay out.
          </p>
        )}
        <label className="block text-sm">
          Name
          <input
            className="field mt-1 block w-full"
            autoFocus
            maxLength={200}
            placeholder="Buying with a conventional loan"
            value={kept.typed}
            onChange={(e) => kept.set(e.target.value)}
          />
          <span className="text-xs text-ink-2">A name that speaks of no client and no address serves every deal.</span>
        </label>
        {isFresh && (
          <label className="block text-sm">
            Side
            <select className="field mt-1 block" value={side} onChange={(e) => setSide(e.target.value as Side)}>
              {SIDES.map((s) => (
                <option key={s}>{s}</option>
              ))}
            </select>
          </label>
        )}
        <KindsChoice kinds={kinds} onChange={setKinds} />
        {begin.error && (
          <p role="alert" className="text-sm text-wax">
            {begin.error.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button look="act" type="submit" disabled={!kept.typed.trim() || begin.isPending}>
            {begin.isPending ? 'Beginning …' : 'Begin'}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}
