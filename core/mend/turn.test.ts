import { describe, expect, test } from "@jest/globals";
import { Refusal } from "#core/text/refusal";
import { sampleSet } from "#core/judge/testing";
import { readSeams, SEAM_LOOK, worstSeam } from "#core/judge/seams";
import { rolled } from "#core/mend/roll";
import { quarterTurn, seamlessTurns, turned, turnedSize } from "#core/mend/turn";
import { lumaOf } from "#core/raster/plane";
import { createRaster, type Raster } from "#core/raster/raster";
import { normalFromHeight } from "#core/relief/normalFromHeight";

const set = sampleSet("brick");
const size = (raster: Raster) => ({ width: raster.width, height: raster.height });

/** 3 × 2 px with a value of its own in each. */
function small(): Raster {
  const raster = createRaster(3, 2, 1, 8);
  raster.data.set([1, 2, 3, 4, 5, 6]);
  return raster;
}

describe("beginning elsewhere", () => {
  test("moves samples around the edges and changes none", () => {
    expect([...rolled(small(), 1 / 3, 0).data]).toEqual([3, 1, 2, 6, 4, 5]);
    expect([...rolled(small(), 0, 1 / 2).data]).toEqual([4, 5, 6, 1, 2, 3]);
    const there = rolled(set.base_color, 0.37, -0.61);
    const back = rolled(there, -0.37, 0.61);
    expect(Buffer.compare(Buffer.from(back.data), Buffer.from(set.base_color.data))).toBe(0);
  });
});

describe("quarter turns", () => {
  test("to the left bring the right edge to the top", () => {
    const out = turned(small(), quarterTurn(1), { width: 3, height: 2 }, "data");
    expect([out.width, out.height, ...out.data]).toEqual([2, 3, 3, 6, 2, 5, 1, 4]);
  });

  test("four times give the image back sample for sample, normals too", () => {
    for (const [map, samples] of [
      [set.base_color, "srgb"],
      [set.geometry_normal, "+Y"],
    ] as const) {
      let out = map;
      for (let i = 0; i < 4; i++) out = turned(out, quarterTurn(1), size(out), samples);
      expect(Buffer.compare(Buffer.from(out.data), Buffer.from(map.data))).toBe(0);
    }
  });

  test.each(["+Y", "-Y"] as const)(
    "turn normals as vectors (%s): they still belong to the turned height",
    (direction) => {
      const height = lumaOf(set.height);
      const flip = (raster: Raster) => {
        if (direction === "+Y") return raster;
        const data = raster.data.slice();
        const max = raster.bitDepth === 16 ? 65535 : 255;
        for (let i = 1; i < data.length; i += raster.channels) data[i] = max - data[i];
        return { ...raster, data };
      };
      const normal = flip(normalFromHeight(height, { width: 200, height: 200 }));
      const byTurning = turned(normal, quarterTurn(1), size(normal), direction);
      const turnedHeight = lumaOf(turned(set.height, quarterTurn(1), size(set.height), "data"));
      const byMaking = flip(normalFromHeight(turnedHeight, { width: 200, height: 200 }));
      let worst = 0;
      for (let i = 0; i < byMaking.data.length; i++)
        worst = Math.max(worst, Math.abs(byMaking.data[i] - byTurning.data[i]));
      // In parts of the range: differences to the pixel before and after make it not quite the same.
      expect(worst / (normal.bitDepth === 16 ? 65535 : 255)).toBeLessThan(0.02);
    },
  );
});

describe("other angles", () => {
  test("of a square repeat are those of whole steps, with the smallest images first", () => {
    const turns = seamlessTurns({ width: 500, height: 500 });
    expect(turns[0]).toMatchObject({ turn: { right: 1, down: 1, left: 1, below: 1 } });
    expect(turns[0].angle).toBeCloseTo(45, 10);
    expect(turns[0].repeat.width).toBeCloseTo(500 * Math.SQRT2, 6);
    expect(turns.map(({ angle }) => Math.round(angle))).toEqual(expect.arrayContaining([27, 63, 18, 72]));
    for (const { skewPercent } of turns) expect(skewPercent).toBeLessThan(1e-9);
  });

  test("of another repeat are only those with right corners", () => {
    const nearlySquare = seamlessTurns({ width: 812, height: 824 });
    expect(nearlySquare[0].skewPercent).toBeCloseTo(1.467, 2);
    for (const { repeat, turn } of nearlySquare)
      expect(turnedSize(turn, { width: 812, height: 824 }).repeat).toEqual(repeat);
    expect(seamlessTurns({ width: 1000, height: 707.1 }).length).toBeGreaterThan(0);
    expect(seamlessTurns({ width: 1000, height: 137 }).every(({ skewPercent }) => skewPercent <= 1.5)).toBe(
      true,
    );
  });

  test.each([
    { right: 0, down: 0, left: 0, below: 0 },
    { right: 1, down: 0, left: 0, below: -1 },
    { right: 1, down: 1, left: 0, below: 1 },
    { right: 1.5, down: 0, left: 0, below: 1 },
  ])("%j is none", (turn) => {
    expect(() => turnedSize(turn, { width: 100, height: 100 })).toThrow(Refusal);
  });

  test("leave a seamless image seamless, with the mean that it had", () => {
    const [diagonal] = seamlessTurns(size(set.base_color));
    const out = turned(set.base_color, diagonal.turn, size(set.base_color), "srgb");
    expect(out.width).toBe(Math.round(set.base_color.width * Math.SQRT2));
    expect(worstSeam(readSeams(out, "color")).broken).toBeLessThan(SEAM_LOOK);
    const mean = ({ data }: Raster) => Array.from(data).reduce((sum, v) => sum + v, 0) / data.length;
    expect(Math.abs(mean(out) - mean(set.base_color))).toBeLessThan(1);
  });

  test("keep normals at unit length", () => {
    const [diagonal] = seamlessTurns(size(set.geometry_normal));
    const { data, channels, bitDepth } = turned(
      set.geometry_normal,
      diagonal.turn,
      size(set.geometry_normal),
      "+Y",
    );
    const max = bitDepth === 16 ? 65535 : 255;
    let worst = 0;
    for (let i = 0; i < data.length; i += channels) {
      const length = Math.hypot(...[0, 1, 2].map((c) => (2 * data[i + c]) / max - 1));
      worst = Math.max(worst, Math.abs(length - 1));
    }
    expect(worst).toBeLessThan(0.03);
  });
});
