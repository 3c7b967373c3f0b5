/** Whom a template is published to, and what was published of it so far. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { client, got, once, type WrittenTemplate } from '../../api/client';
import { templateQuery } from '../../api/queries';
import { useAction } from '../../api/use-action';
import { useKept } from '../../api/use-kept';
import { Button } from '../../primitives/button';
import { notify } from '../../primitives/notices';
import { moment } from '../../primitives/format';

const REACHES = [
  ['mine', 'Nobody: it is mine alone'],
  ['members', 'Chosen members'],
  ['offices', 'Chosen offices'],
  ['brokerage', 'The whole brokerage'],
] as const;
type Reach = (typeof REACHES)[number][0];
interface Wanted {
  reach: Reach;
  members: string[];
  offices: string[];
  said: string;
}

function usePublish(template: WrittenTemplate) {
  const queries = useQueryClient();
  return useAction({
    mutationFn: (body: Wanted, key: string) =>
      got(
        client.POST('/api/templates/{template}/publish', {
          params: { path: { template: template.id } },
          headers: once(key),
          body,
        }),
      ),
    onSuccess: (now) => {
      queries.setQueriesData({ queryKey: templateQuery(template.id).queryKey.slice(0, 2) }, now);
      void queries.invalidateQueries({ queryKey: ['templates'] });
      notify(now.reach === 'mine' ? 'It is yours alone again.' : `Published as version ${now.version}.`);
    },
  });
}

export function Publishing({ template }: { template: WrittenTemplate }) {
  const [reach, setReach] = useState(template.reach as Reach);
  const [members, setMembers] = useState(template.members);
  const [offices, setOffices] = useState(template.offices);
  const kept = useKept(`template ${template.id} publish`, '');
  const publish = usePublish(template);
  const isSame =
    reach === template.reach && String(members) === String(template.members) && String(offices) === String(template.offices);
  const hasNews = !isSame || template.unpublished;
  return (
    <>
      <label className="block text-xs text-ink-2">
        To
        <select
          className="field block w-full text-base text-ink"
          value={reach}
          onChange={(e) => setReach(e.target.value as Reach)}
        >
          {REACHES.filter(([r]) => template.may_publish || r === 'mine' || r === 'members').map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
      {!template.may_publish && (
        <p className="mt-1 text-xs text-ink-2">
          To offices and the whole brokerage publishes the broker, or whom the broker lets put papers to use.
        </p>
      )}
      {reach === 'members' && <Chosen label="Members" of={template.everybody} chosen={members} onChange={setMembers} />}
      {reach === 'offices' && <Chosen label="Offices" of={template.branches} chosen={offices} onChange={setOffices} />}
      {reach !== 'mine' && (
        <label className="mt-2 block text-xs text-ink-2">
          Summary of changes
          <input
            className="field block w-full text-base text-ink"
            maxLength={300}
            value={kept.typed}
            onChange={(e) => kept.set(e.target.value)}
          />
        </label>
      )}
      {publish.error && (
        <p role="alert" className="mt-2 text-sm text-wax">
          {publish.error.message}
        </p>
      )}
      <div className="mt-3 flex items-center gap-3">
        <Button
          look={hasNews ? 'act' : 'plain'}
          disabled={!hasNews || publish.isPending}
          onClick={() => {
            publish.mutate({ reach, members, offices, said: kept.typed.trim() });
            kept.settle('');
          }}
        >
          {reach === 'mine' ? 'Keep it to myself' : 'Publish'}
        </Button>
        <span className="text-xs text-ink-2">
          {template.unpublished
            ? 'Others still get what was published last.'
            : 'Deals that began with it keep what they began with.'}
        </span>
      </div>
      <ol className="mt-3 text-xs text-ink-2">
        {template.versions.map((v) => (
          <li key={v.number}>
            Version {v.number}, {v.by}, {moment(v.at)}
            {v.said && `: ${v.said}`}
          </li>
        ))}
      </ol>
    </>
  );
}

interface ChosenProps {
  label: string;
  of: { id: string; name: string }[];
  chosen: string[];
  onChange: (chosen: string[]) => void;
}

function Chosen({ label, of, chosen, onChange }: ChosenProps) {
  return (
    <fieldset className="mt-2">
      <legend className="text-xs text-ink-2">{label}</legend>
      <div className="flex max-h-[160px] flex-wrap gap-x-4 overflow-auto text-sm">
        {of.map(({ id, name }) => (
          <label key={id} className="flex min-h-6 items-center gap-1.5">
            <input
              type="checkbox"

              checked={chosen.includes(id)}
              onChange={() => onChange(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id])}
            />
            {name}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
