/** The package map: every page to scale, every blank a tick. The same drawing small in lists, tall beside the paper, large on the package screen. */

export interface Tick {
  /** Left, top and width as shares of the page. */
  x: number;
  y: number;
  w: number;
  open: boolean;
  key?: string;
}
export interface MapPage {
  id: string;
  label: string;
  /** A page that came from elsewhere, without blanks of ours. */
  received?: boolean;
  ticks: Tick[];
  /** Height by width; a letter page's unless said. */
  ratio?: number;
  /** The first page of a document begins a new group. */
  first?: boolean;
}

const PAGE_RATIO = 792 / 612;

/** Ticks of one page as the deal's summary stores them: four characters each, base 36. */
export function readTicks(page: string): Tick[] {
  const ticks: Tick[] = [];
  for (let at = 0; at + 4 <= page.length; at += 4) {
    const [x, y, w] = [0, 1, 2].map((n) => parseInt(page[at + n] ?? '0', 36) / 36) as [number, number, number];
    ticks.push({ x, y, w, open: page[at + 3] === 'o' });
  }
  return ticks;
}

/** One page drawn `width` pixels wide; ticks of the `lit` key stand out. */
export function MiniPage({
  page,
  width,
  lit = '',
  here = false,
}: {
  page: MapPage;
  width: number;
  lit?: string;
  here?: boolean;
}) {
  const height = Math.round(width * (page.ratio ?? PAGE_RATIO));
  const thick = Math.max(1, width / 34);
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true" className="on-paper block">
      <rect
        x=".5"
        y=".5"
        width={width - 1}
        height={height - 1}
        fill="#fff"
        stroke={here ? 'var(--color-green)' : 'var(--color-blotter-3)'}
      />
      {page.received &&
        [0.16, 0.25, 0.34, 0.43, 0.52].map((y) => (
          <rect
            key={y}
            x={width * 0.18}
            y={y * height}
            width={width * (y === 0.52 ? 0.36 : 0.64)}
            height={thick * 0.8}
            fill="#e3e8e5"
          />
        ))}
      {page.ticks.map((t, n) => {
        const isLit = lit !== '' && t.key === lit;
        return (
          <rect
            key={n}
            x={t.x * width}
            y={t.y * height}
            width={Math.max(thick * 1.6, t.w * width)}
            height={isLit ? thick * 2.2 : t.open ? thick * 1.7 : thick}
            fill={isLit ? 'var(--color-green)' : t.open ? 'var(--color-wax)' : '#aab4c6'}
          />
        );
      })}
    </svg>
  );
}

/** The small strip for lists: all pages in one row, narrower when there are many. */
export function MapStrip({ pages, label }: { pages: MapPage[]; label: string }) {
  const width = pages.length > 16 ? 10 : 15;
  return (
    <span role="img" aria-label={label} className="flex items-end gap-[2px] overflow-hidden">
      {pages.slice(0, 24).map((p) => (
        <MiniPage key={p.id} page={p} width={width} />
      ))}
    </span>
  );
}
