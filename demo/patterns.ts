import { brick } from "#core/pattern/brick";
import { fabric } from "#core/pattern/fabric";
import { leafSheet } from "#core/pattern/leafSheet";
import { renderPattern, type PatternSize, type Surface } from "#core/pattern/patternSet";
import { planks } from "#core/pattern/planks";
import { plaster } from "#core/pattern/plaster";
import { tiles } from "#core/pattern/tiles";
import { dust, footprints, scratches, waterStains } from "#core/pattern/wearMarks";
import type { Raster } from "#core/raster/raster";
import type { Role } from "#core/roles/roles";

type Made = { surface: Surface; repeat: { width: number; height: number } };

const harbourBrick = (seed: number, colors: string[], mortar: string): Made =>
  brick({
    seed,
    brick: { width: 215, height: 65 },
    joint: 10,
    across: 4,
    courses: 12,
    colors,
    mortar,
    recess: 4,
    roughness: 0.8,
    burn: 0.5,
  });

const tidewater = (seed: number, colors: string[], jointColor: string): Made =>
  tiles({
    seed,
    tile: { width: 148, height: 148 },
    joint: 2,
    across: 6,
    up: 6,
    colors,
    jointColor,
    finish: "glaze",
  });

/** The surfaces of the demo studio, by the name that `studio.ts` uses. */
const PATTERNS: Record<string, () => Made> = {
  harbourRed: () => harbourBrick(11, ["#9c4a34", "#87402f", "#b05f42", "#7a3a30"], "#b9b0a2"),
  harbourFlint: () => harbourBrick(12, ["#6d6a66", "#5a5856", "#7f7a72", "#4c4b4b"], "#a9a59c"),
  sandreed: () =>
    brick({
      seed: 13,
      brick: { width: 240, height: 52 },
      joint: 12,
      across: 4,
      courses: 14,
      colors: ["#d8cdb6", "#cbbfa6", "#e0d8c4", "#c4b494"],
      mortar: "#d4cdbd",
      recess: 3,
      roughness: 0.5,
      burn: 0.12,
    }),
  quayPaver: () =>
    brick({
      seed: 14,
      brick: { width: 200, height: 100 },
      joint: 3,
      across: 4,
      courses: 8,
      colors: ["#7d6f66", "#8a7a6e", "#6f655f", "#94816f"],
      mortar: "#5c554d",
      recess: 3,
      roughness: 0.35,
      burn: 0.2,
    }),
  larchDeck: () =>
    planks({
      seed: 21,
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
  paleOak: () =>
    planks({
      seed: 22,
      width: 180,
      gap: 0.6,
      rows: 6,
      length: 2160,
      boards: 1,
      light: "#d9c09a",
      dark: "#a88458",
      gapColor: "#4a3520",
      bevel: 0.5,
      variety: 0.45,
      roughness: 0.42,
    }),
  smokedAsh: () =>
    planks({
      seed: 23,
      width: 120,
      gap: 0.5,
      rows: 8,
      length: 1440,
      boards: 1,
      light: "#6f5a48",
      dark: "#33261d",
      gapColor: "#16100b",
      bevel: 0.6,
      variety: 0.4,
      roughness: 0.36,
    }),
  tidewaterTeal: () => tidewater(31, ["#2f6f73", "#3a8084", "#285d66"], "#cfcabd"),
  tidewaterChalk: () => tidewater(32, ["#dcd8cb", "#e4e1d6", "#d3cdbc"], "#9e9a90"),
  slipStone: () =>
    tiles({
      seed: 33,
      tile: { width: 597, height: 297 },
      joint: 3,
      across: 2,
      up: 4,
      colors: ["#8c8a84", "#97948c", "#827f7a"],
      jointColor: "#6d6a65",
      finish: "matt",
    }),
  pebbleTerrazzo: () =>
    tiles({
      seed: 34,
      tile: { width: 400, height: 400 },
      joint: 3,
      across: 3,
      up: 3,
      colors: ["#d9d2c3"],
      jointColor: "#b5ae9f",
      finish: "chips",
      chips: ["#7d3f36", "#c5b79c", "#57534e", "#efe9dc", "#9a8f7c"],
    }),
  darkFlags: () =>
    tiles({
      seed: 35,
      tile: { width: 390, height: 390 },
      joint: 10,
      across: 3,
      up: 3,
      colors: ["#43474a", "#4d5154", "#3a3e41"],
      jointColor: "#77736b",
      finish: "matt",
    }),
  wheatLime: () =>
    plaster({
      seed: 41,
      repeat: { width: 1800, height: 1800 },
      color: "#d8c9ae",
      cloud: "#c4b08f",
      finish: "trowelled",
    }),
  hempPlaster: () =>
    plaster({
      seed: 42,
      repeat: { width: 1500, height: 1500 },
      color: "#c9b9a0",
      cloud: "#b3a284",
      finish: "scraped",
    }),
  chalkRender: () =>
    plaster({
      seed: 43,
      repeat: { width: 900, height: 900 },
      color: "#dfdace",
      cloud: "#d0c9b8",
      finish: "scraped",
    }),
  linenCurtain: () => fabric({ seed: 51, pitch: 1.6, threads: 60, warp: "#e6dfd0", weft: "#d8cfbb" }),
  castWall: () =>
    plaster({
      seed: 44,
      repeat: { width: 2400, height: 2400 },
      color: "#a5a39d",
      cloud: "#8b8a86",
      finish: "cast",
    }),
};

/** The wear layers of the demo studio. */
const WEAR: Record<string, { marks: (size: PatternSize) => Raster; repeat: PatternSize["repeat"] }> = {
  footprints: { marks: (size) => footprints(size, 61), repeat: { width: 2400, height: 2400 } },
  scratches: { marks: (size) => scratches(size, 62), repeat: { width: 1100, height: 1100 } },
  waterStains: { marks: (size) => waterStains(size, 63), repeat: { width: 1700, height: 1700 } },
  dust: { marks: (size) => dust(size, 64), repeat: { width: 1300, height: 1300 } },
};

const LEAVES = { repeat: { width: 300, height: 300 } };

/** The maps of one demo material, by role. */
export interface Rendered {
  /** Where it has a height. */
  heightAmplitudeMm?: number;
  maps: Partial<Record<Role, Raster>>;
}

/** Renders one of them; runs in a thread of its own. */
export default function render({ name, pixels }: { name: string; pixels: number }): Rendered {
  const sizeOf = (repeat: PatternSize["repeat"]): PatternSize => ({
    repeat,
    widthPx: pixels,
    heightPx: Math.max(64, Math.round((pixels * repeat.height) / repeat.width)),
  });
  if (name === "leaves") return { maps: { ...leafSheet(sizeOf(LEAVES.repeat), 71) } };
  const wear = WEAR[name];
  if (wear) return { maps: { wear_mask: wear.marks(sizeOf(wear.repeat)) } };
  const { surface, repeat } = PATTERNS[name]();
  const { heightAmplitudeMm, repeat: _, ...maps } = renderPattern(surface, sizeOf(repeat));
  return { heightAmplitudeMm, maps };
}
