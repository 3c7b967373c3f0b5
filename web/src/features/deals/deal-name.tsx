/** The deal's name, changed where it stands. Left empty it follows address and surname. */
import { useState } from 'react';
import { client, got } from '../../api/client';
import { useAction } from '../../api/use-action';
import { sayProblem } from '../../primitives/notices';
import { useDeal } from './use-deal';

export function DealName() {
  const { deal, params, take } = useDeal();
  const [typed, setTyped] = useState<string | null>(null);
  const save = useAction({
    mutationFn: (name: string, key: string) =>
      got(client.POST('/api/deals/{deal}/name', { params, body: { change: key, name } })),
    onSuccess: (delta) => {
      take(delta, delta.said);
      setTyped(null);
    },
    onError: sayProblem, // the field keeps what was typed
  });
  const name = deal.head.name;
  if (typed === null)
    return (
      <h1 className="font-serif text-[1.0625rem] font-semibold leading-tight">
        <button
          type="button"
          title={`${name}. Click to rename`}
          onClick={() => setTyped(name)}
          className="block min-h-6 max-w-full truncate rounded-sm text-left hover:text-green-2"
        >
          {name}
        </button>
      </h1>
    );
  const done = () => {
    if (typed.trim() === name) setTyped(null);
    else save.mutate(typed.trim());
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        done();
      }}
    >
      <input
        className="field w-full py-0! font-serif text-[1.0625rem] font-semibold"
        aria-label="Name of the deal"
        placeholder="Uses address and last name"
        maxLength={250}
        autoFocus
        value={typed}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={done}
        onKeyDown={(e) => e.key === 'Escape' && setTyped(null)}
      />
    </form>
  );
}
