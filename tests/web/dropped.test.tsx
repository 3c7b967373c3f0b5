// @vitest-environment jsdom
/** Papers that were dropped wait until they are taken in, with the place they were dropped on. */
import { act, cleanup, renderHook } from '@testing-library/react';
import { afterEach, expect, test } from 'vitest';
import {
  closePapers,
  isPaper,
  offerPaper,
  openPapers,
  PAPERS,
  takenIn,
  useDropped,
} from '../../web/src/features/workspace/dropped';

afterEach(cleanup);
const file = (name: string, type = '') => new File(['x'], name, { type });

test('a paper is known by its kind, or by how its name ends', () => {
  for (const kind of PAPERS.split(',').filter((k) => k.includes('/'))) expect(isPaper(file('scan', kind))).toBe(true);
  for (const ending of ['pdf', 'PDF', 'jpg', 'jpeg', 'png', 'webp', 'tif', 'tiff'])
    expect(isPaper(file(`a.b.${ending}`))).toBe(true);
  for (const other of ['a.txt', 'pdf', 'a.pdf.exe', 'a.pdfx', 'a.tifff', 'ajpg'])
    expect(isPaper(file(other, 'text/plain'))).toBe(false);
});

test('what is offered waits in its order, opened, until it is taken in', () => {
  const { result, unmount } = renderHook(() => useDropped());
  expect(result.current).toEqual({ files: [], place: '', open: false });
  const [one, two] = [file('one.pdf'), file('two.pdf')];
  act(() => offerPaper(one, 'd4'));
  expect(result.current).toEqual({ files: [one], place: 'd4', open: true });
  act(() => offerPaper(two));
  expect(result.current).toEqual({ files: [one, two], place: '', open: true });
  act(() => closePapers());
  expect(result.current).toEqual({ files: [one, two], place: '', open: false });
  act(() => takenIn(one));
  expect(result.current).toEqual({ files: [two], place: '', open: false });
  act(() => openPapers());
  expect(result.current).toEqual({ files: [two], place: '', open: true });
  unmount();
  act(() => takenIn(two));
  expect(renderHook(() => useDropped()).result.current.files).toEqual([]);
});
