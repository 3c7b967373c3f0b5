/** Somebody of a round who signed on paper while the others sign by link: which scan it is, and on which day. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got, once, type Scans, type WholeRound } from '../../api/client';
import { Button } from '../../primitives/button';
import { FileButton } from '../../primitives/file-button';
import { some, today } from '../../primitives/format';
import { offerPaper, PAPERS } from '../workspace/dropped';
import { useOnRound } from './use-rounds';

type Signer = WholeRound['signers'][number];

interface Props {
  row: WholeRound;
  signer: Signer;
  close: () => void;
}

interface Said {
  day: string;
  scans: { paper: string; document: string }[];
}

const MOST = 6;

const PATH = '/api/rounds/{round_id}/signers/{signer}/by-pen';

/** What was found in the papers chosen as scans; and that it is so, put on record. */
function useScans({ row, signer, close }: Props, chosen: string[]) {
  const path = { round_id: row.id, signer: signer.id };
  const documents = chosen.join(' ');
  const found = useQuery({
    queryKey: ['scans', row.id, signer.id, documents],
    queryFn: () => got(client.GET(PATH, { params: { path, query: { documents } } })),
    placeholderData: (before) => before,
  });
  const record = useOnRound<Said>(
    row.id,
    (body, key) => got(client.POST(PATH, { params: { path }, headers: once(key), body })),
    close,
  );
  return { ...found, record };
}

export function ByPen(props: Props) {
  const { signer: s } = props;
  const [chosen, setChosen] = useState<string[]>([]);
  const [day, setDay] = useState(today());
  const [said, setSaid] = useState<Record<string, string>>({});
  const { data, error, isFetching, record } = useScans(props, chosen);
  if (error) return <p className="text-sm text-wax">Couldn’t read the papers. Nothing was lost. Try again.</p>;
  if (!data) return <p className="text-sm text-ink-2">Loading papers …</p>;
  if (data.came.length === 0)
    return (
      <div className="space-y-2 text-sm">
        <p>There is no scan in the package yet. Add it, then come back.</p>
        <BringIn close={props.close} />
      </div>
    );
  const scanOf = (paper: string, found: string) => said[paper] ?? found;
  const scans = data.papers.map((p) => ({ paper: p.paper, document: scanOf(p.paper, p.document) }));
  const isWhole = chosen.length > 0 && !isFetching && scans.every((p) => chosen.includes(p.document));
  const toggle = (code: string, on: boolean) => setChosen((all) => (on ? [...all, code] : all.filter((c) => c !== code)));
  return (
    <form
      className="space-y-3 text-sm"
      onSubmit={(e) => {
        e.preventDefault();
        if (isWhole) record.mutate({ day, scans });
      }}
    >
      <fieldset>
        <legend className="mb-1 text-xs text-ink-2">Choose the scan</legend>
        {data.came.map((d) => (
          <label key={d.document} className="flex min-h-8 items-center gap-2.5">
            <input
              type="checkbox"
              checked={chosen.includes(d.document)}
              disabled={!chosen.includes(d.document) && chosen.length >= MOST}
              onChange={(e) => toggle(d.document, e.target.checked)}
            />
            <span className="wrap-anywhere">{d.title}</span>
          </label>
        ))}
        <BringIn close={props.close} />
      </fieldset>
      {chosen.length > 0 && (
        <ul aria-label={`Papers that ${s.name} signs`} className="border border-hair bg-paper">
          {data.papers.map((p) => (
            <OnePaper
              key={p.paper}
              paper={p}
              isFetching={isFetching}
              came={data.came.filter((d) => chosen.includes(d.document))}
              document={scanOf(p.paper, p.document)}
              say={(document) => setSaid((all) => ({ ...all, [p.paper]: document }))}
            />
          ))}
        </ul>
      )}
      <label className="block">
        <span className="mb-1 block text-xs text-ink-2">Signed on</span>
        <input type="date" className="field" required max={today()} value={day} onChange={(e) => setDay(e.target.value)} />
      </label>
      <p className="text-xs text-ink-2">
        The scan is added to the signed papers, and this signer’s places say “on paper”. The others sign by their links.
      </p>
      <Button type="submit" look="act" disabled={record.isPending || !isWhole || !day}>
        {s.name} has signed
      </Button>
    </form>
  );
}

/** A scan that isn't in the package yet is offered a place there first. */
const BringIn = ({ close }: { close: () => void }) => (
  <FileButton
    label="A scan that isn’t in the package yet"
    accept={PAPERS}
    onFile={(file) => {
      close();
      offerPaper(file);
    }}
  >
    Choose a file
  </FileButton>
);

interface OneProps {
  paper: Scans['papers'][number];
  came: Scans['came'];
  document: string;
  isFetching: boolean;
  say: (document: string) => void;
}

/** Which scan has a paper, and how much ink was found in it. */
function OnePaper({ paper: p, came, document, isFetching, say }: OneProps) {
  const isFound = document === p.document;
  const ink = p.inked === p.places ? 'text-green-2' : 'text-ochre';
  return (
    <li className="border-b border-hair px-3 py-2 last:border-0">
      <span className="block font-medium wrap-anywhere">{p.title}</span>
      {isFetching ? (
        <span className="text-ink-2">Looking for ink …</span>
      ) : (
        isFound && (
          <span className={ink}>
            Ink in {p.inked} of {some(p.places, 'place')}
            {p.inked < p.places && '. Look at the scan before you say that it is signed.'}
          </span>
        )
      )}
      {came.length > 1 && (
        <select
          className="field mt-1 w-full"
          aria-label={`Scan of ${p.title}`}
          value={document}
          onChange={(e) => say(e.target.value)}
        >
          {came.map((d) => (
            <option key={d.document} value={d.document}>
              {d.title}
            </option>
          ))}
        </select>
      )}
    </li>
  );
}
