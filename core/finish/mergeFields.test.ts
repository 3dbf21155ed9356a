import { expect, test } from "@jest/globals";
import { mergeFields, suggestedSide } from "./mergeFields";

test("fields that two people changed are told apart by who changed them", () => {
  const base = { name: "Wall", roughness: 0.5, ior: 1.5, normalStrength: 1, heightAmplitudeMm: undefined };
  const theirs = { ...base, roughness: 0.7, ior: 1.4, normalStrength: 2 };
  const mine = { ...base, name: "Gable", ior: 1.6, normalStrength: 2, heightAmplitudeMm: 3 };
  const merged = mergeFields(base, theirs, mine);
  expect(merged.map(({ field, changedBy }) => [field, changedBy])).toEqual([
    ["name", "me"],
    ["roughness", "them"],
    ["ior", "both"],
    ["heightAmplitudeMm", "me"],
  ]);
  expect(merged.map(suggestedSide)).toEqual(["mine", "theirs", "mine", "mine"]);
});

test("a value that one of them took away is a change too", () => {
  const [field] = mergeFields({ heightAmplitudeMm: 4 }, { heightAmplitudeMm: 4 }, {});
  expect(field).toEqual({ field: "heightAmplitudeMm", base: 4, theirs: 4, mine: undefined, changedBy: "me" });
  expect(mergeFields({ a: 1 }, { a: 2 }, { a: 2 })).toEqual([]);
});
