/** The money of a deal: its sheets line by line, other cases beside it, where the money goes to scale, and sums asked backwards. */
import { Printer, X } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../../primitives/button';
import { Columns } from '../../primitives/columns';
import { Menu, MenuItem } from '../../primitives/menu';
import { Switch } from '../../primitives/switch';
import { TWO_COLUMNS, useWide } from '../../primitives/use-wide';
import { useDeal } from '../deals/use-deal';
import { Lens } from '../facts/lens';
import { usePack } from '../workspace/use-pack';
import { PlaceOnPaper } from '../write/place-on-paper';
import { AskBackwards } from './ask-backwards';
import { SheetTable } from './sheet-table';
import { MOST_CASES, useCases, useReckoned } from './use-reckoned';

export function MoneyScreen() {
  const [sheet, setSheet] = useState('');
  const [inHand, setInHand] = useState<string | null>(null);
  const kept = useCases();
  const { reckoned, cells, beside, error } = useReckoned(sheet, kept.cases);
  if (!reckoned) return error ? <p className="p-8 text-wax">{error.message}</p> : null;
  return (
    <Columns
      widths={[0, 420]}
      inHand={inHand}
      edge={<span className="text-sm">On paper</span>}
      lens={<OnPaper form={formOf(reckoned)} at={inHand} onHand={setInHand} />}
    >
      <div className="h-full overflow-auto">
        <div className="mx-auto max-w-[940px] px-6 pb-12 pt-4 max-[560px]:px-3">
          <div className="mb-3 flex flex-wrap items-center gap-2">
            <Switch
              label="Sheets"
              ways={reckoned.sheets.map((one) => [one.name, one.title] as const)}
              at={reckoned.sheet}
              choose={(name) => {
                setSheet(name);
                setInHand(null);
              }}
            />
            <span className="ml-auto flex gap-2">
              <AddCase room={beside.length < MOST_CASES} add={kept.add} />
              <Button look="words" onClick={() => window.print()}>
                <Printer size={15} /> Print
              </Button>
            </span>
          </div>
          <SheetTable
            reckoned={reckoned}
            cells={cells}
            cases={beside}
            inHand={inHand}
            onHand={setInHand}
            onType={kept.type}
            header={(one) => (
              <button
                type="button"
                aria-label={`Take out ${one.name}`}
                onClick={() => kept.drop(one.id)}
                className="moves grid h-6 w-6 place-items-center rounded-sm text-ink-2 hover:bg-blotter"
              >
                <X size={14} />
              </button>
            )}
          />
          <AskBackwards key={reckoned.sheet} reckoned={reckoned} cases={beside} onType={kept.type} />
        </div>
      </div>
    </Columns>
  );
}

const formOf = (reckoned: { sheet: string; sheets: { name: string; form: string }[] }) =>
  reckoned.sheets.find((one) => one.name === reckoned.sheet)?.form ?? '';

/** Another case beside the deal: a further offer, or the one at hand with something otherwise. */
function AddCase({ room, add }: { room: boolean; add: (offer: number | null) => void }) {
  const { offers, offer } = useDeal().deal.head;
  const others = offers.filter((o) => o.id !== offer);
  if (!room) return null;
  if (others.length === 0) return <Button onClick={() => add(null)}>What if …</Button>;
  return (
    <Menu width={260} trigger={<Button>Beside it …</Button>}>
      <MenuItem run={() => add(null)} note="The same, with something otherwise">
        What if
      </MenuItem>
      {others.map((o) => (
        <MenuItem key={o.id} run={() => add(o.id)} note={o.parties}>
          {o.name}
        </MenuItem>
      ))}
    </Menu>
  );
}

/** The line in hand: what it is and where it came from; and the form that the sheet is printed on, at its place. */
function OnPaper({ form, at, onHand }: { form: string; at: string | null; onHand: (key: string) => void }) {
  const { deal } = useDeal();
  const pack = usePack();
  const beside = useWide(TWO_COLUMNS);
  const [place, setPlace] = useState('');
  const document = deal.documents.find((d) => d.number === form && !d.set_aside);
  const places = deal.blanks.filter((b) => b.document === document?.id && b.shape !== 'sign');
  const shown = places.find((b) => b.field === place) ?? places.find((b) => b.key === at) ?? places[0];
  return (
    <div className="flex h-full min-h-0 flex-col">
      {at && (
        <div className={`shrink-0 overflow-auto border-b border-hair ${beside ? 'max-h-[50%]' : ''}`}>
          <Lens keyName={at} onGo={(p) => setPlace(p.document === document?.id ? p.field : '')} entry />
        </div>
      )}
      <div className="min-h-[200px] flex-1">
        {shown ? (
          <PlaceOnPaper
            blank={shown}
            onBlank={(b) => {
              setPlace(b.field);
              onHand(b.key);
            }}
          />
        ) : (
          <div className="p-4 text-sm text-ink-2">
            <p className="mb-3">Form {form} prints this sheet; it is not in the package.</p>
            <Button disabled={pack.isPending} onClick={() => pack.mutate({ op: 'add', numbers: [form] })}>
              Add {form}
            </Button>
          </div>
        )}
      </div>
    </div>
  );
}
