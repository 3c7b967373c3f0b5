/** What is placed on a paper, by what it asks for. */
import type { Placed } from '../../api/client';
import { Button } from '../../primitives/button';
import { Mark } from '../../primitives/mark';
import { some } from '../../primitives/format';
import type { Props } from './paper-lens';
import { plain } from './paper-words';

/** Blanks by what they ask for; a whole group is confirmed at once. */
export function PlacedGroups({ placed, catalog, placing, faults }: Props) {
  const { confirmAll, show: choose } = placing;
  const groupOf = (p: Placed) =>
    p.shape === 'sign'
      ? 'Sign spots'
      : p.fact
        ? (catalog.find((f) => f.key === p.fact)?.group ?? 'Facts')
        : p.shape === 'box'
          ? 'Boxes of its own'
          : 'Only this form’s own';
  const groups = new Map<string, Placed[]>();
  for (const p of placed) groups.set(groupOf(p), [...(groups.get(groupOf(p)) ?? []), p]);
  const nameOf = (p: Placed) =>
    p.shape === 'sign'
      ? `${plain(p.role) || 'nobody yet'}, ${p.sign}`
      : p.fact
        ? (catalog.find((f) => f.key === p.fact)?.label ?? p.fact)
        : p.label || p.id;
  return (
    <div className="space-y-4 px-4 py-3">
      {placed.length === 0 && (
        <p className="text-ink-2">
          This paper has no fields. Choose Text, Box or Sign spot above and draw where something belongs; what is placed once
          serves everyone.
        </p>
      )}
      {faults
        .filter((f) => !placed.some((p) => p.id === f.place))
        .map((f, n) => (
          <p key={n} className="text-xs text-ink-2">
            {f.message} {f.mend}
          </p>
        ))}
      {[...groups].map(([name, blanks]) => {
        const left = blanks.filter((p) => !p.confirmed);
        return (
          <section key={name}>
            <h2 className="mb-1 flex items-center gap-2 text-sm font-semibold">
              {name}
              {left.length > 0 && (
                <Button className="ml-auto px-2! py-0.5! text-xs!" onClick={() => confirmAll(left.map((p) => p.id))}>
                  Confirm {some(left.length, 'blank')}
                </Button>
              )}
            </h2>
            <ul className="border border-hair bg-paper">
              {blanks.map((p) => (
                <li key={p.id} className="border-b border-hair last:border-0">
                  <button
                    type="button"
                    onClick={() => choose(p.id)}
                    className="flex w-full items-baseline gap-2 px-2 py-1 text-left hover:bg-sheet"
                  >
                    <span className="min-w-0 flex-1">
                      {nameOf(p)}
                      {p.fact && p.label && <span className="block truncate text-xs text-ink-2">{p.label}</span>}
                    </span>
                    {!p.confirmed && (
                      <span className="whitespace-nowrap text-xs text-ochre">
                        <Mark name="open" quiet size={9} /> {p.confidence ? `${Math.round(p.confidence * 100)} %` : 'look'}
                      </span>
                    )}
                  </button>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}
