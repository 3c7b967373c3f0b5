/** How a round stands, in words. */
import type { Round } from '../../api/client';
import { shortDate, some } from '../../primitives/format';

type State = Round['state'];
type Signer = Round['signers'][number];

const STATES: Record<State, { said: string; ink: string }> = {
  making: { said: 'Not sent', ink: 'text-ochre' },
  out: { said: 'Out', ink: 'text-green-2' },
  finished: { said: 'Signed', ink: 'text-green-2' },
  declined: { said: 'Declined', ink: 'text-wax' },
  recalled: { said: 'Recalled', ink: 'text-ink-2' },
  'run out': { said: 'Ran out', ink: 'text-wax' },
};

/** A round that is no longer what its record says is nothing else any more, whatever it was. */
const DOUBTED = { said: 'Don’t rely on it', ink: 'text-wax' };

export const stateOf = (row: Round) => (row.doubt ? DOUBTED : STATES[row.state]);

const names = (signers: Signer[]) => signers.map((s) => s.name).join(', ');

/** Who is waited on, or what became of it, in one line. */
export function howItStands(row: Round): string {
  if (row.doubt) return 'no longer matches its signing record';
  const signing = row.signers.filter((s) => s.turn > 0);
  const done = signing.filter((s) => s.at === 'done');
  if (row.state === 'making') return row.looked ? 'previewed, ready to send' : 'being made';
  if (row.state === 'out') {
    const waited = names(signing.filter((s) => s.waited_on));
    return `waits for ${waited} · ${done.length} of ${some(signing.length, 'signer')} done`;
  }
  if (row.state === 'finished') return `${row.done} · ${row.sealed ? 'sealed' : 'being sealed'}`;
  return row.said || `${done.length} of ${some(signing.length, 'signer')} had signed`;
}

const AT: Record<Signer['at'], string> = {
  waits: 'waiting for their turn',
  asked: 'was asked, has not opened the papers',
  opened: 'has opened the papers',
  agreed: 'is signing',
  done: 'has signed',
  'on paper': 'asked for paper',
  declined: 'declined',
};

/** How far somebody is. */
export const howFar = (s: Signer): string => {
  if (s.turn === 0) return 'gets a copy when all have signed';
  const places = s.at === 'agreed' && s.places ? `, ${s.put} of ${some(s.places, 'place')}` : '';
  const answers = s.at !== 'done' && s.asked_of ? `, ${s.answered} of ${some(s.asked_of, 'question')} answered` : '';
  if (s.by_pen) return `signed on paper, ${shortDate(s.by_pen)}`;
  return `${AT[s.at]}${answers}${places}${s.in_person ? ', in person' : ''}`;
};
