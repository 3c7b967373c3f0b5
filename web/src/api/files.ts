/** Files that the server makes: a busy server is asked again, and what it refuses is said instead of a download that fails in silence. */
import { got, patiently, Problem } from './client';

/** Long enough for any browser to have taken a file over. */
const TAKEN_OVER_MS = 60_000;

/** Bring a file and hand it to the browser to keep, under the name that the server gives it. Throws a `Problem`. */
export async function keepFile(path: string): Promise<void> {
  const answer = await patiently(() => asked(path));
  const address = URL.createObjectURL(await answer.blob());
  const link = document.createElement('a');
  link.href = address;
  link.download = nameIn(answer.headers.get('Content-Disposition') ?? '');
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), TAKEN_OVER_MS);
}

async function asked(path: string): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path);
  } catch {
    throw new Problem("The server can't be reached.", 'No file was made; try again in a moment.', 0);
  }
  if (response.ok) return response;
  const error: unknown = await response.json().catch(() => ({}));
  return got<Response>(Promise.resolve({ error, response }));
}

/** The name of a file in the server's words: the one with all its letters if there is one, else the plain one. */
export function nameIn(disposition: string): string {
  const whole = /filename\*=utf-8''([^;]+)/i.exec(disposition)?.[1];
  if (whole) return decodeURIComponent(whole);
  return /filename="((?:[^"\\]|\\.)*)"/i.exec(disposition)?.[1]?.replace(/\\(.)/g, '$1') ?? '';
}
