/** A file that the server makes: asked again while it is busy, and what is refused is said in words. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { Problem } from '../../web/src/api/client';
import { keepFile, nameIn } from '../../web/src/api/files';

const clicked = vi.fn();
const answers: Response[] = [];
const refused = (status: number, said: object, wait = '1') =>
  new Response(JSON.stringify(said), { status, headers: { 'Retry-After': wait } });

beforeEach(() => {
  vi.useFakeTimers();
  answers.length = 0;
  clicked.mockReset();
  vi.stubGlobal('fetch', async () => answers.shift() ?? Promise.reject(new TypeError('no network')));
  vi.stubGlobal('document', {
    createElement: () => ({
      click: function (this: { download: string }) {
        clicked(this.download);
      },
    }),
  });
  vi.stubGlobal('URL', { createObjectURL: () => 'blob:made', revokeObjectURL: () => undefined });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const made = () => new Response('%PDF', { headers: { 'Content-Disposition': 'attachment; filename="Package.pdf"' } });

it('asks a busy server again, as late as it says, and keeps the file under its name', async () => {
  answers.push(refused(429, { detail: 'too much at once', again: true }, '7'), refused(503, { again: true }), made());
  const kept = keepFile('/api/x.pdf');
  await vi.advanceTimersByTimeAsync(6_900);
  expect(answers).toHaveLength(2);
  await vi.advanceTimersByTimeAsync(2_000);
  await kept;
  expect(clicked).toHaveBeenCalledExactlyOnceWith('Package.pdf');
});

it('says what is refused for good, at once', async () => {
  answers.push(refused(404, { detail: 'This paper is no longer here.', mend: 'Look in History.', again: false }), made());
  await expect(keepFile('/api/x.pdf')).rejects.toMatchObject({
    message: 'This paper is no longer here.',
    mend: 'Look in History.',
  });
  expect(answers).toHaveLength(1);
  expect(clicked).not.toHaveBeenCalled();
});

it('says that the server is not reached, and stops asking one that stays busy', async () => {
  await expect(keepFile('/api/x.pdf')).rejects.toMatchObject({ status: 0 });
  for (let n = 0; n < 9; n++) answers.push(refused(503, { detail: 'busy', again: true }));
  const kept = keepFile('/api/x.pdf').catch((error: unknown) => error);
  await vi.advanceTimersByTimeAsync(120_000);
  expect(await kept).toBeInstanceOf(Problem);
  expect(answers).toHaveLength(3);
});

it('reads names with letters of any script', () => {
  expect(nameIn(`attachment; filename*=utf-8''Nguy%E1%BB%85n%3B%20signed.pdf`)).toBe('Nguyễn; signed.pdf');
  expect(nameIn('attachment; filename="a \\"b\\".pdf"')).toBe('a "b".pdf');
  expect(nameIn('inline')).toBe('');
});
