import { describe, expect, test } from "@jest/globals";
import { familyOfText, familyOfWord, proposedFamily } from "#core/library/familyWords";

describe("the family that a name says", () => {
  test.each([
    ["Harbour brick, red", "brick"],
    ["old_bricks_04_diff", "brick"],
    ["Klinkerriemchen anthrazit", undefined],
    ["Wittmunder Klinker", "brick"],
    ["Ziegelmauer alt", "brick"],
    ["Travertine, honed", "stone"],
    ["cobblestone floor 13", "stone"],
    ["Carrara-Marmor", "stone"],
    ["OakVeneer_Natural", "timber"],
    ["Eichenholz geölt", "timber"],
    ["woodfloor07", "timber"],
    ["Noyer / chêne", "timber"],
    ["wood_tileable", "timber"],
    ["Kalkputz fein", "plaster"],
    ["stone tiles", "tile"],
    ["grass tile 01", "ground"],
    ["zellige mosaics", "tile"],
    ["brick paving, herringbone", "ground"],
    ["Rusty Metal Sheet", "metal"],
    ["velvet curtain", "fabric"],
    ["Limewash, bone", "paint"],
    ["forest gravel", "ground"],
    ["DSC_0412", undefined],
    ["concrete 3", undefined],
    ["tileable", undefined],
    ["metallic flake", undefined],
    ["Kunststoff grau", undefined],
    ["wood with a metal trim", undefined],
    ["stonewashed", undefined],
    ["Smoked ash floor", "timber"],
    ["ash grey", undefined],
    ["beech leaves", undefined],
    ["Dark flags", "stone"],
    ["flag of the harbour", undefined],
    ["pine branch", undefined],
    ["", undefined],
    ["木材", undefined],
  ])("%s: %s", (name, family) => expect(familyOfText(name)?.family).toBe(family));

  test("says by which word", () => {
    expect(familyOfText("Parkett, Eiche rustikal")).toEqual({ family: "timber", word: "eiche" });
  });
});

test("a word that names a family is one in every language and number, and what is of it is none", () => {
  expect(["wood", "Bricks", "Fliesen", "métal", "STONES"].map(familyOfWord)).toEqual([
    ...["timber", "brick", "tile", "metal", "stone"],
  ]);
  expect(["oak", "granite", "glass", "toString"].map(familyOfWord)).toEqual(Array(4).fill(undefined));
});

test("a sheet goes before a name, a name before a folder, and an inner folder before an outer one", () => {
  expect(proposedFamily({ sheet: "paving", name: "Oak", folder: "brick" })).toMatchObject({
    ...{ family: "ground", from: "sheet" },
  });
  expect(proposedFamily({ name: "Oak 3", folder: "brick" })).toMatchObject({
    family: "timber",
    from: "name",
  });
  expect(proposedFamily({ name: "07", folder: "stone/Roof tiles/set 1" })).toMatchObject({
    ...{ family: "tile", from: "folder", word: "tiles" },
  });
  expect(proposedFamily({ name: "07", folder: "downloads.zip/a" })).toBeUndefined();
  expect(proposedFamily({ sheet: "constructor", name: "x" })).toBeUndefined();
});
