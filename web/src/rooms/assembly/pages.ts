/** The package's pages for the map and the paper. */
import type { Blank, Deal, PackageItem } from '../../api/client';
import type { MapPage } from '../../primitives/package-map';

export interface Size {
  width: number;
  height: number;
}

/** Width and height in points of a document's page (from 1): a letter page unless said otherwise. */
export function sizeOf(document: Pick<PackageItem, 'sizes'>, number: number): Size {
  const [width = 612, height = 792] = document.sizes[number - 1] ?? [];
  return { width, height };
}

export interface Page extends MapPage {
  document: PackageItem;
  number: number;
  blanks: Blank[];
  size: Size;
}

/** Every page of every form in the package, in order; documents set aside only where asked for. */
export function pagesOf({ documents, blanks: all }: Pick<Deal, 'documents' | 'blanks'>, aside = false): Page[] {
  const byPage = new Map<string, Blank[]>();
  for (const b of all) {
    const id = `${b.document}-${b.page}`;
    const list = byPage.get(id);
    if (list) list.push(b);
    else byPage.set(id, [b]);
  }
  return documents
    .filter((d) => d.edition && (aside || !d.set_aside))
    .flatMap((document) =>
      Array.from({ length: document.pages }, (_, n) => {
        const blanks = byPage.get(`${document.id}-${n + 1}`) ?? [];
        const size = sizeOf(document, n + 1);
        return {
          id: `${document.id}-${n + 1}`,
          label: `${document.number} ${document.title}, page ${n + 1}`.trim(),
          first: n === 0,
          received: !document.number,
          document,
          number: n + 1,
          blanks,
          size,
          ratio: size.height / size.width,
          ticks: blanks
            .filter((b) => b.state === 'open' || b.state === 'filled')
            .map((b) => {
              const [left = 0, , right = 0, top = 0] = b.rect;
              return {
                x: left / size.width,
                y: 1 - top / size.height,
                w: (right - left) / size.width,
                open: b.state === 'open',
                key: b.key,
              };
            }),
        };
      }),
    );
}
