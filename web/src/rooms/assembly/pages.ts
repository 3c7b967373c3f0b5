/** The package's pages for the map and the paper. */
import type { Blank, Deal, PackageItem } from '../../api/client';
import type { MapPage } from '../../primitives/package-map';

export const PAPER = { width: 612, height: 792 };

export interface Page extends MapPage {
  document: PackageItem;
  number: number;
  blanks: Blank[];
}

/** Every page of every form in the package, in order; documents set aside only where asked for. */
export function pagesOf(deal: Deal, aside = false): Page[] {
  const byPage = new Map<string, Blank[]>();
  for (const b of deal.blanks) {
    const id = `${b.document}-${b.page}`;
    const list = byPage.get(id);
    if (list) list.push(b);
    else byPage.set(id, [b]);
  }
  return deal.documents
    .filter((d) => d.edition && (aside || !d.set_aside))
    .flatMap((document) =>
      Array.from({ length: document.pages }, (_, n) => {
        const blanks = byPage.get(`${document.id}-${n + 1}`) ?? [];
        return {
          id: `${document.id}-${n + 1}`,
          label: `${document.number} ${document.title}, page ${n + 1}`,
          first: n === 0,
          document,
          number: n + 1,
          blanks,
          ticks: blanks
            .filter((b) => b.state === 'open' || b.state === 'filled')
            .map((b) => {
              const [left = 0, , right = 0, top = 0] = b.rect;
              return {
                x: left / PAPER.width,
                y: 1 - top / PAPER.height,
                w: (right - left) / PAPER.width,
                open: b.state === 'open',
                key: b.key,
              };
            }),
        };
      }),
    );
}
