/** What a signer's page asks the server, and the link that it was opened by. */
import { client, got, patiently, Problem } from '../api/client';
import type { components } from '../api/schema';

type Schemas = components['schemas'];
export type Round = Schemas['SignersRound'];
export type SignersPaper = Schemas['SignersPaperShape'];
export type Place = Schemas['PlaceShape'];
export type Question = Schemas['QuestionShape'];
export type From = Schemas['SenderShape'];
export type ForYou = Schemas['ForYou'];
export type Mark = Schemas['MarkShape'];
export type Face = Schemas['FaceShape'];
export type Verdict = Schemas['Verdict'];
/** A mark as it is sent: a typed name in a face, or what was drawn. */
export type Adopted = { name: string; face: string } | { strokes: number[][][] };

export { Problem };

const LINK = /^#([0-9a-f-]{36})(?:\.([0-9a-f]{64}))?$/;

/** The signer that the address names. The secret behind it is read once, and then no longer stands in the address. */
export function readLink(hash: string): { signer: string; secret: string } | null {
  const found = LINK.exec(hash);
  return found ? { signer: found[1]!, secret: found[2] ?? '' } : null;
}

/** An answer, asked for again where the server is busy: nothing that a signer does counts twice. */
const asked = <T>(call: () => Parameters<typeof got<T>>[0]) => patiently(() => got<T>(call()));

const of = (signer: string) => ({ params: { path: { signer } } });

export const asking = (signer: string) => ({
  open: (secret: string): Promise<Round> =>
    secret
      ? asked(() => client.POST('/api/sign/{signer}/open', { ...of(signer), body: { secret } }))
      : asked(() => client.GET('/api/sign/{signer}', of(signer))),
  see: (): Promise<Round> => asked(() => client.GET('/api/sign/{signer}', of(signer))),
  agree: (): Promise<Round> => asked(() => client.POST('/api/sign/{signer}/agree', { ...of(signer), body: { said: '' } })),
  /** A new link to the address of this one, which has ended. */
  newLink: (): Promise<unknown> => asked(() => client.POST('/api/sign/{signer}/new-link', of(signer))),
  /** The code out of the letter; an empty one asks for another. */
  code: (code: string): Promise<Round> => asked(() => client.POST('/api/sign/{signer}/code', { ...of(signer), body: { code } })),
  finish: (): Promise<Round> => asked(() => client.POST('/api/sign/{signer}/finish', { ...of(signer), body: { said: '' } })),
  decline: (said: string): Promise<Round> =>
    asked(() => client.POST('/api/sign/{signer}/decline', { ...of(signer), body: { said } })),
  wantPaper: (): Promise<Round> => asked(() => client.POST('/api/sign/{signer}/paper', { ...of(signer), body: { said: '' } })),
  put: (places: string[]): Promise<Round> =>
    asked(() => client.POST('/api/sign/{signer}/put', { ...of(signer), body: { places } })),
  answer: (paper: string, key: string, text: string): Promise<Round> =>
    asked(() => client.POST('/api/sign/{signer}/answer', { ...of(signer), body: { paper, key, text } })),
  adopt: (sign: 'signature' | 'initials', mark: Adopted): Promise<Round> =>
    asked(() => client.POST('/api/sign/{signer}/mark', { ...of(signer), body: { sign, mark } })),
  faces: (name: string, initials: string): Promise<Face[]> =>
    asked(() => client.POST('/api/sign/{signer}/faces', { ...of(signer), body: { name, initials } })),
  file: (paper: string) => `/api/sign/${signer}/papers/${paper}`,
  picture: (paper: string, page: number, sharp: number) => `/api/sign/${signer}/papers/${paper}/${page}/${sharp}.png`,
  words: async (paper: string): Promise<string[]> => {
    const { pages } = await patiently(async () => {
      const answer = await fetch(`/api/sign/${signer}/papers/${paper}/words`);
      const isBusy = answer.status === 429 || answer.status === 503;
      if (!answer.ok) throw new Problem("Couldn't load the text.", 'Try again.', answer.status, '', isBusy);
      return (await answer.json()) as { pages: [number, number, number, number, string][][] };
    });
    return pages.map(asLines);
  },
});

export type Asking = ReturnType<typeof asking>;

/** Words with their places, as lines in the order of reading: what stands at one height is one line. */
export function asLines(words: [number, number, number, number, string][]): string {
  const lines: { at: number; words: [number, string][] }[] = [];
  for (const [left, bottom, , top, text] of words) {
    const middle = (bottom + top) / 2;
    const line = lines.find((l) => Math.abs(l.at - middle) < 4);
    if (line) line.words.push([left, text]);
    else lines.push({ at: middle, words: [[left, text]] });
  }
  return lines
    .sort((a, b) => b.at - a.at)
    .map((line) =>
      line.words
        .sort((a, b) => a[0] - b[0])
        .map(([, text]) => text)
        .join(' '),
    )
    .join('\n');
}

/** Papers that were delivered: by the link's secret, or by the cookie that it left. */
export const openPapers = (recipient: string, secret: string): Promise<ForYou> =>
  secret
    ? asked(() => client.POST('/api/papers-for/{recipient}/open', { params: { path: { recipient } }, body: { secret } }))
    : asked(() => client.GET('/api/papers-for/{recipient}', { params: { path: { recipient } } }));

/** Check a finished file; nothing of it is kept. */
export const verify = (file: File): Promise<Verdict> =>
  patiently(async () => {
    const body = new FormData();
    body.append('file', file);
    let response: Response;
    try {
      response = await fetch('/api/verify', { method: 'POST', body });
    } catch {
      throw new Problem("The server can't be reached.", 'The file was not read; try again in a moment.', 0);
    }
    const data: unknown = await response.json().catch(() => undefined);
    return got(Promise.resolve(response.ok ? { data: data as Verdict, response } : { error: data ?? {}, response }));
  });

/** What went wrong, in words. */
export const inWords = (error: unknown): string =>
  error instanceof Problem ? `${error.message} ${error.mend}` : 'Something went wrong. What you signed is kept; reload the page.';
