/** A round that was sent: who is waited on, what they opened, what is to be done about it, and what happened. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { WholeRound } from '../../api/client';
import { sessionQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { FileLink } from '../../primitives/file-link';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { notify, sayProblem } from '../../primitives/notices';
import { moment } from '../../primitives/format';
import { howFar, howItStands, stateOf } from './standing';
import { ByPen } from './by-pen';
import { ChangedSince } from './changed-since';
import { useBeginRound } from './begin-round';
import { calls, linkTo, useOnRound } from './use-rounds';

type Signer = WholeRound['signers'][number];

export function Following({ row }: { row: WholeRound }) {
  const state = stateOf(row);
  return (
    <>
      <div className="mb-4 flex flex-wrap items-start gap-x-4 gap-y-2">
        <div className="min-w-0 flex-1 basis-[280px]">
          <h2 className="font-serif text-[1.25rem] font-semibold leading-snug wrap-anywhere">{row.subject}</h2>
          <p className="text-sm text-ink-2">
            <span className={`font-medium ${state.ink}`}>{state.said}</span> · {howItStands(row)}
            {row.sent && ` · sent ${moment(row.sent)} by ${row.by}`}
            {row.state === 'out' && row.ends && ` · to be signed by ${moment(row.ends)}`}
          </p>
          {row.code && <p className="text-xs text-ink-2">Signers enter a code from their e-mail before they see the papers.</p>}
          {row.reason && <p className="text-xs text-ink-2">Reason for sending it as is: {row.reason}</p>}
        </div>
        <RoundTools row={row} />
      </div>
      {row.doubt && <Doubt row={row} />}
      <ChangedSince row={row} />
      <div className="grid gap-6 min-[980px]:grid-cols-[minmax(0,1fr)_340px]">
        <div className="min-w-0 space-y-6">
          <section aria-label="Signers">
            <h3 className="mb-1.5 text-sm font-semibold text-ink-2">Signers</h3>
            <ul className="border border-hair bg-paper">
              {row.signers.map((s) => (
                <OneSigner key={s.id} row={row} signer={s} />
              ))}
            </ul>
          </section>
          <section aria-label="Papers">
            <h3 className="mb-1.5 text-sm font-semibold text-ink-2">Papers</h3>
            <ul className="border border-hair bg-paper">
              {row.papers.map((p) => (
                <li
                  key={p.id}
                  className="flex flex-wrap items-center gap-x-3 border-b border-hair px-3 py-1.5 text-sm last:border-0"
                >
                  <span className="min-w-0 flex-1 basis-[200px] wrap-anywhere">
                    {p.title}
                    {p.progress && <span className="block text-xs text-ink-2">{p.progress}</span>}
                  </span>
                  <FileLink
                    className="py-1 font-medium text-green-2 hover:underline"
                    href={`/api/rounds/${row.id}/papers/${p.id}`}
                  >
                    {p.finished ? 'Signed and sealed' : 'As it was sent'}
                    <span className="sr-only">: download {p.title}</span>
                  </FileLink>
                </li>
              ))}
            </ul>
          </section>
        </div>
        <section aria-label="Events">
          <h3 className="mb-1.5 text-sm font-semibold text-ink-2">Events</h3>
          <ol className="border border-hair bg-paper">
            {[...row.events].reverse().map((e) => (
              <li key={`${e.at} ${e.said}`} className="border-b border-hair px-3 py-1.5 text-sm last:border-0">
                <span className="wrap-anywhere">{e.said}</span>
                <span className="block text-xs text-ink-2">
                  {moment(e.at)}
                  {e.source && ` · from ${e.source}`}
                </span>
              </li>
            ))}
          </ol>
        </section>
      </div>
    </>
  );
}

/** How it differs from its record, and what to do. */
function Doubt({ row }: { row: WholeRound }) {
  return (
    <section aria-label="Does not match its signing record" className="mb-5 border border-wax bg-wax-wash px-4 py-3 text-sm">
      <h3 className="font-semibold">These papers no longer match their signing record</h3>
      <p className="mt-1 wrap-anywhere">{row.doubt}</p>
      <p className="mt-1 text-ink-2">
        Someone may have changed stored data. Papers that are not sealed yet stay unsealed. Ask whoever runs Good Quill to look
        into it, and have the papers signed again.
      </p>
    </section>
  );
}

/** Recalling it while it is out; making another like it once it is over. */
function RoundTools({ row }: { row: WholeRound }) {
  const [recalling, setRecalling] = useState(false);
  const begin = useBeginRound();
  const again = ['declined', 'recalled', 'run out'].includes(row.state) || row.doubt !== '';
  return (
    <div className="flex gap-2">
      {row.state === 'out' && <Button onClick={() => setRecalling(true)}>Recall</Button>}
      {again && (
        <Button look="act" disabled={begin.isPending} onClick={() => begin.mutate({ like: row.id })}>
          Send a new one like it
        </Button>
      )}
      <Dialog open={recalling} onOpenChange={setRecalling} title="Recall these papers">
        {recalling && <Recall row={row} close={() => setRecalling(false)} />}
      </Dialog>
    </div>
  );
}

function Recall({ row, close }: { row: WholeRound; close: () => void }) {
  const kept = useKept(`recall ${row.id}`, '');
  const recall = useOnRound<string>(row.id, calls.recall(row.id), () => {
    kept.settle('');
    close();
  });
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        recall.mutate(kept.typed.trim());
      }}
    >
      <p className="mb-3 text-sm">
        No one can sign them any more, the links stop working, and everyone you asked is told. Signatures so far stay on record.
      </p>
      <label className="text-sm">
        Reason (signers will read it)
        <textarea
          className="field mt-0.5 block w-full"
          rows={2}
          maxLength={500}
          autoFocus
          value={kept.typed}
          onChange={(e) => kept.set(e.target.value)}
        />
      </label>
      <Button type="submit" look="warn" className="mt-3" disabled={recall.isPending || !kept.typed.trim()}>
        Recall
      </Button>
    </form>
  );
}

function OneSigner({ row, signer: s }: { row: WholeRound; signer: Signer }) {
  const turns = new Set(row.signers.filter((o) => o.turn > 0).map((o) => o.turn)).size;
  return (
    <li className="border-b border-hair px-3 py-2.5 text-sm last:border-0">
      <div className="flex flex-wrap items-baseline gap-x-3">
        {turns > 1 && s.turn > 0 && <span className="w-4 shrink-0 text-xs text-ink-2">{s.turn}.</span>}
        <span className="min-w-0 flex-1 basis-[200px]">
          <span className="font-medium wrap-anywhere">{s.name}</span> <span className="text-xs text-ink-2">{s.role}</span>
          <span className={`block ${s.at === 'declined' ? 'text-wax' : s.at === 'done' ? 'text-green-2' : 'text-ink-2'}`}>
            {howFar(s)}
          </span>
          <span className="block text-xs text-ink-2 wrap-anywhere">
            {s.email}
            {s.asked && `, asked ${moment(s.asked)}`}
            {s.reminded && s.reminded !== s.asked && `, last written to ${moment(s.reminded)}`}
            {s.turn > 0 && opened(s, row)}
          </span>
          {s.refused && (
            <span role="alert" className="block text-xs text-wax wrap-anywhere">
              The e-mail was not delivered: {s.refused}
            </span>
          )}
        </span>
        {s.waited_on && row.state === 'out' && <SignerTools row={row} signer={s} />}
      </div>
    </li>
  );
}

/** Which papers somebody had before the eyes. */
function opened(s: Signer, row: WholeRound): string {
  if (s.read.length === 0) return '';
  if (s.read.length === row.papers.length && s.read.length > 1) return `, opened all ${s.read.length} papers`;
  return `, opened ${s.read.join(', ')}`;
}

function SignerTools({ row, signer: s }: { row: WholeRound; signer: Signer }) {
  const { data: session } = useQuery(sessionQuery);
  const [readdressing, setReaddressing] = useState(false);
  const [handing, setHanding] = useState(false);
  const [byPen, setByPen] = useState(false);
  const remind = useOnRound<string>(row.id, calls.remind(row.id), () => notify(`${s.name} was reminded.`));
  const own = useAction({
    mutationFn: () => linkTo.own(row.id, s.id),
    onSuccess: ({ address }) => location.assign(address),
    onError: sayProblem,
  });
  const isMe = session?.email.toLowerCase() === s.email.toLowerCase();
  if (isMe)
    return (
      <Button look="act" disabled={own.isPending} onClick={() => own.mutate()}>
        Sign yours
      </Button>
    );
  return (
    <span className="flex flex-wrap gap-x-3">
      <Button look="words" disabled={remind.isPending} onClick={() => remind.mutate(s.id)}>
        Remind
      </Button>
      {s.at === 'asked' && (
        <Button look="words" onClick={() => setReaddressing(true)}>
          Other e-mail
        </Button>
      )}
      <Button look="words" onClick={() => setHanding(true)}>
        Sign here
      </Button>
      <Button look="words" onClick={() => setByPen(true)}>
        Signed on paper
      </Button>
      <Dialog open={readdressing} onOpenChange={setReaddressing} title={`Another e-mail for ${s.name}`}>
        {readdressing && <Readdress row={row} signer={s} close={() => setReaddressing(false)} />}
      </Dialog>
      <Dialog open={handing} onOpenChange={setHanding} title={`${s.name} signs on this device`}>
        {handing && <HandOver row={row} signer={s} />}
      </Dialog>
      <Dialog open={byPen} onOpenChange={setByPen} title={`${s.name} signed on paper`}>
        {byPen && <ByPen row={row} signer={s} close={() => setByPen(false)} />}
      </Dialog>
    </span>
  );
}

function Readdress({ row, signer: s, close }: { row: WholeRound; signer: Signer; close: () => void }) {
  const [email, setEmail] = useState(s.email);
  const say = useOnRound<{ signer: string; email: string }>(row.id, calls.readdress(row.id), close);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        say.mutate({ signer: s.id, email: email.trim() });
      }}
    >
      <p className="mb-3 text-sm">The earlier link stops working.</p>
      <label className="text-sm">
        E-mail
        <input
          className="field mt-0.5 block w-full"
          type="email"
          maxLength={254}
          autoFocus
          value={email}
          onChange={(e) => setEmail(e.target.value)}
        />
      </label>
      <Button type="submit" look="act" className="mt-3" disabled={say.isPending || !email.trim() || email.trim() === s.email}>
        Send the link there
      </Button>
    </form>
  );
}

function HandOver({ row, signer: s }: { row: WholeRound; signer: Signer }) {
  const go = useAction({
    mutationFn: () => linkTo.inPerson(row.id, s.id),
    onSuccess: ({ address }) => location.assign(address),
    onError: sayProblem,
  });
  return (
    <>
      <p className="mb-3 text-sm">
        You are signed out first, so that they can’t see your work while {s.name} has the device. It goes on record that the
        papers were signed in person. Sign in again when you have the device back.
      </p>
      <Button look="act" disabled={go.isPending} onClick={() => go.mutate()}>
        Sign me out and hand over
      </Button>
    </>
  );
}
