/** Changes made by hand, as they print: lines through words, what is written in, and lines for initials. */
import type { HandChange } from '../../api/client';
import type { Size } from '../assembly/pages';

/** What the small letters before a line for initials take, in points. */
const NAME = 15;

interface Props {
  changes: HandChange[];
  page: number;
  size: Size;
  scale: number;
}

/** Text as the server has set it: each line from its baseline on. */
export function SetText({ of, size, scale }: { of: Pick<HandChange, 'size' | 'lines'>; size: Size; scale: number }) {
  return of.lines.map(([x, y, text], n) => (
    <span
      key={n}
      className="values absolute whitespace-pre"
      style={{
        left: Number(x) * scale,
        top: (size.height - Number(y) - of.size) * scale,
        fontSize: of.size * scale,
        lineHeight: 1.27,
      }}
    >
      {String(text)}
    </span>
  ));
}

export function HandMarks({ changes, page, size, scale }: Props) {
  const above = (y: number) => (size.height - y) * scale;
  const rule = (key: string, left: number, y: number, right: number) => (
    <span
      key={key}
      className="absolute border-t border-[#121c45]"
      style={{ left: left * scale, top: above(y), width: (right - left) * scale }}
    />
  );
  return (
    <div className="pointer-events-none" data-by-hand>
      {changes
        .filter((c) => c.page === page)
        .map((c) => (
          <div key={c.id} title={c.words}>
            {c.rules.map(([left = 0, y = 0, right = 0], n) => rule(`r${n}`, left, y, right))}
            <SetText of={c} size={size} scale={scale} />
            {c.initials.map(({ name, rect: [left = 0, bottom = 0, right = 0] }, n) => (
              <span key={n}>
                <span
                  className="values absolute leading-none"
                  style={{ left: left * scale, top: above(bottom) - 6 * scale, fontSize: 5.5 * scale }}
                >
                  {name}
                </span>
                {rule(`i${n}`, left + NAME, bottom, right)}
              </span>
            ))}
          </div>
        ))}
    </div>
  );
}
