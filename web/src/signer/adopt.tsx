/** A signature and initials of one's own: typed in one of two faces, or drawn. */
import { useEffect, useState } from 'react';
import { Button } from '../primitives/button';
import { Switch } from '../primitives/switch';
import { useSettled } from '../primitives/use-settled';
import type { Adopted, Face, Round } from './asking';
import { inWords } from './asking';
import { DrawPad, type Strokes } from './draw-pad';
import { Drawn } from './pages';
import { Sheet } from './sheet';
import type { UsedRound } from './use-round';

interface Props {
  used: UsedRound;
  round: Round;
  close: () => void;
}

const WAYS = [
  ['typed', 'Type it'],
  ['drawn', 'Draw it'],
] as const;

export function Adopt({ used, round, close }: Props) {
  const [way, setWay] = useState<'typed' | 'drawn'>('typed');
  const needsInitials = round.papers.some((paper) => paper.places.some((p) => p.sign === 'initials'));
  const needsSignature = round.papers.some((paper) => paper.places.some((p) => p.sign === 'signature'));
  const use = async (signature: Adopted, initials: Adopted) => {
    const done = await used.run(async (ask) => {
      if (needsSignature) await ask.adopt('signature', signature);
      return needsInitials ? ask.adopt('initials', initials) : ask.see();
    });
    if (done) close();
  };
  return (
    <Sheet title="Your signature" close={close}>
      <Switch label="How it is made" ways={WAYS} at={way} choose={setWay} />
      {way === 'typed' ? (
        <Typed used={used} round={round} initials={needsInitials} use={use} />
      ) : (
        <DrawnByHand busy={used.busy} initials={needsInitials} signature={needsSignature} use={use} />
      )}
      {used.trouble && (
        <p role="alert" className="mt-2 text-sm text-wax">
          {used.trouble}
        </p>
      )}
    </Sheet>
  );
}

interface TypedProps {
  used: UsedRound;
  round: Round;
  initials: boolean;
  use: (signature: Adopted, initials: Adopted) => Promise<void>;
}

const bare = (text: string) => text.normalize('NFC').replace(/\s+/g, ' ').trim().toLocaleLowerCase();

function Typed({ used, round, initials, use }: TypedProps) {
  const [name, setName] = useState(round.name);
  const [letters, setLetters] = useState(round.letters);
  const [face, setFace] = useState('');
  const [faces, setFaces] = useState<Face[]>([]);
  const [trouble, setTrouble] = useState('');
  const [sure, setSure] = useState(false);
  const settled = useSettled(`${name}\n${letters}`, 250);
  const { ask } = used;
  useEffect(() => {
    const [asked = '', askedLetters = ''] = settled.split('\n');
    let isThere = true;
    ask.faces(asked, initials ? askedLetters : 'A').then(
      (found) => isThere && (setFaces(found), setTrouble('')),
      (error: unknown) => isThere && setTrouble(inWords(error)),
    );
    return () => {
      isThere = false;
    };
  }, [ask, settled, initials]);
  const chosen = faces.find((f) => f.face === face) ?? faces.find((f) => f.signature);
  const differs = bare(name) !== bare(round.name);
  const fits = chosen?.signature && (!initials || chosen.initials) && (!differs || sure);
  return (
    <form
      className="mt-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (chosen && fits) void use({ name, face: chosen.face }, { name: letters, face: chosen.face });
      }}
    >
      <div className="flex gap-3">
        <label className="min-w-0 flex-1 text-sm">
          Your name
          <input
            className="field mt-0.5 w-full text-base!"
            value={name}
            maxLength={80}
            onChange={(e) => setName(e.target.value)}
          />
        </label>
        {initials && (
          <label className="w-[92px] text-sm">
            Initials
            <input
              className="field mt-0.5 w-full text-base!"
              value={letters}
              maxLength={10}
              onChange={(e) => setLetters(e.target.value)}
            />
          </label>
        )}
      </div>
      <Faces faces={faces} chosen={chosen} choose={setFace} initials={initials} />
      {differs && (
        <label className="mt-3 flex gap-2 text-sm">
          <input type="checkbox" checked={sure} onChange={(e) => setSure(e.target.checked)} />
          The papers name you {round.name}. You sign as {name.trim() || '…'} all the same.
        </label>
      )}
      {trouble && (
        <p role="alert" className="mt-2 text-sm text-wax">
          {trouble}
        </p>
      )}
      <Button type="submit" look="act" className="mt-4 min-h-12 w-full text-base!" disabled={used.busy || !fits}>
        Use this signature
      </Button>
    </form>
  );
}

interface FacesProps {
  faces: Face[];
  chosen: Face | undefined;
  choose: (face: string) => void;
  initials: boolean;
}

/** The name in each hand, to choose from. */
function Faces({ faces, chosen, choose, initials }: FacesProps) {
  return (
    <fieldset className="mt-3">
      <legend className="text-sm">The hand it is written in</legend>
      <div className="mt-1 grid gap-2">
        {faces.map((f) => (
          <label
            key={f.face}
            className={`on-paper flex min-h-[68px] items-center gap-4 border bg-paper px-3 py-2 ${chosen?.face === f.face ? 'border-green' : 'border-blotter-3'}`}
          >
            <input
              type="radio"
              name="face"
              checked={chosen?.face === f.face}
              onChange={() => choose(f.face)}
              disabled={!f.signature}
            />
            <span className="sr-only">{f.face}</span>
            {f.trouble ? (
              <span className="text-sm text-wax">{f.trouble}</span>
            ) : (
              <>
                <span className="relative h-12 min-w-0 flex-1 text-values">
                  {f.signature && <Drawn mark={f.signature} className="h-12 w-full" />}
                </span>
                {initials && (
                  <span className="h-10 w-14 text-values">{f.initials && <Drawn mark={f.initials} className="h-10 w-14" />}</span>
                )}
              </>
            )}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

interface HandProps {
  busy: boolean;
  initials: boolean;
  signature: boolean;
  use: (signature: Adopted, initials: Adopted) => Promise<void>;
}

function DrawnByHand({ busy, initials, signature, use }: HandProps) {
  const [name, setName] = useState<Strokes>([]);
  const [letters, setLetters] = useState<Strokes>([]);
  const fits = (!signature || name.length > 0) && (!initials || letters.length > 0);
  return (
    <div className="mt-3">
      {signature && <DrawPad label="Draw your signature" strokes={name} set={setName} />}
      {initials && <DrawPad label="Draw your initials" strokes={letters} set={setLetters} small />}
      <Button
        look="act"
        className="mt-2 min-h-12 w-full text-base!"
        disabled={busy || !fits}
        onClick={() => void use({ strokes: name }, { strokes: letters })}
      >
        Use this signature
      </Button>
    </div>
  );
}
