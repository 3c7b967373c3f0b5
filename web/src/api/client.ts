/** The one way to the server: typed calls, the CSRF token, and errors as sentences. */
import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

type Schemas = components['schemas'];
export type Deal = Schemas['Deal'];
export type DealRow = Schemas['DealRow'];
export type Blank = Schemas['Blank'];
export type Fact = Schemas['Fact'];
export type PackageItem = Schemas['Document'];
export type Delta = Schemas['Delta'];
export type Edit = Schemas['EditRequest'];
export type Comparison = Schemas['Comparison'];
export type OfferColumn = Schemas['OfferColumn'];
export type OfferRow = Schemas['OfferRow'];
export type ComparisonRow = Schemas['Row'];
export type Contact = Schemas['Contact'];
export type HomeSeen = Schemas['Home'];
export type ClientPaper = Schemas['ClientPaper'];
export type PropertyReport = Schemas['Report'];
export type Profile = Schemas['Profile'];
export type SourceFile = Schemas['SourceFile'];
export type Found = Schemas['Found'];
export type Lens = Schemas['Lens'];
export type Session = Schemas['Session'];
export type TemplateChoice = Schemas['Template'];
export type FormChoice = Schemas['Form'];
export type PaperInWork = Schemas['Reading'];
export type Placed = Schemas['Placed'];
export type ReleaseRead = Schemas['ReleaseRead'];
export type CatalogFact = Schemas['CatalogFact'];

/** What went wrong, in words: what happened, and what to do. `status` 0 means that the server wasn't reached. */
export class Problem extends Error {
  constructor(
    message: string,
    readonly mend: string,
    readonly status: number,
  ) {
    super(message);
  }
}

const csrf = () => document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ?? '';

export const client = createClient<paths>({
  baseUrl: globalThis.location?.origin ?? 'http://127.0.0.1',
  fetch: async (request: Request) => {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrf());
    try {
      return await fetch(request);
    } catch {
      throw new Problem("The server can't be reached.", 'What you typed is kept here and sent again by itself.', 0);
    }
  },
});

/** The data of an answer, or its problem thrown. */
export async function got<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call;
  if (error !== undefined || !response.ok) {
    const said = (error ?? {}) as { detail?: string; mend?: string };
    const status = response.status;
    throw new Problem(
      said.detail || `The server answered ${status}.`,
      said.mend ?? (status >= 500 ? 'Try again in a moment.' : ''),
      status,
    );
  }
  return data as T;
}

/** Send a file with a few words; the answer, or its problem thrown. */
export async function upload<T>(path: string, file: File, more: Record<string, string> = {}): Promise<T> {
  const body = new FormData();
  body.append('file', file);
  for (const [name, value] of Object.entries(more)) body.append(name, value);
  let response: Response;
  try {
    response = await fetch(path, { method: 'POST', body, headers: { 'X-CSRFToken': csrf() } });
  } catch {
    throw new Problem("The server can't be reached.", 'Nothing was read; try again in a moment.', 0);
  }
  const data: unknown = await response.json().catch(() => undefined);
  return got(Promise.resolve(response.ok ? { data: data as T, response } : { error: data ?? {}, response }));
}
