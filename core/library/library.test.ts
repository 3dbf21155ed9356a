import { describe, expect, test } from "@jest/globals";
import { collectionsOf, planCollections } from "#core/library/folderCollections";
import { nameByRule, ruleProblem } from "#core/library/nameRule";

describe("a folder tree as collections", () => {
  const folders = ["Stone/Granite", "Stone/Granite", "Stone/Slate", "Wood", "Wood", "Odd", ""];

  test("one level", () => {
    const paths = planCollections(folders, { level: 1, thin: 1 });
    expect(collectionsOf(paths)).toEqual([
      { path: ["Odd"], sets: 1 },
      { path: ["Stone"], sets: 3 },
      { path: ["Wood"], sets: 2 },
    ]);
    expect(paths.at(-1)).toEqual([]);
  });

  test("two levels with thin folders merged upwards, also more than once", () => {
    expect(planCollections(folders, { level: 2, thin: 2 })).toEqual([
      ["Stone", "Granite"],
      ["Stone", "Granite"],
      ["Stone"],
      ["Wood"],
      ["Wood"],
      [],
      [],
    ]);
    expect(planCollections(["a/b/c"], { level: 3, thin: 2 })).toEqual([[]]);
    expect(planCollections([], { level: 3, thin: 2 })).toEqual([]);
  });
});

describe("a name by rule", () => {
  const fields = { name: "winter stock", family: "brick", supplier: "Harrow & Quill", number: 14 };
  test.each([
    ["Family name, supplier 001", "Brick winter stock, harrow & Quill 014"],
    ["Family name, Supplier 001", "Brick winter stock, Harrow & Quill 014"],
    ["FAMILY_name-1", "BRICK_winter stock-14"],
    ["Name (product)", "Winter stock"],
    ["Supplier: name", "Harrow & Quill: winter stock"],
    ["Product – Name", "Winter stock"],
    ["Studio name", "Studio winter stock"],
  ])("%s", (rule, name) => expect(nameByRule(rule, fields)).toBe(name));

  test("a rule without anything that differs is refused in words", () => {
    expect(ruleProblem("Brick")).toContain("one name");
    expect(ruleProblem(" ")).toContain("Write a rule");
    expect(ruleProblem("Name 001")).toBeUndefined();
  });
});
