/** One money sheet as a table: a line for each addend, a column for each case, and where the money goes, to scale. */
import { useMemo, useState, type ReactNode } from 'react';
import type { Reckoned } from '../../api/client';
import { Button } from '../../primitives/button';
import { Mark, markOf } from '../../primitives/mark';
import { some } from '../../primitives/format';
import { useDeal } from '../deals/use-deal';
import { FactInput } from '../facts/fact-input';
import { resultStep, stepsOf, type Step } from './scale';
import type { Case, Cell } from './use-reckoned';

type Line = Reckoned['lines'][number];

interface Props {
  reckoned: Reckoned;
  /** For each column its cells by key; the first is the deal's own. */
  cells: ReadonlyMap<string, Cell>[];
  cases: Case[];
  inHand: string | null;
  onHand: (key: string) => void;
  onType: (at: string, key: string, text: string) => void;
  header: (one: { id: string; name: string }) => ReactNode;
}

/** Whether a line says nothing in any case: neither an amount, nor that one is waited for. */
const saysNothing = (line: Line, columns: ReadonlyMap<string, Cell>[]) =>
  !line.is_sum && columns.every((cells) => Number(cells.get(line.key)?.amount ?? NaN) === 0);

export function SheetTable(props: Props) {
  const { reckoned, cells, cases, header } = props;
  const [all, setAll] = useState(false);
  const names = reckoned.columns.map((c, n) => nameOf(c.name, cases[n - 1]));
  const quiet = reckoned.lines.filter((line) => saysNothing(line, cells)).length;
  const lines = reckoned.lines.filter((line) => all || !saysNothing(line, cells));
  const own = cells[0];
  const steps = useMemo(() => (own ? stepsOf(reckoned, own) : new Map<string, Step>()), [reckoned, own]);
  if (!own) return null;
  return (
    <div className="overflow-x-auto border border-hair bg-paper">
      <table className="quiet-fields w-full border-collapse text-sm tabular-nums">
        <thead>
          <tr className="border-b border-blotter-3 text-left text-xs text-ink-2">
            <th className="px-3 py-2 font-medium">{reckoned.sheets.find((s) => s.name === reckoned.sheet)?.title}</th>
            <th className="w-[190px] px-2 font-medium max-[1000px]:hidden">To scale</th>
            {names.map((name, n) => {
              const beside = cases[n - 1];
              return (
                <th key={beside?.id ?? 'own'} className="w-[150px] px-2 font-medium">
                  <span className="flex items-center justify-end gap-1">
                    {name}
                    {beside && header({ id: beside.id, name })}
                  </span>
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {reckoned.set_by.map((fact) => (
            <Row key={`by ${fact.key}`} line={{ ...fact, sign: 1, level: 0, is_sum: false }} {...props} step={undefined} sets />
          ))}
          <tr>
            <td colSpan={names.length + 2} className="h-2 border-b border-blotter-3" />
          </tr>
          {lines.map((line) => (
            <Row key={line.key} line={line} {...props} step={steps.get(line.key)} />
          ))}
        </tbody>
        <tfoot>
          <tr className="border-t-2 border-ink font-semibold">
            <td className="px-3 py-2.5">{reckoned.result_label}</td>
            <td className="px-2 max-[1000px]:hidden">
              {own.get(reckoned.result)?.amount && <Bar step={resultStep(reckoned, own)} sum />}
            </td>
            {cells.map((column, n) => (
              <td key={n} className="px-2 text-right font-serif text-[1.0625rem]">
                <Sum cell={column.get(reckoned.result)} less={n > 0 ? own.get(reckoned.result) : undefined} />
              </td>
            ))}
          </tr>
        </tfoot>
      </table>
      {quiet > 0 && (
        <div className="border-t border-hair px-2 py-1">
          <Button look="words" aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? 'Hide zero lines' : `${some(quiet, 'line')} at nothing`}
          </Button>
        </div>
      )}
    </div>
  );
}

const nameOf = (offer: string, beside: Case | undefined) => (beside?.offer === null ? 'What if' : offer);

/** The sum, and by how much it is more or less than the deal's; or what it waits for. */
function Sum({ cell, less }: { cell: Cell | undefined; less: Cell | undefined }) {
  if (!cell?.shown) {
    const said = cell ? `waits for ${some(cell.waits.length, 'answer')}` : '';
    return (
      <span className="font-sans text-xs font-normal text-ink-2" title={cell?.waits.join(', ')}>
        {said}
      </span>
    );
  }
  const by = less?.amount && cell.amount ? Number(cell.amount) - Number(less.amount) : 0;
  return (
    <>
      {cell.shown}
      {by !== 0 && (
        <span className="block font-sans text-xs font-normal text-ink-2">
          {by > 0 ? '+' : '−'}
          {Math.abs(by).toLocaleString('en-US', { minimumFractionDigits: 2, maximumFractionDigits: 2 })}
        </span>
      )}
    </>
  );
}

function Bar({ step, sum = false }: { step: Step | undefined; sum?: boolean }) {
  if (!step) return null;
  const look = sum ? 'bg-ink' : step.adds ? 'bg-green' : 'bg-ink-3';
  return (
    <span aria-hidden="true" className="scale block h-2.5">
      <span
        className={`block h-full ${look}`}
        style={{ marginLeft: `${step.from * 100}%`, width: `max(1px, ${step.width * 100}%)` }}
      />
    </span>
  );
}

interface RowProps extends Props {
  line: Line;
  step: Step | undefined;
  /** A fact that moves the sheet, and no line of it. */
  sets?: boolean;
}

function Row({ line, step, cells, cases, inHand, onHand, onType, reckoned, sets = false }: RowProps) {
  const { facts } = useDeal();
  const fact = facts.get(line.key);
  const [own] = cells;
  const cell = own?.get(line.key);
  const mark = fact && markOf(fact.source, fact.differs);
  const chosen = inHand === line.key;
  return (
    <tr className={`border-b border-hair ${chosen ? 'bg-green-wash' : ''} ${line.is_sum ? 'text-ink-2' : ''}`}>
      <td className="py-0.5 pr-2" style={{ paddingLeft: 12 + line.level * 16 }}>
        <button
          type="button"
          aria-pressed={chosen}
          onClick={() => onHand(line.key)}
          className="moves flex min-h-7 w-full items-center gap-1.5 text-left hover:text-green-2"
        >
          <span className="w-3 shrink-0 text-ink-2">{sets ? '' : line.sign > 0 ? '+' : '−'}</span>
          <span className="min-w-0 flex-1">
            {line.label}
            {cell && !cell.shown && cell.waits.length > 0 && !line.is_sum && !sets && (
              <span className="block text-xs text-ink-2">waits for {cell.waits.join(', ')}</span>
            )}
          </span>
          {mark && <Mark name={mark} size={12} quiet />}
        </button>
      </td>
      <td className="px-2 max-[1000px]:hidden">
        <Bar step={step} />
      </td>
      <td className="px-2 text-right">
        {line.is_sum || !fact ? (
          <span className="pr-2">{cell?.edit}</span>
        ) : (
          <div className="ends">
            <FactInput
              fact={{ ...fact, example: '' }}
              label={`${line.label}${sets ? ', changes the totals' : ''}`}
              onFocus={() => onHand(line.key)}
            />
          </div>
        )}
      </td>
      {cases.map((one, n) => (
        <td key={one.id} className="px-2 text-right">
          <Otherwise
            one={one}
            line={line}
            cell={cells[n + 1]?.get(line.key)}
            wrong={reckoned.columns[n + 1]?.wrong.find((w) => w.key === line.key)?.message}
            fixed={line.is_sum || one.offer !== null}
            onType={onType}
          />
        </td>
      ))}
    </tr>
  );
}

interface OtherwiseProps {
  one: Case;
  line: Line;
  cell: Cell | undefined;
  wrong: string | undefined;
  /** Only reckoned: a sum, or another offer's. */
  fixed: boolean;
  onType: (at: string, key: string, text: string) => void;
}

/** A value of another case: typed over, it is otherwise there alone. */
function Otherwise({ one, line, cell, wrong, fixed, onType }: OtherwiseProps) {
  const typed = one.otherwise[line.key];
  const [text, setText] = useState<string | null>(null);
  if (fixed) return <span className="pr-2">{cell?.edit}</span>;
  return (
    <div className="ends">
      <input
        className={`field values w-full ${typed === undefined ? '' : 'font-semibold'}`}
        aria-label={`${line.label}, what if`}
        aria-invalid={wrong !== undefined}
        value={text ?? (wrong ? typed : cell?.edit) ?? ''}
        onChange={(e) => {
          setText(e.target.value);
          onType(one.id, line.key, e.target.value);
        }}
        onBlur={() => setText(null)}
        onKeyDown={(e) => {
          if (e.key === 'Enter') e.currentTarget.blur();
          if (e.key !== 'Escape') return;
          onType(one.id, line.key, '');
          setText(null);
        }}
      />
      {wrong && (
        <p role="alert" className="text-xs text-wax">
          {wrong}
        </p>
      )}
      {typed !== undefined && !wrong && (
        <button
          type="button"
          className="min-h-6 text-xs text-green-2 hover:underline"
          onClick={() => onType(one.id, line.key, '')}
        >
          as in the deal
        </button>
      )}
    </div>
  );
}
