import { brick } from "#core/pattern/brick";
import type { Surface } from "#core/pattern/patternSet";
import { planks } from "#core/pattern/planks";
import { plaster } from "#core/pattern/plaster";
import { tiles } from "#core/pattern/tiles";

/** The same bricks in the same lattice, but others at each place. */
export function brickWall(seed: number) {
  return brick({
    seed,
    brick: { width: 215, height: 65 },
    joint: 10,
    across: 4,
    courses: 12,
    colors: ["#9c4a34", "#87402f"],
    mortar: "#b9b0a2",
    recess: 4,
    roughness: 0.8,
  });
}

/** One surface of each kind that the maker draws, for tests. */
export const SAMPLES: Record<string, { surface: Surface; repeat: { width: number; height: number } }> = {
  brick: brickWall(1),
  planks: planks({
    seed: 2,
    width: 137,
    gap: 5,
    rows: 6,
    length: 1800,
    boards: 1,
    light: "#c99a66",
    dark: "#7b4a26",
    gapColor: "#1c130d",
    bevel: 2.5,
    variety: 0.5,
    roughness: 0.5,
  }),
  tiles: tiles({
    seed: 3,
    tile: { width: 148, height: 148 },
    joint: 2,
    across: 6,
    up: 6,
    colors: ["#2f6f73"],
    jointColor: "#cfcabd",
    finish: "glaze",
  }),
  chips: tiles({
    seed: 4,
    tile: { width: 400, height: 400 },
    joint: 3,
    across: 3,
    up: 3,
    colors: ["#d9d2c3"],
    jointColor: "#b5ae9f",
    finish: "chips",
    chips: ["#7d3f36", "#57534e"],
  }),
  trowelled: plaster({
    seed: 6,
    repeat: { width: 1800, height: 1800 },
    color: "#d8c9ae",
    cloud: "#c4b08f",
    finish: "trowelled",
  }),
  scraped: plaster({
    seed: 7,
    repeat: { width: 900, height: 900 },
    color: "#cfc6b4",
    cloud: "#bdb29c",
    finish: "scraped",
  }),
  cast: plaster({
    seed: 8,
    repeat: { width: 2400, height: 2400 },
    color: "#a5a39d",
    cloud: "#8b8a86",
    finish: "cast",
  }),
};
