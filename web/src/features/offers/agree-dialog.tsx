/** Both sides agree on an offer, or on a change to it: the terms that are then in force, when, and what shows it. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Acceptance } from '../../api/client';
import { acceptanceQuery } from '../../api/queries';
import { Button } from '../../primitives/button';
import { Dialog } from '../../primitives/dialog';
import { today } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { PaperChoice } from './paper-choice';

/** When it was agreed, and how that is known. */
export interface AgreedSaid {
  day: string;
  hour: string | null;
  paper: string;
  how: string;
  decline_others: boolean;
}

interface Props {
  /** The offer that is agreed on, by its id. */
  offer: number;
  title: string;
  act: string;
  /** Names of other open offers, which may be declined with it. */
  rivals: string[];
  busy: boolean;
  agree: (said: AgreedSaid) => void;
  onClose: () => void;
}

export function AgreeDialog({ offer, title, onClose, ...rest }: Props) {
  const { id, deal } = useDeal();
  const { data, error } = useQuery(acceptanceQuery(id, offer, deal.head.seq));
  return (
    <Dialog open onOpenChange={onClose} title={title} width={680}>
      {error && <p className="text-sm text-wax">Couldn’t load the terms. Nothing was changed. Try again.</p>}
      {!data && !error && <p className="text-sm text-ink-2">Loading the terms …</p>}
      {data?.against && (
        <>
          <p role="alert" className="mb-4 text-sm">
            <strong className="font-semibold">{data.against}</strong> {data.mend}
          </p>
          <Button onClick={onClose}>Close</Button>
        </>
      )}
      {data && !data.against && <AgreeForm acceptance={data} onClose={onClose} {...rest} />}
    </Dialog>
  );
}

type FormProps = Omit<Props, 'offer' | 'title'> & { acceptance: Acceptance };

function AgreeForm({ acceptance, act, rivals, busy, agree, onClose }: FormProps) {
  const [said, setSaid] = useState<AgreedSaid>({ day: today(), hour: null, paper: '', how: '', decline_others: false });
  const say = (some: Partial<AgreedSaid>) => setSaid({ ...said, ...some });
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        agree(said);
      }}
    >
      <Terms acceptance={acceptance} />
      <WhenAndBy acceptance={acceptance} said={said} say={say} />
      {acceptance.needs_paper ? (
        <p className="mt-2 text-sm text-ink-2">
          {acceptance.needs_paper} Choose the paper that they signed. It can be added on Package.
        </p>
      ) : (
        <label className="mt-3 block text-sm">
          {said.paper ? 'Note' : 'How you know'}
          <input
            className="field mt-1 block w-full"
            required={!said.paper}
            maxLength={150}
            placeholder={said.paper ? '' : 'For example: told by their agent by phone'}
            value={said.how}
            onChange={(e) => say({ how: e.target.value })}
          />
        </label>
      )}
      {rivals.length > 0 && (
        <label className="mt-3 flex gap-2 text-sm">
          <input type="checkbox" checked={said.decline_others} onChange={(e) => say({ decline_others: e.target.checked })} />
          Decline {rivals.join(' and ')}
        </label>
      )}
      <div className="mt-4 flex gap-2">
        <Button look="act" type="submit" disabled={busy || (acceptance.needs_paper !== '' && !said.paper)}>
          {act}
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </form>
  );
}

interface WhenProps {
  acceptance: Acceptance;
  said: AgreedSaid;
  say: (some: Partial<AgreedSaid>) => void;
}

/** When it was agreed, and the paper that shows it. */
function WhenAndBy({ acceptance, said, say }: WhenProps) {
  return (
    <div className="mt-4 flex flex-wrap items-end gap-x-4 gap-y-3">
      <label className="text-sm">
        Agreed on
        <input
          className="field mt-1 block"
          type="date"
          required
          max={today()}
          value={said.day}
          onChange={(e) => say({ day: e.target.value })}
        />
      </label>
      <label className="text-sm">
        At
        <input
          className="field mt-1 block"
          type="time"
          value={said.hour ?? ''}
          onChange={(e) => say({ hour: e.target.value || null })}
        />
      </label>
      <PaperChoice
        label="Signed paper"
        papers={acceptance.papers}
        value={said.paper}
        none={acceptance.papers.length > 0 ? 'No paper' : 'No paper came in yet'}
        required={acceptance.needs_paper !== ''}
        onPaper={(paper) => say({ paper })}
      />
    </div>
  );
}

/** The terms line by line, those that change first. */
function Terms({ acceptance: { rows, words } }: { acceptance: Acceptance }) {
  const changes = rows.filter((row) => row.differs).length;
  return (
    <>
      <p className="mb-2 text-sm text-ink-2">
        These terms will be in force.{' '}
        {changes > 0 ? 'The marked ones change what the agreement says now.' : 'They are as the agreement says now.'}
      </p>
      <div role="region" aria-label="Terms" tabIndex={0} className="max-h-[38vh] overflow-y-auto border border-hair">
        <table className="w-full border-collapse text-sm">
          <thead>
            <tr className="border-b border-hair text-left text-xs text-ink-2">
              <th scope="col" className="px-3 py-1 font-normal">
                Term
              </th>
              <th scope="col" className="w-[30%] px-3 py-1 font-normal">
                Now
              </th>
              <th scope="col" className="w-[34%] px-3 py-1 font-normal">
                Once agreed
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.label} className="border-b border-hair align-top last:border-0">
                <th scope="row" className={`px-3 py-1 text-left ${row.differs ? 'font-medium' : 'font-normal'}`}>
                  {row.label}
                </th>
                <td className="px-3 py-1 text-ink-2 wrap-break-word">{row.now || 'nothing stated'}</td>
                <td className={`px-3 py-1 wrap-break-word ${row.differs ? 'bg-green-wash font-medium' : ''}`}>
                  {row.then || 'nothing stated'}
                  {row.differs && <span className="sr-only"> (changes)</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {words.length > 0 && (
        <div className="mt-3 text-sm">
          <p>These words are agreed on too. No term is read from them, so enter what they change in Facts:</p>
          <ul className="mt-1 list-disc pl-5">
            {words.map((one) => (
              <li key={one.label}>
                {one.label}: {one.text}
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  );
}
