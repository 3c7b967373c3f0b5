/** When a template is offered: chosen by the agent, or by a rule over what is known of a new deal; tried on past deals. */
import { useQuery } from '@tanstack/react-query';
import { sideOf, useChoices } from '../../api/choices';
import { client, got, type WrittenTemplate } from '../../api/client';
import { countiesQuery } from '../../api/queries';
import { useKept } from '../../api/use-kept';

type Weight = WrittenTemplate['weight'];
type Said = Partial<Pick<WrittenTemplate, 'rule' | 'weight'>>;
const WEIGHTS: [Weight, string][] = [
  ['', 'When the agent chooses it'],
  ['suggested', 'Suggested where a rule holds'],
  ['required', 'Required where a rule holds'],
];

/** A rule out of choices; what was chosen nowhere is left out. */
const ruleOf = (chosen: Record<string, string>) =>
  Object.entries(chosen)
    .filter(([, value]) => value)
    .map(([key, value]) => `${key} = "${value}"`)
    .join(' and ');

/** The choices that a rule of this sort was made of. */
const chosenIn = (rule: string): Record<string, string> =>
  Object.fromEntries([...rule.matchAll(/([a-z_]+\.[a-z_]+)\s*=\s*"([^"]*)"/g)].map((m) => [m[1], m[2]]));

interface Props {
  template: WrittenTemplate;
  say: (said: Said) => void;
}

/** Begun anew whenever the rule is another one: what is typed here is typed over the one that stands. */
export function RuleEditor(props: Props) {
  return <Editor key={props.template.rule} {...props} />;
}

function Editor({ template, say }: Props) {
  const choices = useChoices();
  const { data: counties = [] } = useQuery(countiesQuery);
  const kept = useKept(`template ${template.id} rule`, template.rule);
  const chosen = chosenIn(kept.typed);
  // A rule that says more than the choices can is left to whoever wrote it.
  const isOfChoices = kept.typed.trim() === '' || ruleOf(chosen) === kept.typed.trim();
  const put = (rule: string) => rule !== template.rule && say({ rule }); // what is refused stays as it was typed
  const choose = (key: string, value: string) => {
    kept.set(template.rule); // chosen, it is not what was typed
    put(ruleOf({ ...chosen, 'deal.side': template.side, [key]: value }));
  };
  const asks: [string, string, string[]][] = [
    ['property.category', 'Kind of property', choices.property_kinds],
    ['property.county', 'County', counties],
    ['terms.loan_type', 'Loan', sideOf(choices, template.side).is_lease ? [] : choices.loan_types],
  ];
  return (
    <>
      <select
        className="field block w-full"
        aria-label="When it is offered"
        value={template.weight}
        onChange={(e) => {
          const weight = e.target.value as Weight;
          say({ weight, ...(weight && !template.rule && { rule: ruleOf({ 'deal.side': template.side }) }) });
        }}
      >
        {WEIGHTS.map(([value, label]) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
      {template.weight && (
        <>
          <div className="mt-2 flex flex-wrap gap-2">
            {asks
              .filter(([, , options]) => isOfChoices && options.length > 0)
              .map(([key, label, options]) => (
                <label key={key} className="block text-xs text-ink-2">
                  {label}
                  <select
                    className="field block text-base text-ink"
                    value={chosen[key] ?? ''}
                    onChange={(e) => choose(key, e.target.value)}
                  >
                    <option value="">any</option>
                    {options.map((o) => (
                      <option key={o}>{o}</option>
                    ))}
                  </select>
                </label>
              ))}
          </div>
          <label className="mt-2 block text-xs text-ink-2">
            The rule, as a formula
            <input
              className="field block w-full text-base text-ink"
              value={kept.typed}
              maxLength={300}
              onChange={(e) => kept.set(e.target.value)}
              onBlur={() => put(kept.typed.trim())}
              onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
            />
          </label>
          <Tried template={template} rule={template.rule} />
        </>
      )}
    </>
  );
}

/** Of how many past deals it would have held. */
function Tried({ template, rule }: { template: WrittenTemplate; rule: string }) {
  const { data } = useQuery({
    queryKey: ['rule', template.id, rule],
    queryFn: () =>
      got(client.POST('/api/templates/{template}/rule', { params: { path: { template: template.id } }, body: { rule } })),
    enabled: rule.trim() !== '',
    staleTime: 60_000,
  });
  if (!data) return <p className="mt-1 h-4 text-xs" />;
  if (data.fault) return <p className="mt-1 text-xs text-wax">{data.fault}</p>;
  const told =
    data.of === 0
      ? 'You have no deal of this side yet to try it on.'
      : `${data.held} of your last ${data.of === 1 ? 'deal' : `${data.of} deals`} of this side would have been offered this.`;
  return <p className="mt-1 text-xs text-ink-2">{told}</p>;
}
