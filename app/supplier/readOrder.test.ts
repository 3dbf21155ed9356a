import { describe, expect, test } from "@jest/globals";
import type { Line } from "#core/supply/catalogue";
import { orderBytes } from "#core/supply/orderBytes";
import { readOrder } from "./readOrder";

const joint = (id: string) => ({ id, name: id, hex: "#808080" });
const line: Pick<Line, "id" | "products"> = {
  id: "weir",
  products: [
    {
      code: "W-1",
      name: "One",
      colour: "one",
      hex: "#111111",
      joints: [joint("dark"), joint("light")],
      sheen: null,
    },
    { code: "W-2", name: "Two", colour: "two", hex: "#222222", joints: [], sheen: null },
  ],
};

function form(fields: [string, string][]): FormData {
  const made = new FormData();
  for (const [name, value] of fields) made.append(name, value);
  return made;
}

describe("an order from what was ticked", () => {
  test("has the variants that the line has, once each, and the roles that exist", () => {
    const ticked = form([
      ["variant", "W-1/light"],
      ["variant", "W-1/light"],
      ["variant", "W-2"],
      ["variant", "W-9"],
      ["role", "height"],
      ["role", "weight"],
      ["pixels", "2048"],
      ["type", "tiff"],
    ]);
    expect(readOrder(ticked, line)).toEqual({
      line: "weir",
      products: [
        { code: "W-1", joint: "light" },
        { code: "W-2", joint: null },
      ],
      pixels: 2048,
      roles: ["height"],
      type: "tiff",
    });
  });

  test("needs a tick; a joint that a product does not have is none", () => {
    expect(() => readOrder(form([["variant", "W-2/dark"]]), line)).toThrow("Tick one variant or more.");
  });

  test("has the usual type and size where nothing sensible was sent", () => {
    const order = readOrder(
      form([
        ["variant", "W-2"],
        ["pixels", "many"],
        ["type", "gif"],
      ]),
      line,
    );
    expect(order).toMatchObject({ pixels: 1024, type: "png", roles: [] });
  });
});

test("an estimate grows with the square of the side, and deep maps weigh only where they can be deep", () => {
  const color = (pixels: number) => orderBytes(pixels, ["base_color"], "png");
  expect(color(2048) / color(1024)).toBeCloseTo(4, 3);
  const normal = (type: "png" | "jpeg") => orderBytes(1024, ["geometry_normal"], type);
  expect(normal("png")).toBeGreaterThan(5 * normal("jpeg"));
  expect(orderBytes(1024, [], "tiff")).toBe(0);
});
