/** Keys, taken apart and put together. */
import { expect, test } from 'vitest';
import { documentKey, groupOf, isAllNames, isOf, lastOf, ownKey, partyKey, partyOf } from '../../web/src/api/keys';

test("a document's own blank is told from facts and parties", () => {
  expect(ownKey('doc.c0ffee.survey-by')).toEqual({
    document: 'c0ffee',
    field: 'survey-by',
  });
  expect(ownKey('doc.c0ffee.line.2')?.field).toBe('line.2');
  expect(ownKey('terms.purchase_price')).toBeNull();
  expect(ownKey('document.name')).toBeNull();
  expect(ownKey(documentKey('c0ffee'))).toEqual({
    document: 'c0ffee',
    field: '',
  });
});

test("a party's key names a position, a fact's none", () => {
  expect(partyOf(partyKey('buyers', 2, 'email'))).toEqual({
    group: 'buyers',
    position: 2,
    field: 'email',
  });
  expect(partyOf('terms.purchase_price').position).toBe(0);
  expect(lastOf('terms.purchase_price')).toBe('purchase_price');
  expect(groupOf('buyers.2.email')).toBe('buyers');
  expect(isAllNames('buyers.names')).toBe(true);
  expect(isAllNames('buyers.1.name')).toBe(false);
});

test("one party's keys are not those of another whose number begins alike", () => {
  expect(isOf('buyers.1.email', 'buyers', 1)).toBe(true);
  expect(isOf('buyers.12.email', 'buyers', 1)).toBe(false);
  expect(isOf('buyers.12.email', 'buyers')).toBe(true);
  expect(isOf('buyers_agent.name', 'buyers')).toBe(false);
});
