/** Where the money goes, to scale. */
import { expect, test } from 'vitest';
import { resultStep, stepsOf } from '../../web/src/features/estimates/scale';
import type { Cell } from '../../web/src/features/estimates/use-reckoned';

const line = (key: string, sign: number, level = 0, is_sum = false) => ({
  key,
  sign,
  level,
  is_sum,
  label: key,
});
const cells = (amounts: Record<string, string | null>) =>
  new Map(Object.entries(amounts).map(([key, amount]) => [key, { key, amount } as Cell]));
const lines = [line('price', 1), line('costs', -1, 0, true), line('fee', -1, 1), line('tax', -1, 1), line('unset', -1, 1)];

test('each line begins where the one before it ended, and sums are drawn by what stands below them', () => {
  const steps = stepsOf({ lines }, cells({ price: '1000', costs: '400', fee: '300', tax: '100', unset: null }));
  expect([...steps.keys()]).toEqual(['price', 'fee', 'tax']);
  expect(steps.get('price')).toEqual({ from: 0, width: 1, adds: true });
  expect(steps.get('fee')).toEqual({ from: 0.7, width: 0.3, adds: false });
  expect(steps.get('tax')!.from).toBeCloseTo(0.6);
});

test('the sum is drawn on the same scale; where nothing is known nothing is drawn', () => {
  const known = cells({ price: '1000', fee: '300', tax: '100', result: '600' });
  expect(resultStep({ lines, result: 'result' } as never, known).width).toBeCloseTo(0.6);
  expect(resultStep({ lines, result: 'result' } as never, cells({ result: null })).width).toBe(0);
  expect(stepsOf({ lines }, cells({})).size).toBe(0);
});
