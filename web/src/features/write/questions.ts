/**
 * What a package asks, each question once however many blanks it fills, in the order of the work that the catalog gives; what
 * belongs to no part of it follows form by form.
 */
import { groupOf } from '../../api/keys';
import type { Blank, Catalog } from '../../api/client';
import type { Held } from '../workspace/workspace';
import { inReadingOrder, isOpen, othersAround, waitsForAnother } from '../workspace/way';

export interface Question {
  /** The key that answers it; a group of parties is one question. */
  key: string;
  /** The group of parties whose names are asked for; '' for anything else. */
  group: string;
  section: string;
  title: string;
  /** Every blank that it fills, as one reads. */
  blanks: [Blank, ...Blank[]];
}

export interface Part {
  section: string;
  title: string;
  questions: Question[];
}

const places = new WeakMap<Catalog, Map<string, number>>();

/** Where the catalog has each fact. */
function placesIn(catalog: Catalog): Map<string, number> {
  const known = places.get(catalog) ?? new Map(catalog.facts.map((f, n) => [f.key, n]));
  places.set(catalog, known);
  return known;
}

/** The group of parties whose names or particulars a blank shows; '' where it shows anything else. */
function partiesOf(blank: Blank, { parties }: Pick<Held, 'parties'>): string {
  const group = groupOf(blank.fact);
  return blank.fact !== '' && !blank.only_here && group in parties ? group : '';
}

/** Every question of the forms that are `wanted` (none named: of all), in the order of the work. */
export function questionsOf(
  held: Pick<Held, 'catalog' | 'documents' | 'blanks' | 'parties'>,
  wanted: ReadonlySet<string>,
): Part[] {
  const asked = new Map<string, Question>();
  for (const blank of inReadingOrder(held)) {
    const group = partiesOf(blank, held);
    if (!blank.editable && !group) continue;
    const key = group || (blank.only_here ? blank.own_key : blank.key);
    const before = asked.get(key);
    if (before) before.blanks.push(blank);
    else asked.set(key, { key, group, ...partOf(held, blank, group), blanks: [blank] });
  }
  const isWanted = (q: Question) => wanted.size === 0 || q.blanks.some((b) => wanted.has(b.document));
  return inParts(held.catalog, [...asked.values()].filter(isWanted));
}

function partOf({ catalog, documents }: Pick<Held, 'catalog' | 'documents'>, blank: Blank, group: string) {
  const section = group ? 'parties' : (catalog.byKey.get(blank.only_here ? '' : blank.fact)?.section ?? '');
  const named = catalog.sections.find((s) => s.name === section);
  if (named) return { section, title: named.title };
  const form = documents.find((d) => d.id === blank.document);
  return { section: blank.document, title: `${form?.number ?? ''} ${form?.title ?? ''}`.trim() };
}

/** The parts in the order of the work; within one of them the catalog's order, in a form's the reading order. */
function inParts(catalog: Catalog, questions: Question[]): Part[] {
  const known = placesIn(catalog);
  const place = (q: Question) => known.get(q.key) ?? -1;
  const parts = new Map<string, Part>(catalog.sections.map((s) => [s.name, { section: s.name, title: s.title, questions: [] }]));
  for (const q of questions) {
    const part = parts.get(q.section) ?? { section: q.section, title: q.title, questions: [] };
    part.questions.push(q);
    parts.set(q.section, part);
  }
  for (const { name } of catalog.sections) parts.get(name)?.questions.sort((a, b) => place(a) - place(b));
  return [...parts.values()].filter((part) => part.questions.length > 0);
}

/**
 * The questions that want an answer. One that another open question answers by itself is passed over, unless it states what it
 * waits for (a whole address); so is what was `answered` here a moment ago, before the server has said so.
 */
export function openQuestions(
  { catalog, ...held }: Pick<Held, 'catalog' | 'documents' | 'blanks'>,
  parts: Part[],
  answered: ReadonlySet<string>,
): Question[] {
  const waits = waitsForAnother(inReadingOrder(held));
  const statesParts = (q: Question) => catalog.byKey.get(q.key)?.states_parts ?? false;
  const isAsked = (q: Question) => q.blanks.some((b) => isOpen(b) && (!waits(b) || statesParts(q))) && !answered.has(q.key);
  return parts.flatMap((part) => part.questions).filter(isAsked);
}

/** The open question after the one at hand (before it, `back`), round; nothing where no other is open. */
export function questionBeside(all: Question[], open: Question[], at: string, back = false): Question | undefined {
  const asked = new Set(open.map((q) => q.key));
  return othersAround(all, (q) => q.key === at, back).find((q) => asked.has(q.key));
}

/** In how many forms a question's blanks stand. */
export const formsOf = (q: Question) => new Set(q.blanks.map((b) => b.document)).size;

/** How the question is put. */
export function asked(catalog: Catalog, q: Question): string {
  if (q.group) return `Who are the ${q.group}?`;
  const [first] = q.blanks;
  return (!first.only_here && catalog.byKey.get(first.fact)?.ask) || first.ask || `${first.label}?`;
}
