/** Who signs the package: each person with their papers and places, what stands against sending it, and the way to the pen. */
import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import type { PackageSigner } from '../../api/client';
import { signersQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { useCommand, useCommands } from '../../primitives/commands';
import { Dialog } from '../../primitives/dialog';
import { FOR_THE_PEN } from '../deals/download';
import { useDeal } from '../deals/use-deal';
import { useBeginRound } from './begin-round';
import { placesIn } from './places';
import { PutPlaces } from './put-places';

export function WhoSigns() {
  const [open, setOpen] = useState(false);
  useCommand('Who signs', () => setOpen(true));
  return (
    <>
      <Button onClick={() => setOpen(true)}>Who signs</Button>
      <Dialog open={open} onOpenChange={setOpen} title="Who signs this package" width={640}>
        {open && <People close={() => setOpen(false)} />}
      </Dialog>
    </>
  );
}

function People({ close }: { close: () => void }) {
  const { id, deal } = useDeal();
  const { data, error } = useQuery(signersQuery(id, deal.head.offer, deal.head.seq));
  const begin = useBeginRound();
  const download = useCommands().find((c) => c.label === FOR_THE_PEN);
  if (error) return <p className="text-sm text-wax">Couldn’t load the signers. Nothing was lost. Try again.</p>;
  if (!data) return <p className="text-sm text-ink-2">Loading papers …</p>;
  if (data.people.length === 0 && data.unsigned.length === 0)
    return <p className="text-sm text-ink-2">No paper in this package has a place to sign. Add forms, or a template, first.</p>;
  const aboutAll = data.against.filter((a) => !a.who);
  return (
    <>
      {aboutAll.map((a) => (
        <Against key={a.message} said={a} close={close} className="mb-2 text-sm" />
      ))}
      <ul className="border border-hair bg-paper">
        {data.people.map((person) => (
          <Person key={person.key} person={person} against={data.against.filter((a) => a.who === person.key)} close={close} />
        ))}
      </ul>
      {data.unsigned.length > 0 && (
        <ul aria-label="Not signed by anyone" className="mt-3 space-y-0.5 text-xs text-ink-2">
          {data.unsigned.map(({ document, number, title }) => {
            const name = `${number} ${title}`.trim();
            return (
              <li key={document}>
                Nobody signs {name}. <PutPlaces document={document} name={name} none onClick={close} />
              </li>
            );
          })}
        </ul>
      )}
      <div className="mt-4 flex flex-wrap items-center gap-3">
        <Button look="act" disabled={begin.isPending} onClick={() => begin.mutate({})}>
          Send for signature
        </Button>
        <Button
          onClick={() => {
            close();
            download?.run();
          }}
        >
          Download to sign by hand
        </Button>
        <span className="text-xs text-ink-2">
          By link on any device, or one PDF with an arrow and a name at each place to sign.
        </span>
      </div>
    </>
  );
}

interface Said {
  message: string;
  mend: string;
  place: string;
}

/** What stands against sending, with the way to the fact that mends it. */
function Against({ said, close, className }: { said: Said; close: () => void; className: string }) {
  const { at } = useDeal();
  return (
    <p className={`flex flex-wrap gap-x-2 text-wax ${className}`}>
      {said.message}
      {said.place ? (
        <Link {...at('facts', { search: { fact: said.place } })} onClick={close} className="text-green-2 underline">
          {said.mend}
        </Link>
      ) : (
        said.mend
      )}
    </p>
  );
}

interface PersonProps {
  person: PackageSigner;
  against: Said[];
  close: () => void;
}

function Person({ person, against, close }: PersonProps) {
  const { at } = useDeal();
  const { name, signs_as, role, email, papers } = person;
  return (
    <li className="border-b border-hair px-3 py-2.5 text-sm last:border-0">
      <p className="flex flex-wrap items-baseline gap-x-2">
        <span className="font-medium wrap-break-word">{name || 'Not named yet'}</span>
        <span className="text-xs text-ink-2">{role}</span>
        <span className="ml-auto text-xs text-ink-2 wrap-anywhere">{email}</span>
      </p>
      {signs_as && signs_as !== name && <p className="text-xs text-ink-2">signs as {signs_as}</p>}
      {against.map((a) => (
        <Against key={a.message} said={a} close={close} className="text-xs" />
      ))}
      <ul className="mt-1 space-y-0.5 text-xs text-ink-2">
        {papers.map((p) => (
          <li key={p.document}>
            <Link
              {...at('write', { search: { document: p.document, page: p.pages[0] } })}
              onClick={close}
              className="text-ink underline"
            >
              {`${p.number} ${p.title}`.trim()}
            </Link>
            : {placesIn(p)}
          </li>
        ))}
      </ul>
    </li>
  );
}
