/** The one way to the server: typed calls, the CSRF token, and errors as sentences. */
import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

type Schemas = components['schemas'];
/** A blank, whole: what its form fixes and what the deal says of it. `key` is what is edited here, `own_key` where a value for *only
 * here* goes. */
export type Blank = Schemas['LayoutBlank'] &
  Required<Omit<Schemas['Blank'], 'place' | 'source' | 'draft' | 'set'>> & {
    key: string;
    own_key: string;
    source: string | null;
    draft: Schemas['Draft'] | null;
    /** Lines: x, baseline y in points from the lower left, and the text. */
    set: [number, number, string][];
  };
/** A fact, whole: what the catalog says of it and how it stands. */
export type Fact = Schemas['FactSheet'] &
  Required<Omit<Schemas['Fact'], 'source' | 'draft'>> & { source: string | null; draft: Schemas['Draft'] | null };
/** The catalog of facts, and ways into it: facts by key, what one of a group of parties is called, parties' fields. */
export type Catalog = Schemas['Catalog'] & {
  byKey: ReadonlyMap<string, Schemas['FactSheet']>;
  ones: ReadonlyMap<string, string>;
  fields: ReadonlyMap<string, Schemas['PartyField']>;
};
/** A deal and a delta as they come, and put together with what is fixed (see `whole`). */
/** One thing that is remarked on. */
export type Finding = Schemas['Finding'];
export type WireDeal = Schemas['Deal'];
export type WireDelta = Schemas['Delta'];
export type Deal = Omit<WireDeal, 'blanks' | 'facts'> & {
  catalog: Catalog;
  blanks: Blank[];
  facts: Fact[];
  /** The step up to which every step is known here, own ones and others': the next question to the server begins there. */
  seen: number;
};
export type Delta = Omit<WireDelta, 'blanks' | 'facts'> & { blanks: Blank[]; facts: Fact[] };
export type DealRow = Schemas['DealRow'];
export type PackageItem = Schemas['Document'];
export type ContinuationPage = Schemas['ContinuationPage'];
export type Edit = Schemas['EditRequest'];
/** What is done with the package: forms added, taken out, set aside, put in order. */
export type PackageOp = Omit<Schemas['PackageEditRequest'], 'change'>;
export type HandChange = Schemas['HandChange'];
/** A change made by hand, without the change's own id. */
export type HandOp = Omit<Schemas['ChangeByHandRequest'], 'change'>;
export type HandSpot = Schemas['HandSpot'];
/** What is done with the places put on a paper, without the change's own id. */
export type SpotsOp = Omit<Schemas['ChangeSpotsRequest'], 'change'>;
export type Scans = Schemas['Scans'];
export type SpotsFor = Schemas['Spots'];
export type Remark = Schemas['Remark'];
export type PackageSigner = Schemas['Signer'];
export type Task = Schemas['Task'];
export type DueRow = Schemas['DueRow'];
/** What is done with one task. */
export type TaskOp = Omit<Schemas['TaskOpRequest'], 'change'>;
export type Comparison = Schemas['Comparison'];
export type OfferColumn = Schemas['OfferColumn'];
export type OfferRow = Schemas['OfferRow'];
export type Returned = Schemas['ReturnedShape'];
export type Turns = Schemas['Turns'];
export type Offers = Schemas['Offers'];
export type Acceptance = Schemas['Acceptance'];
export type ComparisonRow = Schemas['Row'];
export type Contact = Schemas['Contact'];
export type HomeSeen = Schemas['Home'];
export type ClientPaper = Schemas['ClientPaper'];
export type PropertyReport = Schemas['Report'];
export type Profile = Schemas['Profile'];
export type Member = Schemas['MemberShape'];
export type Members = Schemas['MembersShape'];
export type SourceFile = Schemas['SourceFile'];
export type Found = Schemas['Found'];
export type Lens = Schemas['Lens'];
export type Session = Schemas['Session'];
export type Choices = Schemas['Choices'];
export type SideChoice = Schemas['SideChoice'];
export type Side = Schemas['SideEnum'];
export type ContactKind = Schemas['ContactKindEnum'];
export type MemberRole = Schemas['MemberRoleEnum'];
export type TemplateChoice = Schemas['Template'];
export type WrittenTemplate = Schemas['WrittenTemplate'];
export type FormChoice = Schemas['Form'];
export type PaperInWork = Schemas['Reading'];
export type PaperRow = Schemas['ReadingRow'];
export type Placed = Schemas['Placed'];
export type ReleaseRead = Schemas['ReleaseRead'];
export type Holiday = Schemas['Holiday'];
export type Reckoned = Schemas['Reckoned'];
export type Solved = Schemas['Solved'];
export type EarlierAnswers = Schemas['Earlier'];
export type Incoming = Schemas['Incoming'];
export type FoundPaper = Schemas['FoundPaper'];
export type PlacedPaper = Schemas['PlacedPaperRequest'];
export type Deliveries = Schemas['Deliveries'];
export type Delivered = Schemas['Delivered'];
export type Round = Schemas['Round'];
export type WholeRound = Schemas['WholeRound'];
export type Clause = Schemas['Clause'];
export type WholeClause = Schemas['WholeClause'];
export type CatalogFact = Schemas['CatalogFact'];

/**
 * What went wrong, in words: what happened, and what to do. `status` 0 means that the server wasn't reached. `again` says
 * whether sending the same once more can help, `wait` after how many seconds; `rule` is the problem's stable name.
 */
export class Problem extends Error {
  constructor(
    message: string,
    readonly mend: string,
    readonly status: number,
    readonly rule = '',
    readonly again = status === 0,
    readonly wait = 0,
  ) {
    super(message);
  }
}

/** How many seconds to wait before asking again: as long as the server says, and longer each time. */
export const pauseBefore = (tried: number, error: unknown) => Math.max(error instanceof Problem ? error.wait : 0, 2 ** tried / 2);

const csrf = () => document.cookie.match(/(?:^|; )(?:__Host-csrf|csrftoken)=([^;]+)/)?.[1] ?? '';

/** The time zone of whoever sits here: "today" and "fri" are meant in it. */
const zone = { 'Time-Zone': Intl.DateTimeFormat().resolvedOptions().timeZone };

/** The key under which a request is done once, however often it is sent. */
export const once = (key: string) => ({ 'Idempotency-Key': key });

export const client = createClient<paths>({
  headers: zone,
  baseUrl: globalThis.location?.origin ?? 'http://127.0.0.1',
  fetch: async (request: Request) => {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrf());
    try {
      return await fetch(request);
    } catch {
      throw new Problem("The server can't be reached.", 'Your work is kept here. Try again in a moment.', 0);
    }
  },
});

interface Said {
  detail?: string;
  mend?: string;
  rule?: string;
  again?: boolean;
}

/** The data of an answer, or its problem thrown. */
export async function got<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call;
  if (error !== undefined || !response.ok) {
    const said: Said = typeof error === 'object' && error ? error : {};
    const status = response.status;
    const mend = said.mend ?? (status >= 500 ? 'Try again in a moment.' : '');
    const wait = Number(response.headers.get('Retry-After')) || 0;
    throw new Problem(
      said.detail || `The server answered ${status}.`,
      mend,
      status,
      said.rule,
      said.again ?? status >= 502,
      wait,
    );
  }
  return data as T;
}

/** How often a busy server is asked: together half a minute, longer than any package takes to make. */
const MOST_TRIES = 6;

/** Ask, and ask again while the server says that this can help. Throws the last `Problem`. */
export async function patiently<T>(ask: () => Promise<T>): Promise<T> {
  for (let tried = 0; ; tried++) {
    try {
      return await ask();
    } catch (error) {
      const canHelp = error instanceof Problem && error.again && error.status !== 0;
      if (!canHelp || tried + 1 >= MOST_TRIES) throw error;
      await new Promise((wake) => setTimeout(wake, 1000 * pauseBefore(tried, error)));
    }
  }
}

/** Send a file with a few words under a key; the answer, or its problem thrown. */
export async function upload<T>(path: string, file: File, key: string, more: Record<string, string> = {}): Promise<T> {
  const body = new FormData();
  body.append('file', file);
  for (const [name, value] of Object.entries(more)) body.append(name, value);
  let response: Response;
  try {
    response = await fetch(path, { method: 'POST', body, headers: { 'X-CSRFToken': csrf(), ...zone, ...once(key) } });
  } catch {
    throw new Problem("The server can't be reached.", 'Nothing was read; try again in a moment.', 0);
  }
  const data: unknown = await response.json().catch(() => undefined);
  return got(Promise.resolve(response.ok ? { data: data as T, response } : { error: data ?? {}, response }));
}
