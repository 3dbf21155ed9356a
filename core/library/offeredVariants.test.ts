import { expect, test } from "@jest/globals";
import { variantGrid } from "#core/library/variantGrid";
import { offeredVariants } from "#core/library/offeredVariants";

const joints = ["light", "dark"].map((id) => ({ id, name: `${id} grey`, hex: "#888888" }));
const product = (code: string, colour: string, hex: string) => ({
  ...{ code, colour, hex, joints, sheen: null },
  name: `Weir, ${colour}`,
});
const line = { products: [product("W-1", "red", "#a03020"), product("W-2", "sand", "#c0a070")] };
const member = (id: string, productCode: string | null, variant: Record<string, string>) => ({
  ...{ id, productCode, variant },
});

test("what the library has is not on offer; a joint that nobody told is the product's first", () => {
  const { products, variants } = offeredVariants(line, [
    member("a", "W-1", { colour: "red" }),
    member("b", "W-2", { colour: "sand", joint: "dark grey", finish: "sawn" }),
    member("c", null, { colour: "blue" }),
  ]);
  expect(products.map(({ code, joint }) => [code, joint])).toEqual([
    ["W-1", "dark"],
    ["W-2", "light"],
  ]);
  expect(products[0].variant).toEqual({ colour: "red", joint: "dark grey" });
  expect(variants).toEqual({
    a: { colour: "red", joint: "light grey" },
    b: { colour: "sand", joint: "dark grey", finish: "sawn" },
  });
});

test("with what is on offer a line of two is a whole grid, redder colours first", () => {
  const { products, variants } = offeredVariants(line, [member("a", "W-1", { colour: "red" })]);
  const { down, across, cells } = variantGrid([
    { id: "a", name: "Weir red", variant: variants.a, colorOrder: null },
    ...products.map((offer) => ({ id: `${offer.code}/${offer.joint}`, ...offer })),
  ]);
  expect([down!.values, across!.values]).toEqual([
    ["red", "sand"],
    ["dark grey", "light grey"],
  ]);
  expect(cells.map((row) => row.map((cell) => cell.map(({ id }) => id)))).toEqual([
    [["W-1/dark"], ["a"]],
    [["W-2/dark"], ["W-2/light"]],
  ]);
});
