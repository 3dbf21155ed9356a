import { describe, expect, test } from "@jest/globals";
import { catalogueSchema, keyOf, type Line } from "#core/supply/catalogue";
import { compareLines } from "#core/supply/compareLines";
import { filterLines } from "#core/supply/filterLines";
import { heldVariant } from "#core/supply/heldVariant";
import { readProductSheet } from "#core/supply/productSheet";
import { glossUnits } from "#core/shade/glossUnits";
import { PLAIN_SURFACE } from "#core/shade/surface";
import { roughnessOfSheen } from "#core/supply/sheenRoughness";
import { sheetRepeat } from "#core/supply/sheetRepeat";
import { CATALOGUE } from "../../supplier-service/offer";

const { lines } = CATALOGUE;
const line = (id: string): Line => lines.find((one) => one.id === id)!;
const ids = (filter: Parameters<typeof filterLines>[1]) =>
  filterLines(lines, filter).map(({ line }) => line.id);

describe("the stand-in's catalogue", () => {
  test("fits its own shapes, and has what was promised", () => {
    expect(catalogueSchema.parse(CATALOGUE)).toEqual(CATALOGUE);
    const drawn = lines.filter(({ layout }) => layout !== "plain");
    expect(CATALOGUE.suppliers.length).toBeGreaterThanOrEqual(5);
    expect(drawn.flatMap(({ products }) => products).length).toBeGreaterThanOrEqual(60);
    expect(
      lines.filter(({ layout }) => layout === "plain").every(({ products }) => products.length >= 200),
    ).toBe(true);
  });

  test("has one code for one product", () => {
    const codes = lines.flatMap(({ products }) => products.map(({ code }) => code));
    expect(new Set(codes).size).toBe(codes.length);
  });
});

describe("filtering", () => {
  test("classes are at least what was asked, and what is not stated does not fit", () => {
    expect(ids({ slip: "R12" })).toEqual(["quay", "slipstone", "dark-flags"]);
    expect(ids({ family: "tile", frost: true })).toEqual(["slipstone", "dark-flags"]);
    expect(ids({ family: "timber", fire: "D" })).toHaveLength(4);
    expect(ids({ family: "timber", fire: "C" })).toEqual([]);
  });

  test("words are found in the line or in its products, of which only those that fit are shown", () => {
    const [harbour] = filterLines(lines, { words: "harbour FLINT" });
    expect(harbour.products.map(({ colour }) => colour)).toEqual(["flint"]);
    expect(ids({ words: "osterling teal" })).toEqual(["tidewater"]);
    expect(ids({ words: "no-such-thing" })).toEqual([]);
  });
});

test("comparing marks the properties that differ, and only these", () => {
  const rows = compareLines([line("slipstone"), line("dark-flags")], "mm");
  const of = (label: string) => rows.find((row) => row.label === label)!;
  expect(of("Slip (DIN 51130)")).toEqual({
    label: "Slip (DIN 51130)",
    values: ["R12", "R13"],
    differs: true,
  });
  expect(of("Family").differs).toBe(false);
  expect(of("Cover size").values).toEqual(["–", "–"]);
});

describe("the repeat that a sheet tells", () => {
  test("is the count times the coordinating size, or the cover size where pieces lap", () => {
    expect(sheetRepeat(line("harbour"), { width: 900, height: 900 })!.repeat).toEqual({
      width: 900,
      height: 900,
    });
    expect(sheetRepeat(line("scaur-slate"), { width: 1500, height: 1680 })).toMatchObject({
      repeat: { width: 1500, height: 1680 },
      agrees: true,
    });
  });

  test("is unknown where the supplier does not count, and doubted where the picture is of another shape", () => {
    expect(sheetRepeat(line("fennet"), { width: 900, height: 900 })).toBeUndefined();
    expect(sheetRepeat(line("harbour"), { width: 1000, height: 900 })!.agrees).toBe(false);
  });
});

test("a variant is held where code and joint are the same; one without a stated joint counts as the first", () => {
  const [red] = line("harbour").products;
  const held = [{ code: red.code, variant: { colour: "red" } as Record<string, string> }];
  expect(heldVariant(held, red, "light")).toBe(held[0]);
  expect(heldVariant(held, red, "dark")).toBeUndefined();
  held[0].variant.joint = "dark grey";
  expect(heldVariant(held, red, "dark")).toBe(held[0]);
  expect(heldVariant(held, line("harbour").products[1], "dark")).toBeUndefined();
  expect(keyOf("A", null)).not.toBe(keyOf("A", "null"));
});

test("more sheen is less roughness, between 0 and 1", () => {
  const steps = Array.from({ length: 101 }, (_, sheen) => roughnessOfSheen(sheen));
  for (const [sheen, roughness] of steps.entries())
    if (sheen > 0) expect(roughness).toBeLessThan(steps[sheen - 1]);
  expect([steps[0], roughnessOfSheen(-5), roughnessOfSheen(500)]).toEqual([1, 1, steps[100]]);
});

test.each([2, 5, 12, 35, 65, 82])("a paint of %i gloss units measures so", (units) => {
  const measured = glossUnits({ ...PLAIN_SURFACE, baseColor: [0, 0, 0], roughness: roughnessOfSheen(units) });
  expect(Math.abs(measured / units - 1)).toBeLessThan(0.06);
});

describe("a broken sheet says where", () => {
  test.each([
    ["{", /no JSON/],
    ["{}", /sheet/],
    [JSON.stringify({ sheet: 2 }), /does not fit: “sheet”/],
  ])("%s", (text, reason) => {
    expect(() => readProductSheet(text)).toThrow(reason);
  });
});
