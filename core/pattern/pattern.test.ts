import { describe, expect, test } from "@jest/globals";
import { renderPattern, type PatternSet, type Surface } from "#core/pattern/patternSet";
import { SAMPLES as patterns } from "#core/pattern/samples";
import type { Raster } from "#core/raster/raster";

const render = (name: string, px = 32): PatternSet =>
  renderPattern(patterns[name].surface, { repeat: patterns[name].repeat, widthPx: px, heightPx: px });

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1];

/** Median step between two neighbouring rows or columns, over all channels. */
function step(raster: Raster, from: number, to: number, direction: "rows" | "columns"): number {
  const { width, height, channels, data } = raster;
  const steps: number[] = [];
  for (let k = 0; k < (direction === "rows" ? width : height); k++)
    for (let c = 0; c < channels; c++) {
      const at = (line: number) =>
        data[(direction === "rows" ? line * width + k : k * width + line) * channels + c];
      steps.push(Math.abs(at(from) - at(to)));
    }
  return median(steps);
}

describe.each(Object.keys(patterns))("pattern maker: %s", (name) => {
  const { surface } = patterns[name];

  test("is exactly periodic in both directions", () => {
    for (const [u, v] of [
      [0.013, 0.37],
      [0.52, 0.004],
      [0.25, 0.75],
    ]) {
      const here = surface(u, v);
      for (const there of [surface(u + 1, v), surface(u, v - 1)])
        expect(there.heightMm).toBeCloseTo(here.heightMm, 6);
    }
  });

  test("has a quiet seam: the step across the edge is like the steps inside", () => {
    const { base_color: color } = render(name, 48);
    for (const direction of ["rows", "columns"] as const) {
      const inside = Array.from({ length: 47 }, (_, i) => step(color, i, i + 1, direction));
      expect(step(color, 47, 0, direction)).toBeLessThanOrEqual(Math.max(...inside) + 1);
    }
  });

  test("gives the same pixels for the same seed, and maps of one size", () => {
    const [a, b] = [render(name), render(name)];
    expect(a.base_color.data).toEqual(b.base_color.data);
    for (const map of [a.geometry_normal, a.height, a.specular_roughness, a.ambient_occlusion])
      expect([map.width, map.height]).toEqual([32, 32]);
    expect(a.heightAmplitudeMm).toBeGreaterThan(0);
  });
});

test("a brick that is proud of its joint has a +Y normal map: green rises above the upper edge", () => {
  const ramp: Surface = (_u, v) => ({
    color: [0.5, 0.5, 0.5],
    heightMm: 10 * Math.sin(2 * Math.PI * v),
    roughness: 0.5,
  });
  const set = renderPattern(ramp, { repeat: { width: 100, height: 100 }, widthPx: 8, heightPx: 32 });
  const green = (y: number) => (set.geometry_normal.data[y * 8 * 3 + 1] / 65535) * 2 - 1;
  // Height grows downwards at the top of the image, so the surface faces up: n_y > 0.
  expect(green(1)).toBeGreaterThan(0.3);
  expect(green(16)).toBeLessThan(-0.3);
});

test("joints of the brick lie in the dark of the occlusion map", () => {
  const set = render("brick", 96);
  const rowMean = (y: number) =>
    [...set.ambient_occlusion.data.slice(y * 96, (y + 1) * 96)].reduce((a, b) => a + b, 0) / 96;
  const rows = Array.from({ length: 96 }, (_, y) => rowMean(y));
  expect(Math.min(...rows)).toBeLessThan(Math.max(...rows) - 20);
});
