/** How a person's places in a paper are told. */
import type { PackageSigner } from '../../api/client';
import { some } from '../../primitives/format';

type Paper = PackageSigner['papers'][number];

/** Pages as people write them: "1–4, 7". */
export function spans(pages: number[]): string {
  const runs: [number, number][] = [];
  for (const page of pages) {
    const last = runs.at(-1);
    if (last && page === last[1] + 1) last[1] = page;
    else runs.push([page, page]);
  }
  return runs.map(([from, to]) => (from === to ? `${from}` : `${from}–${to}`)).join(', ');
}

/** "1 signature, 7 initials, on pages 1–7". */
export function placesIn({ signatures, initials, dates, pages }: Paper): string {
  const counted = [
    signatures && some(signatures, 'signature'),
    initials && some(initials, 'set of initials', 'sets of initials'),
    dates && some(dates, 'date'),
  ].filter(Boolean);
  return `${counted.join(', ')}, on ${pages.length === 1 ? 'page' : 'pages'} ${spans(pages)}`;
}
