/** The kinds of property that a template is for; none means all of them. */
import { useChoices } from '../../api/choices';

export function KindsChoice({ kinds, onChange }: { kinds: string[]; onChange: (kinds: string[]) => void }) {
  const { property_kinds } = useChoices();
  const turn = (kind: string) => onChange(kinds.includes(kind) ? kinds.filter((k) => k !== kind) : [...kinds, kind]);
  return (
    <fieldset>
      <legend className="mb-1 text-sm">
        Kinds of property <span className="text-xs text-ink-2">{kinds.length ? '' : 'all, unless some are marked'}</span>
      </legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
        {property_kinds.map((kind) => (
          <label key={kind} className="flex min-h-6 items-center gap-1.5">
            <input type="checkbox" checked={kinds.includes(kind)} onChange={() => turn(kind)} /> {kind}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
