import { expect, test } from "vitest";
import type { TemplateChoice } from "../../web/src/api/client";
import { fittingTemplate } from "../../web/src/rooms/contacts/fitting";

const template = (
  name: string,
  side: string,
  ...kinds: string[]
): TemplateChoice => ({
  id: name,
  name,
  side,
  kinds,
  about: "",
  documents: 1,
  answers: 1,
});
const ALL = [
  template("cash", "buying", "single-family"),
  template("condo", "buying", "condominium"),
  template("conventional", "buying", "single-family"),
  template("any lease", "renting"),
];

test.each([
  ["buying", "condominium", "condo"],
  ["buying", "single-family", "conventional"],
  ["buying", "castle", "cash"],
  ["renting", "condominium", "any lease"],
  ["listing", "condominium", undefined],
])("for %s a %s the template is %s", (side, category, name) => {
  expect(fittingTemplate(ALL, side, category)?.name).toBe(name);
});
