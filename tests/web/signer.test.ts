/** The signer's page: its link, the way from place to place, and a page's words as lines. */
import { describe, expect, it } from 'vitest';
import { asLines, readLink, type Place } from '../../web/src/signer/asking';
import { nextOpen } from '../../web/src/signer/led';

const ID = '091cfad9-5f7d-4f00-9b56-ceca3c7992c7';
const SECRET = 'a'.repeat(64);

const place = (id: string, put: string | null = null): Place => ({
  id,
  page: 1,
  rect: [0, 0, 1, 1],
  sign: 'signature',
  put,
  text: '',
});

describe('a link', () => {
  it('names its signer, with the secret or once that was taken', () => {
    expect(readLink(`#${ID}.${SECRET}`)).toEqual({
      signer: ID,
      secret: SECRET,
    });
    expect(readLink(`#${ID}`)).toEqual({ signer: ID, secret: '' });
  });
  it.each(['', '#', `#${ID}.${SECRET}0`, `#${ID}.short`, `#${ID}.${SECRET} `, '#<script>'])(
    'that is not whole leads nowhere: %s',
    (hash) => {
      expect(readLink(hash)).toBeNull();
    },
  );
});

describe('the next place', () => {
  const places = [place('a', 'then'), place('b'), place('c', 'then'), place('d')];
  it('is the next open one, and behind the last the first', () => {
    expect(nextOpen(places, '')?.id).toBe('b');
    expect(nextOpen(places, 'b')?.id).toBe('d');
    expect(nextOpen(places, 'd')?.id).toBe('b');
  });
  it('is none where all are signed', () => {
    expect(nextOpen([place('a', 'then')], 'a')).toBeUndefined();
    expect(nextOpen([], 'a')).toBeUndefined();
  });
});

describe('a page as text', () => {
  it('has what stands at one height in one line, from the top down', () => {
    const words: [number, number, number, number, string][] = [
      [60, 700, 90, 710, 'Agreement'],
      [10, 700, 50, 710, 'Purchase'],
      [10, 680, 40, 690, 'Price'],
      [60, 681, 90, 691, '411,000'],
    ];
    expect(asLines(words)).toBe('Purchase Agreement\nPrice 411,000');
    expect(asLines([])).toBe('');
  });
});
