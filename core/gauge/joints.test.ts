import { describe, expect, test } from "@jest/globals";
import { jointsOf } from "#core/gauge/joints";
import { noise, painted, rows, SIDE } from "#core/gauge/testing";
import { forward, jointPower } from "#core/raster/fft";

const meanOf = ({ data }: { data: Float32Array }) => data.reduce((sum, v) => sum + v, 0) / data.length;

describe("joints by direction", () => {
  test("a line shows most in its own direction, however it runs", () => {
    const lines = [
      painted((x) => (x % 64 < 2 ? 0 : 1)),
      painted((_, y) => (y % 64 < 2 ? 0 : 1)),
      painted((x, y) => ((x + y) % 64 < 3 ? 0 : 1)),
      painted((x, y) => ((x - y + SIDE) % 64 < 3 ? 0 : 1)),
    ];
    lines.forEach((plane, i) => {
      const means = jointsOf(plane).map(meanOf);
      expect(means.indexOf(Math.max(...means))).toBe(i);
    });
  });

  test("noise shows less than a joint that is no stronger", () => {
    const [, across] = jointsOf(rows(0.3));
    const [, grain] = jointsOf(painted(noise(5, 0.3)));
    const line = Array.from({ length: SIDE }, (_, x) => across.data[31 * SIDE + x]);
    expect(line.reduce((a, b) => a + b, 0) / SIDE).toBeGreaterThan(1.5 * meanOf(grain));
  });
});

test("the power of two planes in one transform is the sum of both", () => {
  const [a, b] = [rows(0.3), painted(noise(11, 1))];
  const power = jointPower(a, b);
  const [fa, fb] = [forward(a), forward(b)];
  for (const i of [0, 1, 5 * SIDE + 17, 200 * SIDE + 3, SIDE * SIDE - 1]) {
    const sum = [fa, fb].reduce((all, { data }) => all + data[2 * i] ** 2 + data[2 * i + 1] ** 2, 0);
    expect(Math.abs(power.data[i] / sum - 1)).toBeLessThan(1e-4);
  }
});
