/** Of what in one's own rounds a letter comes. The product itself shows all of it. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { client, got } from '../../api/client';
import { toldQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { stands } from '../../api/stands';
import { sayProblem } from '../../primitives/notices';

export function LettersToMe() {
  const { data = [] } = useQuery(toldQuery);
  const queries = useQueryClient();
  const say = useAction({
    mutationFn: (not_told: string[]) => got(client.POST('/api/rounds/told', { body: { not_told } })),
    onSuccess: (told) => stands(queries, toldQuery.queryKey, told),
    onError: sayProblem,
  });
  if (data.length === 0) return null;
  const off = say.doing.at(-1) ?? data.filter((k) => !k.told).map((k) => k.kind);
  return (
    <fieldset className="border border-hair bg-paper px-5 py-4 text-sm">
      <legend className="sr-only">E-mails about papers I send for signature</legend>
      <h2 className="mb-1 font-serif text-[1.0625rem] font-semibold" aria-hidden="true">
        E-mails to you
      </h2>
      <p className="mb-2 text-xs text-ink-2">About papers that you sent for signature. Today and Signing show this either way.</p>
      {data.map((kind) => (
        <label key={kind.kind} className="flex min-h-8 items-center gap-2">
          <input
            type="checkbox"
            checked={!off.includes(kind.kind)}
            onChange={(e) => say.mutate(e.target.checked ? off.filter((k) => k !== kind.kind) : [...off, kind.kind])}
          />
          {kind.label}
        </label>
      ))}
    </fieldset>
  );
}
