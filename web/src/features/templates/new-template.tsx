/** A new template: what it is for, and what it begins from. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { useChoices } from '../../api/choices';
import { client, got, once, type Side, type TemplateChoice } from '../../api/client';
import { asTemplateQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { some } from '../../primitives/format';
import { KindsChoice } from './kinds-choice';

/** What a template is begun from: nothing, another one, or a deal. */
export interface From {
  like?: TemplateChoice;
  deal?: { id: string; name: string };
}

interface Begun {
  name: string;
  side?: Side;
  kinds?: string[];
  copy_of?: string;
  from_deal?: string;
  without?: string[];
}

export function useBegin(onBegun: () => void) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return useAction({
    mutationFn: (body: Begun, key: string) => got(client.POST('/api/templates', { headers: once(key), body })),
    onSuccess: (begun) => {
      onBegun();
      void queries.invalidateQueries({ queryKey: ['templates'] });
      void navigate({ to: '/templates/$template/package', params: { template: begun.id } });
    },
  });
}

export function NewTemplate({ from, onClose }: { from: From; onClose: () => void }) {
  const { sides } = useChoices();
  const named = from.like ? `${from.like.name}, my own` : '';
  const kept = useKept(`new template ${from.like?.id ?? from.deal?.id ?? ''}`, named);
  const [side, setSide] = useState<Side>('buying');
  const [kinds, setKinds] = useState<string[]>(from.like?.kinds ?? []);
  const [without, setWithout] = useState<string[]>([]);
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
            ...(from.deal && { from_deal: from.deal.id, without }),
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
          <span className="text-xs text-ink-2">Choose a name without a client or an address.</span>
        </label>
        {isFresh && (
          <label className="block text-sm">
            Side
            <select className="field mt-1 block" value={side} onChange={(e) => setSide(e.target.value as Side)}>
              {sides.map(({ side: s }) => (
                <option key={s}>{s}</option>
              ))}
            </select>
          </label>
        )}
        <KindsChoice kinds={kinds} onChange={setKinds} />
        {from.deal && <Kept deal={from.deal.id} without={without} onChange={setWithout} />}
        {begin.error && (
          <p role="alert" className="text-sm text-wax">
            {begin.error.message}
          </p>
        )}
        <div className="flex gap-2">
          <Button look="act" type="submit" disabled={!kept.typed.trim() || begin.isPending}>
            {begin.isPending ? 'Beginning …' : 'Begin'}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

interface KeptProps {
  deal: string;
  without: string[];
  onChange: (without: string[]) => void;
}

/** Every answer that the template would keep, to be left out one by one; and what stays out by itself. */
function Kept({ deal, without, onChange }: KeptProps) {
  const { data } = useQuery(asTemplateQuery(deal));
  if (!data) return <p className="text-sm text-ink-2">Reading the deal’s answers …</p>;
  const groups = [...new Set(data.kept.map((k) => k.of))];
  return (
    <fieldset className="text-sm">
      <legend className="mb-1">
        {some(data.kept.length - without.length, 'answer')} kept
        {data.tasks.length > 0 && `, ${some(data.tasks.length, 'task', 'tasks')}`}
      </legend>
      <div className="max-h-[150px] overflow-auto border border-hair bg-paper px-3 py-2">
        {groups.map((of) => (
          <div key={of} className="mb-1.5">
            <p className="text-xs font-semibold text-ink-2">{of}</p>
            {data.kept
              .filter((k) => k.of === of)
              .map((k) => (
                <label key={k.key} className="flex min-h-6 items-baseline gap-2">
                  <input
                    type="checkbox"

                    checked={!without.includes(k.key)}
                    onChange={(e) => onChange(e.target.checked ? without.filter((w) => w !== k.key) : [...without, k.key])}
                  />
                  <span className="min-w-0 flex-1 truncate">{k.label}</span>
                  <span className="max-w-[50%] truncate font-medium">{k.text}</span>
                </label>
              ))}
          </div>
        ))}
        {data.kept.length === 0 && <p className="text-ink-2">No answer of it would serve another deal.</p>}
      </div>
      {data.left.length > 0 && (
        <p className="mt-1 text-xs text-ink-2">
          Stay out: {data.left.slice(0, 12).join(', ')}
          {data.left.length > 12 && ` and ${data.left.length - 12} more`}
        </p>
      )}
    </fieldset>
  );
}
