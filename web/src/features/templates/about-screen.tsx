/** What a template is: its name, what it is for, when it is offered, whom it is published to, what it leaves open. */
import type { ReactNode } from 'react';
import { client, got, type WrittenTemplate } from '../../api/client';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { capital } from '../../primitives/format';
import { useWorkspace } from '../workspace/workspace';
import { Answers } from './answers';
import { KindsChoice } from './kinds-choice';
import { MoveOn } from './move-on';
import { People } from './people';
import { Publishing } from './publishing';
import { RuleEditor } from './rule-editor';
import { Sample } from './sample';
import { useTemplate } from './template-frame';
import { Upstream } from './upstream';

type Said = Partial<Pick<WrittenTemplate, 'name' | 'kinds' | 'about' | 'rule' | 'weight'>> & {
  people?: Record<string, string | null>;
};

/** Says something of the template at hand, as one undoable step. */
export function useSay() {
  const { id } = useTemplate();
  const { take } = useWorkspace();
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
        {problem.message} {problem.mend} Your text is still here.
      </p>
    ) : null;
  };
  return (
    <div className="h-full overflow-auto px-6 pb-12 pt-5 max-[620px]:px-3">
      <div className="mx-auto grid max-w-[1060px] items-start gap-6 min-[900px]:grid-cols-[minmax(0,1fr)_360px]">
        <div className="border border-hair bg-sheet">
          {template.faults.length > 0 && <Faults of={template.faults} />}
          {template.retired.length > 0 && <MoveOn template={template} />}
          {template.upstream.length > 0 && <Upstream template={template} />}
          <Part title="Called">
            <Line key={template.name} label="Name" of="name" value={template.name} say={(name) => say.mutate({ name })} />
            <Line
              key={`for ${template.about}`}
              label="Purpose"
              of="about"
              value={template.about}
              say={(about) => say.mutate({ about })}
            />
            {trouble('name', 'about')}
          </Part>
          <Part title="For">
            <p className="mb-2 text-sm">
              {capital(template.side)}
              {template.copied_from && <span className="text-ink-2"> · a copy of “{template.copied_from.name}”</span>}
            </p>
            <KindsChoice kinds={template.kinds} onChange={(kinds) => say.mutate({ kinds })} />
            {trouble('kinds')}
          </Part>
          <Part title="People">
            <People template={template} say={(people) => say.mutate({ people })} />
            {trouble('people')}
          </Part>
          <Part title="Offered">
            <RuleEditor template={template} say={(said) => say.mutate(said)} />
            {trouble('rule', 'weight')}
          </Part>
          <Part title="Published">
            <Publishing template={template} />
          </Part>
        </div>
        <div className="space-y-6">
          <Sample template={template} />
          <Answers template={template} />
        </div>
      </div>
    </div>
  );
}

/** What in it can't be published as it is. */
function Faults({ of }: { of: string[] }) {
  return (
    <ul aria-label="To fix" className="border-b border-wax bg-wax-wash px-5 py-3 text-sm text-wax">
      {of.map((fault) => (
        <li key={fault}>{fault}</li>
      ))}
    </ul>
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
