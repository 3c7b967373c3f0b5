/** What a template is: its name, what it is for, when it is offered, whom it is published to, what it leaves open. */
import { Link } from '@tanstack/react-router';
import { useState, type ReactNode } from 'react';
import { client, got, type WrittenTemplate } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { sayProblem } from '../../primitives/notices';
import { some } from '../../primitives/words';
import { useHand } from '../hand/hand';
import { CoverageBar, CoverageLegend, sumOf } from './coverage';
import { KindsChoice } from './kinds-choice';
import { Publishing } from './publishing';
import { RuleEditor } from './rule-editor';
import { useTemplate } from './template-frame';

type Said = Partial<Pick<WrittenTemplate, 'name' | 'kinds' | 'about' | 'rule' | 'weight'>>;

/** Says something of the template at hand, as one undoable step. */
export function useSay() {
  const { id } = useTemplate();
  const { take } = useHand();
  return useAction({
    mutationFn: (said: Said, change: string) =>
      got(client.POST('/api/templates/{template}', { params: { path: { template: id } }, body: { change, ...said } })),
    onSuccess: (delta) => take(delta),
  });
}

export function AboutScreen() {
  const template = useTemplate();
  const say = useSay();
  /** Why something that was said of it was not taken. */
  const trouble = (...fields: (keyof Said)[]) => {
    const problem = say.error as (Error & { mend?: string }) | null;
    const isOfThese = fields.some((f) => f in (say.variables ?? {}));
    return problem && isOfThese ? (
      <p role="alert" className="mt-2 text-sm text-wax">
        {problem.message} {problem.mend} What you typed is still here.
      </p>
    ) : null;
  };
  return (
    <div className="h-full overflow-auto px-6 pb-12 pt-5 max-[620px]:px-3">
      <div className="mx-auto grid max-w-[1060px] items-start gap-6 min-[900px]:grid-cols-[minmax(0,1fr)_360px]">
        <div className="border border-hair bg-sheet">
          {template.retired.length > 0 && <MoveOn template={template} />}
          <Part title="Called">
            <Line key={template.name} label="Name" of="name" value={template.name} say={(name) => say.mutate({ name })} />
            <Line
              key={`for ${template.about}`}
              label="What it is for"
              of="about"
              value={template.about}
              say={(about) => say.mutate({ about })}
            />
            {trouble('name', 'about')}
          </Part>
          <Part title="For">
            <p className="mb-2 text-sm">
              {template.side[0]?.toUpperCase() + template.side.slice(1)}
              {template.copied_from && <span className="text-ink-2"> · a copy of “{template.copied_from.name}”</span>}
            </p>
            <KindsChoice kinds={template.kinds} onChange={(kinds) => say.mutate({ kinds })} />
            {trouble('kinds')}
          </Part>
          <Part title="Offered">
            <RuleEditor template={template} say={(said) => say.mutate(said)} />
            {trouble('rule', 'weight')}
          </Part>
          <Part title="Published">
            <Publishing template={template} />
          </Part>
        </div>
        <Answers template={template} />
      </div>
    </div>
  );
}

/** Newer editions of its forms are there: what it would be, in one action that can be undone. */
function MoveOn({ template }: { template: WrittenTemplate }) {
  const { take } = useHand();
  const move = useAction({
    mutationFn: (_: void, change: string) =>
      got(client.POST('/api/templates/{template}/newest', { params: { path: { template: template.id } }, body: { change } })),
    onSuccess: (delta) => take(delta, delta.said),
    onError: sayProblem,
  });
  return (
    <div className="flex flex-wrap items-center gap-3 border-b border-ochre bg-ochre-wash px-5 py-3 text-sm">
      <span className="min-w-0 flex-1">
        A newer release has another edition of {template.retired.join(', ')}, or none any more. Moving on takes retired forms out
        and carries every answer whose blank is still there.
      </span>
      <Button disabled={move.isPending} onClick={() => move.mutate()}>
        {move.isPending ? 'Moving on …' : 'Move on'}
      </Button>
    </div>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="grid grid-cols-[100px_minmax(0,1fr)] gap-4 border-b border-hair px-5 py-4 last:border-0 max-[620px]:grid-cols-1 max-[620px]:gap-1">
      <h2 className="pt-1 text-sm font-semibold">{title}</h2>
      <div className="min-w-0">{children}</div>
    </section>
  );
}

/** One line of text, said when it is left. */
function Line({ label, of, value, say }: { label: string; of: string; value: string; say: (text: string) => void }) {
  const { id } = useTemplate();
  const kept = useKept(`template ${id} ${of}`, value);
  const leave = () => {
    const text = kept.typed.trim();
    if (text !== value)
      say(text); // what is refused stays as it was typed
    else kept.settle(text);
  };
  return (
    <label className="mb-2 block text-xs text-ink-2">
      {label}
      <input
        className="field block w-full text-base text-ink"
        value={kept.typed}
        maxLength={of === 'name' ? 200 : 300}
        onChange={(e) => kept.set(e.target.value)}
        onBlur={leave}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
    </label>
  );
}

/** How much it answers, and what it leaves open by form. */
function Answers({ template }: { template: WrittenTemplate }) {
  const { at } = useHand();
  const [all, setAll] = useState(false);
  const asked = template.left.filter((l) => all || l.by === 'asked');
  const numbers = [...new Set(asked.map((l) => l.number))];
  return (
    <aside aria-label="What it answers" className="border border-hair bg-paper px-5 py-4">
      <h2 className="mb-2 text-sm font-semibold">Of {some(sumOf(template.coverage), 'blank')}</h2>
      <CoverageBar counts={template.coverage} width="100%" />
      <div className="mb-4 mt-2">
        <CoverageLegend counts={template.coverage} />
      </div>
      {template.documents === 0 && (
        <p className="text-sm text-ink-2">
          No form is in it yet.{' '}
          <Link {...at('package')} className="text-green-2 underline">
            Gather them
          </Link>
        </p>
      )}
      {template.left.length > 0 && (
        <Button look="words" className="-ml-1.25 mb-1" aria-pressed={all} onClick={() => setAll(!all)}>
          {all ? 'Only what is left to ask' : 'All that it doesn’t answer itself'}
        </Button>
      )}
      {numbers.map((number) => (
        <section key={number} className="mb-2 text-sm">
          <h3 className="text-xs font-semibold text-ink-2">Form {number}</h3>
          <ul>
            {asked
              .filter((l) => l.number === number)
              .map((l) => (
                <li key={l.document + l.field} className="flex justify-between gap-3">
                  <Link
                    {...at('write', { search: { document: l.document, field: l.field } })}
                    className="min-w-0 truncate hover:text-green-2 hover:underline"
                  >
                    {l.label}
                  </Link>
                  {all && <span className="shrink-0 text-xs text-ink-2">{l.by}</span>}
                </li>
              ))}
          </ul>
        </section>
      ))}
    </aside>
  );
}
