import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { sampleSet } from "#core/judge/testing";
import { countModules } from "#server/pixels/countModules";
import { fromRaster } from "#server/pixels/encode";

const SIDE = 2600;
let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), "kalonomy-count-"))));
afterAll(() => rm(folder, { recursive: true }));

test("what is counted in a large picture is laid over it in its own pixels, joints and all", async () => {
  const path = join(folder, "wall.png");
  // Four bricks and twelve courses, with joints of 10 mm at a coordinating size of 225 × 75 mm.
  await fromRaster(sampleSet("brick").base_color).resize(SIDE, SIDE, { kernel: "cubic" }).png().toFile(path);
  const { count, lattice, joints } = await countModules({
    files: [{ path, format: "png", use: "color" }],
    seamless: true,
  });
  expect(count).toMatchObject({ across: 4, down: 12, bond: "half" });
  expect(lattice!.width).toBeCloseTo(SIDE / 4, 6);
  expect(lattice!.height).toBeCloseTo(SIDE / 12, 6);
  expect(joints!.down!.share).toBeGreaterThan(0.5 * (10 / 75));
  expect(joints!.down!.share).toBeLessThan(1.6 * (10 / 75));
});
