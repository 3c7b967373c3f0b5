/**
 * Deals as screens want them: what forms and the catalog fix is fetched once and kept, and put together with what a deal says
 * beyond it.
 */
import { partyOf } from './keys';
import {
  client,
  got,
  Problem,
  type Blank,
  type Catalog,
  type Deal,
  type Delta,
  type Fact,
  type WireDeal,
  type WireDelta,
} from './client';
import type { components } from './schema';

type Schemas = components['schemas'];
type Layout = Schemas['LayoutBlank'][];
type Wire = WireDeal | WireDelta;

const STATES: Record<string, Blank['state']> = {
  o: 'open',
  f: 'filled',
  p: 'optional',
  i: 'idle',
  t: 'theirs',
  s: 'sign',
};

const AT_ONCE = 4;
const TRIES = 5;
let asking = 0;
const turns: (() => void)[] = [];

/** A few at a time, and again after a moment where the server asks to wait: a package of twelve forms wants all of them at once. */
async function inTurn<T>(ask: () => Promise<T>, tries = TRIES): Promise<T> {
  if (asking >= AT_ONCE) await new Promise<void>((free) => turns.push(free));
  asking += 1;
  try {
    return await ask();
  } catch (error) {
    const mayPass = error instanceof Problem && error.again && tries > 1;
    if (!mayPass) throw error;
    await new Promise((passed) => setTimeout(passed, Math.max(error.wait * 1000, 300)));
  } finally {
    asking -= 1;
    turns.shift()?.();
  }
  return inTurn(ask, tries - 1);
}

/** Ask for what never changes once; an answer that failed is asked for again. */
function kept<T>(ask: (name: string) => Promise<T>): (name: string) => Promise<T> {
  const known = new Map<string, Promise<T>>();
  return (name) => {
    const found = known.get(name);
    if (found) return found;
    const asked = inTurn(() => ask(name));
    known.set(name, asked);
    asked.catch(() => known.delete(name));
    return asked;
  };
}

const layoutNamed = kept((name): Promise<Layout> => {
  const [edition = '', mapping = '', side = ''] = name.split('/');
  return got(client.GET('/api/layouts/{edition}/{mapping}/{side}', { params: { path: { edition, mapping, side } } }));
});

/** The words printed on an edition's pages, by page: left, bottom, right and top in points, and the text. */
export type Words = [left: number, bottom: number, right: number, top: number, text: string][][];

export const wordsNamed = kept((edition): Promise<Words> =>
  got(client.GET('/api/editions/{edition}/words', { params: { path: { edition } } })).then((found) => found.pages as Words),
);

/** What a document's form fixes of its blanks; none for a paper that is expected. */
const layoutOf = (item: Schemas['Document'], side: string): Promise<Layout> =>
  item.edition ? layoutNamed(`${item.edition}/${item.mapping}/${side.replace(' ', '-')}`) : Promise.resolve([]);

/** One blank, whole. */
function wholeBlank(item: Schemas['Document'], fixed: Layout[number], row: Schemas['Blank'] | undefined, letter: string): Blank {
  const own_key = item.prefix + fixed.own;
  const text = row?.text ?? '';
  const explained = row?.explained ?? {};
  return {
    ...fixed,
    document: item.id,
    key: fixed.fact || own_key,
    own_key,
    options: row?.explained ? Object.keys(explained) : fixed.options,
    explained,
    state: row?.state ?? STATES[letter.toLowerCase()] ?? 'optional',
    text,
    marked: row?.marked ?? false,
    source: row?.source ?? null,
    only_here: row?.only_here ?? false,
    overflow: row?.overflow ?? false,
    version: row?.version ?? 0,
    size: row?.size ?? fixed.size,
    set: (row?.set ?? []).map(([x, y, line]) => [x, y, line ?? text] as [number, number, string]),
    waits_for: row?.waits_for ?? [],
    findings: row?.findings ?? [],
    draft: row?.draft ?? null,
    clashes: row?.clashes ?? [],
    quiet: row?.quiet ?? '',
  };
}

/** The blanks of all documents in reading order; of a delta that isn't whole, only those it speaks of. */
async function wholeBlanks(wire: Wire, every: boolean): Promise<Blank[]> {
  const rows = new Map(wire.blanks.map((row) => [`${row.document}/${row.place}`, row]));
  const spoken = new Set(wire.blanks.map((row) => row.document));
  const items = every ? wire.documents : wire.documents.filter((item) => spoken.has(item.id));
  const layouts = await Promise.all(items.map((item) => layoutOf(item, wire.head.side)));
  return items.flatMap((item, n) =>
    (layouts[n] ?? []).flatMap((fixed, place) => {
      const row = rows.get(`${item.id}/${place}`);
      return row || every ? [wholeBlank(item, fixed, row, item.states[place] ?? '')] : [];
    }),
  );
}

type Sheet = Schemas['FactSheet'];

/** What the catalog says of a key, of a party's by position too ("buyers.2.email"). */
function sheetOf(catalog: Catalog, key: string): Sheet {
  const found = catalog.byKey.get(key);
  if (found) return found;
  const { group, position, field: name } = partyOf(key);
  const field = catalog.fields.get(name);
  const label = `${catalog.ones.get(group) ?? ''} ${position} ${field?.label ?? name}`;
  const plain = { kind: 'text', options: [], example: '', worked_out: false };
  return {
    ...(field ?? plain),
    key,
    group,
    label,
    help: '',
    also: '',
    reads: [],
    ask: '',
    section: 'parties',
    states_parts: false,
  };
}

function wholeFact(catalog: Catalog, row: Schemas['Fact']): Fact {
  const shown = row.shown ?? '';
  return {
    ...sheetOf(catalog, row.key),
    shown,
    edit: row.edit ?? shown,
    source: row.source ?? null,
    version: row.version ?? 0,
    places: row.places ?? 0,
    missing: row.missing ?? [],
    differs: row.differs ?? false,
    locked: row.locked ?? false,
    left: row.left ?? false,
    findings: row.findings ?? [],
    beside: row.beside ?? [],
    replaced: row.replaced ?? '',
    draft: row.draft ?? null,
    clashes: row.clashes ?? [],
  };
}

/** The catalog of facts of that digest, with ways into it. */
const indexed = kept(async (digest): Promise<Catalog> => {
  const sheet = await got(client.GET('/api/catalog/{digest}', { params: { path: { digest } } }));
  return {
    ...sheet,
    byKey: new Map(sheet.facts.map((f) => [f.key, f])),
    ones: new Map(sheet.party_groups.map((g) => [g.group, g.one])),
    fields: new Map(sheet.party_fields.map((f) => [f.field, f])),
  };
});

export async function wholeDeal(wire: WireDeal): Promise<Deal> {
  const [catalog, blanks] = await Promise.all([indexed(wire.head.catalog), wholeBlanks(wire, true)]);
  return { ...wire, catalog, blanks, facts: wire.facts.map((row) => wholeFact(catalog, row)), seen: wire.head.seq };
}

export async function wholeDelta(wire: WireDelta): Promise<Delta> {
  const [catalog, blanks] = await Promise.all([indexed(wire.head.catalog), wholeBlanks(wire, wire.whole)]);
  return { ...wire, blanks, facts: wire.facts.map((row) => wholeFact(catalog, row)) };
}
