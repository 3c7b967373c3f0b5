/** The package's pages for the map and the paper. */
import type { Blank, ContinuationPage, Deal, PackageItem } from '../../api/client';
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
  /** A page behind the form's own: what did not fit, and who else signs. */
  continuation?: ContinuationPage;
}

/** The page that a blank stands on, by the id that it has here. */
export const pageIdOf = (b: Pick<Blank, 'document' | 'page'>) => `${b.document}-${b.page}`;

const LETTER: Size = { width: 612, height: 792 };

/** A continuation page, its lines as ticks. */
function continued(document: PackageItem, continuation: ContinuationPage, of: number): Page {
  const { number, lines } = continuation;
  return {
    id: `${document.id}-continuation-${number}`,
    label: `${document.number} ${document.title}, continuation ${number} of ${of}`,
    document,
    number: document.pages + number,
    blanks: [],
    size: LETTER,
    continuation,
    ratio: LETTER.height / LETTER.width,
    ticks: lines.map(([x, y, size, text]) => ({
      x: Number(x) / LETTER.width,
      y: 1 - Number(y) / LETTER.height,
      w: Math.min(0.8, (String(text).length * Number(size) * 0.47) / LETTER.width),
      open: false,
    })),
  };
}

/** Every page of every form in the package, in order, continuation pages behind theirs; documents set aside only where asked for. */
export function pagesOf(
  { documents, blanks: all }: Pick<Deal, 'documents' | 'blanks'>,
  further: ContinuationPage[] = [],
  aside = false,
): Page[] {
  const byPage = new Map<string, Blank[]>();
  for (const b of all) {
    const id = pageIdOf(b);
    const list = byPage.get(id);
    if (list) list.push(b);
    else byPage.set(id, [b]);
  }
  return documents
    .filter((d) => d.edition && (aside || !d.set_aside))
    .flatMap((document) => {
      const behind = further.filter((c) => c.document === document.id);
      const own = Array.from({ length: document.pages }, (_, n): Page => {
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
      });
      return [...own, ...behind.map((c) => continued(document, c, behind.length))];
    });
}
