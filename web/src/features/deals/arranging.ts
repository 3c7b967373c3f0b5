/** Papers being made of the pages of files that came: as they were found, and as somebody arranges them. */
import type { FoundPaper, Incoming } from '../../api/client';

export interface Sheet {
  of: string;
  page: number;
  turn: 0 | 90 | 180 | 270;
}

export interface Paper {
  id: string;
  title: string;
  /** The item of the package whose place it takes; '' for the end. */
  place: string;
  section: string;
  /** Who may see it. */
  audience: FoundPaper['audience'];
  pages: Sheet[];
  /** Keys of answers on it that are taken over. */
  take: string[];
}

const sheetsOf = (row: Incoming, { first, last }: Pick<FoundPaper, 'first' | 'last'>): Sheet[] =>
  Array.from({ length: last - first + 1 }, (_, n) => ({ of: row.id, page: first + n, turn: 0 }));

/** Only what the deal doesn't say yet is taken over unasked. */
const missing = (found: FoundPaper) => found.answers.filter((a) => a.may && a.ours === '').map((a) => a.key);

const proposed = (row: Incoming): Paper[] =>
  row.found.map((found) => ({
    id: `${row.id} ${found.first}`,
    title: found.title,
    place: found.place,
    section: found.section,
    audience: found.audience,
    pages: sheetsOf(row, found),
    take: missing(found),
  }));

/** What was arranged before, without pages that are gone, and behind it what has come since. `dropped` is where that goes. */
export function reconciled(kept: Paper[], rows: Incoming[], known: ReadonlySet<string>, dropped = ''): Paper[] {
  const there = new Map(rows.map((r) => [r.id, r.pages.length]));
  const left = kept
    .map((p) => ({ ...p, pages: p.pages.filter((s) => s.page <= (there.get(s.of) ?? 0)) }))
    .filter((p) => p.pages.length > 0);
  const fresh = rows.filter((r) => !known.has(r.id)).flatMap(proposed);
  return [...left, ...fresh.map((p, n) => (dropped && n === 0 ? { ...p, place: dropped } : p))];
}

/** The paper as it was found, where its pages are just those. */
export function foundAs(paper: Paper, rows: Incoming[]): FoundPaper | undefined {
  const [first] = paper.pages;
  const row = rows.find((r) => r.id === first?.of);
  return row?.found.find((f) => JSON.stringify(sheetsOf(row, f)) === JSON.stringify(paper.pages));
}

const changed = (papers: Paper[], at: number, by: (paper: Paper) => Paper) => papers.map((p, n) => (n === at ? by(p) : p));
const whole = (papers: Paper[]) => papers.filter((p) => p.pages.length > 0);

export const turned = (papers: Paper[], at: number, page: number) =>
  changed(papers, at, (p) => ({
    ...p,
    pages: p.pages.map((s, n) => (n === page ? { ...s, turn: ((s.turn + 90) % 360) as Sheet['turn'] } : s)),
  }));

export const takenOut = (papers: Paper[], at: number, page: number) =>
  whole(changed(papers, at, (p) => ({ ...p, pages: p.pages.filter((_, n) => n !== page) })));

/** A page one place on within its paper. */
export const moved = (papers: Paper[], at: number, page: number, by: 1 | -1) =>
  changed(papers, at, (p) => {
    const pages = [...p.pages];
    const [sheet] = pages.splice(page, 1);
    if (sheet) pages.splice(page + by, 0, sheet);
    return { ...p, pages };
  });

/** From a page on it is a paper of its own. */
export function split(papers: Paper[], at: number, page: number): Paper[] {
  const paper = papers[at];
  if (!paper || page <= 0) return papers;
  const behind: Paper = {
    ...paper,
    id: `${paper.id}/${page}`,
    title: `${paper.title}, from page ${page + 1}`,
    place: '',
    pages: paper.pages.slice(page),
    take: [],
  };
  return [...papers.slice(0, at), { ...paper, pages: paper.pages.slice(0, page) }, behind, ...papers.slice(at + 1)];
}

/** With the one before it, one paper. */
export function joined(papers: Paper[], at: number): Paper[] {
  const [before, paper] = [papers[at - 1], papers[at]];
  if (!before || !paper) return papers;
  const both = { ...before, pages: [...before.pages, ...paper.pages], take: [] };
  return [...papers.slice(0, at - 1), both, ...papers.slice(at + 1)];
}

/** A paper one place up or down: in that order they are put at the end of the package. */
export function ordered(papers: Paper[], at: number, by: 1 | -1): Paper[] {
  const all = [...papers];
  const [paper] = all.splice(at, 1);
  if (paper) all.splice(at + by, 0, paper);
  return all;
}
