/** A round being made: papers, signers, the letter; then a look at just what will be sent. */
import { useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { client, got, type WholeRound } from '../../api/client';
import { useAction } from '../../api/use-action';
import { Button } from '../../primitives/button';
import { sayProblem } from '../../primitives/notices';
import { useDeal } from '../deals/use-deal';
import { ChoosePapers } from './choose-papers';
import { ChoosePeople } from './choose-people';
import { RoundLetter } from './letter';
import { Looking } from './looking';
import { asAsked, calls, useOnRound, type ChangeRound } from './use-rounds';

export function Making({ row: saved }: { row: WholeRound }) {
  const [looking, setLooking] = useState(false);
  const { mutate: save, doing } = useOnRound<ChangeRound>(saved.id, calls.change(saved.id));
  const row = asAsked(saved, doing);
  const look = useOnRound<void>(row.id, calls.look(row.id), () => setLooking(true));
  if (looking && row.looked) return <Looking row={row} back={() => setLooking(false)} />;
  const choice = row.choice!;
  const aboutAll = choice.against.filter((a) => !a.who);
  return (
    <div className="grid gap-6 min-[980px]:grid-cols-[minmax(0,1fr)_320px]">
      <div className="min-w-0 space-y-6">
        <ChoosePapers choice={choice} save={save} />
        <ChoosePeople choice={choice} save={save} copied={row.copied} />
        <RoundLetter row={row} save={save} />
      </div>
      <aside aria-label="Before it is sent" className="min-[980px]:sticky min-[980px]:top-0 min-[980px]:self-start">
        <div className="border border-hair bg-sheet px-4 py-3.5">
          <h2 className="mb-1 font-serif text-[1.0625rem] font-semibold">Before it is sent</h2>
          {choice.against.length === 0 ? (
            <p className="mb-3 text-sm text-ink-2">
              Every signer has a place, a name and an e-mail. Preview what each of them will see.
            </p>
          ) : (
            <ul className="mb-3 space-y-1.5 text-sm text-wax">
              {aboutAll.map((a) => (
                <li key={a.message}>
                  {a.message} <span className="text-ink-2">{a.mend}</span>
                </li>
              ))}
              {choice.against.length > aboutAll.length && <li>A signer is missing something.</li>}
            </ul>
          )}
          <Button
            look="act"
            className="w-full"
            disabled={look.isPending || choice.against.length > 0}
            onClick={() => look.mutate()}
          >
            {look.isPending ? 'Making the papers …' : 'Preview before sending'}
          </Button>
          <ThrowAway id={row.id} />
        </div>
      </aside>
    </div>
  );
}

function ThrowAway({ id }: { id: string }) {
  const { id: deal } = useDeal();
  const navigate = useNavigate();
  const drop = useAction({
    mutationFn: () => got(client.DELETE('/api/rounds/{round_id}', { params: { path: { round_id: id } } })),
    onSuccess: () => void navigate({ to: '/deals/$deal/signing', params: { deal }, search: (s) => ({ ...s, round: undefined }) }),
    onError: sayProblem,
  });
  return (
    <Button look="words" className="-ml-1 mt-2" disabled={drop.isPending} onClick={() => drop.mutate()}>
      Discard this draft
    </Button>
  );
}
