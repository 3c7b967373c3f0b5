/** The member's numbers with their associations: what opens the forms. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got } from '../../api/client';
import { membershipsQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { notify } from '../../primitives/notices';
import { shortDate } from '../../primitives/format';

export function Memberships() {
  const { data: memberships } = useQuery(membershipsQuery);
  const queries = useQueryClient();
  const [numbers, setNumbers] = useState<Record<string, string>>({});
  const check = useAction({
    mutationFn: (body: { association: string; number: string }) => got(client.POST('/api/memberships', { body })),
    onSuccess: (m) => {
      notify(m.open ? `Member ${m.number} is active. You can use the forms.` : `Member ${m.number} is not active.`, {
        wrong: !m.open,
      });
      void queries.invalidateQueries();
    },
  });
  const forgotten = useAction({
    mutationFn: async (association: string) => ({ association, ...(await got(client.GET('/api/memberships/forgotten'))) }),
    onSuccess: ({ numbers, association }) => {
      const number = numbers[0];
      if (number) setNumbers((n) => ({ ...n, [association]: number }));
      else notify('The registry found no member with your name and license.', { wrong: true });
    },
    onError: (error) => notify(error.message, { wrong: true }),
  });
  return (
    <>
      <h2 className="mb-1.5 text-sm font-semibold text-ink-2">Your memberships</h2>
      {(memberships ?? []).map((m) => {
        const number = numbers[m.association] ?? m.number;
        return (
          <form
            key={m.association}
            className="mb-2 border border-hair bg-paper px-3 py-2.5"
            onSubmit={(e) => {
              e.preventDefault();
              check.mutate({ association: m.association, number });
            }}
          >
            <p className="text-sm font-medium leading-snug">{m.association}</p>
            <p className={`mb-2 text-xs ${m.open ? 'text-ink-2' : 'text-wax'}`}>
              {m.open
                ? `active until ${shortDate(m.expires)}`
                : m.number
                  ? `not active, last known until ${shortDate(m.expires)}; its forms are closed`
                  : 'no number yet; its forms are closed'}
            </p>
            <div className="flex gap-2">
              <input
                className="field w-[130px]"
                aria-label={`Member number with ${m.association}`}
                placeholder="CL-12345"
                value={number}
                onChange={(e) => setNumbers({ ...numbers, [m.association]: e.target.value })}
              />
              <Button type="submit" disabled={check.isPending || !number.trim()}>
                Check
              </Button>
              <Button look="words" disabled={forgotten.isPending} onClick={() => forgotten.mutate(m.association)}>
                Forgotten?
              </Button>
            </div>
            {check.error && check.variables.association === m.association && (
              <p role="alert" className="mt-2 text-xs text-wax">
                {check.error.message} {'mend' in check.error ? String(check.error.mend) : ''}
              </p>
            )}
          </form>
        );
      })}
    </>
  );
}
