/** Several ways over the same thing, one of them at hand. */
interface Props<T extends string> {
  label: string;
  ways: readonly (readonly [way: T, name: string, hint?: string])[];
  at: T;
  choose: (way: T) => void;
}

export function Switch<T extends string>({ label, ways, at, choose }: Props<T>) {
  return (
    <div role="group" aria-label={label} className="switch">
      {ways.map(([way, name, hint]) => (
        <button
          key={way}
          type="button"
          aria-pressed={way === at}
          title={way === at ? undefined : hint}
          onClick={() => choose(way)}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
