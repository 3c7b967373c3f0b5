/** A delta put into the deal at hand. */
import { expect, test } from "vitest";
import type { Deal, Delta } from "../../web/src/api/client";
import { readTicks } from "../../web/src/primitives/package-map";
import { merged } from "../../web/src/rooms/hand/merging";

const fact = (key: string, shown: string) =>
  ({ key, shown }) as Deal["facts"][0];
const blank = (field: string, text: string) =>
  ({ document: "d", field, text }) as Deal["blanks"][0];
const deal = {
  head: { seq: 5 },
  documents: [],
  groups: {},
  parties: {
    buyers: [
      { id: "a", name: "A" },
      { id: "b", name: "B" },
    ],
  },
  facts: [
    fact("x", "1"),
    fact("y", "2"),
    fact("buyers.1.name", "A"),
    fact("buyers.2.name", "B"),
  ],
  blanks: [blank("x", "1"), blank("y", "2")],
} as unknown as Deal;
const delta = (more: object) =>
  ({
    head: { seq: 6 },
    documents: [],
    suggested: [],
    parties: deal.parties,
    facts: [],
    blanks: [],
    whole: false,
    ...more,
  }) as unknown as Delta;

test("only what moved is replaced, in its place", () => {
  const next = merged(
    deal,
    delta({ facts: [fact("y", "9")], blanks: [blank("y", "9")] }),
  );
  expect(next.facts.map((f) => f.shown)).toEqual(["1", "9", "A", "B"]);
  expect(next.blanks[0]).toBe(deal.blanks[0]);
  expect(next.head.seq).toBe(6);
});

test("a party that was removed takes its facts along", () => {
  const next = merged(
    deal,
    delta({
      parties: { buyers: [{ id: "b", name: "B" }] },
      facts: [fact("buyers.1.name", "B")],
    }),
  );
  expect(next.facts.map((f) => f.key)).toEqual(["x", "y", "buyers.1.name"]);
});

test("a late answer never takes the header back", () => {
  expect(merged(deal, delta({ head: { seq: 3 } })).head.seq).toBe(5);
});

test("a whole delta replaces everything", () => {
  expect(
    merged(deal, delta({ whole: true, facts: [fact("z", "1")] })).facts,
  ).toHaveLength(1);
});

test("the stored map is read as it was written", () => {
  expect(readTicks("0i9oz00f")).toEqual([
    { x: 0, y: 0.5, w: 0.25, open: true },
    { x: 35 / 36, y: 0, w: 0, open: false },
  ]);
});
