import { describe, expect, test } from "@jest/globals";
import { herringbone } from "#core/pattern/paving";
import { blockWidths, slantedPeriod } from "./blockWidths";

describe("widths of a block", () => {
  test("are counted for herringbone along the edges, modules for the rest", () => {
    expect(blockWidths({ across: 2, down: 3, bond: "herringbone" })).toEqual({ across: 8, down: 12 });
    expect(blockWidths({ across: 2, down: 3, bond: "half" })).toEqual({ across: 2, down: 3 });
    expect(blockWidths({ down: 3, bond: "stack" })).toEqual({ down: 3 });
  });

  test("go by the length of a block of herringbone, and headers are counted in Flemish bond", () => {
    const blocks = { across: 2, down: 1, bond: "herringbone", blockLength: 3 } as const;
    expect(blockWidths(blocks)).toEqual({ across: 12, down: 6 });
    expect(blockWidths({ across: 2, down: 8, bond: "flemish" })).toEqual({ across: 6, down: 8 });
    expect(blockWidths({ across: 8, down: 2, bond: "flemish", upright: true })).toEqual({
      across: 8,
      down: 6,
    });
  });

  test.each([[{ across: 4, down: 2 }], [{ across: 2, down: 1 }]])(
    "give the period at 45° that the pattern has: %j",
    ({ across, down }) => {
      const drawn = herringbone({
        seed: 1,
        width: 103,
        joint: 3,
        across,
        down,
        turned: true,
        colors: ["#808080"],
        jointColor: "#404040",
      });
      const period = slantedPeriod(103, { width: 1, height: 2 });
      expect(drawn.repeat.width).toBeCloseTo(across * period.width, 6);
      expect(drawn.repeat.height).toBeCloseTo(down * period.height, 6);
    },
  );
});
