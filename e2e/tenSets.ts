import { brick } from "#core/pattern/brick";
import { renderPattern, type Surface } from "#core/pattern/patternSet";
import { planks } from "#core/pattern/planks";
import { plaster } from "#core/pattern/plaster";
import { tiles } from "#core/pattern/tiles";
import { encode } from "#server/pixels/encode";
import { zipOf } from "#server/testing/testStudio";

type Made = { surface: Surface; repeat: { width: number; height: number } };

const wall = (seed: number, size: [number, number], across: number, courses: number): Made =>
  brick({
    ...{ seed, brick: { width: size[0], height: size[1] }, joint: 10, across, courses },
    ...{ colors: ["#9c4a34", "#7d3f2f", "#b06a4c"], mortar: "#c4bbad", recess: 4, roughness: 0.6 },
  });
const grid = (
  seed: number,
  size: [number, number],
  joint: number,
  [across, up]: [number, number],
  colors: string[],
): Made =>
  tiles({
    ...{ seed, tile: { width: size[0], height: size[1] }, joint, across, up, colors },
    ...{ jointColor: "#d8d3c8", finish: "matt" },
  });

/** Ten downloads as they come: some say their size in their name, in ways of their own, and some do not. */
export const TEN_SETS: Record<string, Made> = {
  kiln_brick_215x65: wall(11, [215, 65], 4, 12),
  "tannery-brick-220x60": wall(12, [220, 60], 4, 12),
  Brickwork_Weir: wall(13, [215, 65], 4, 8),
  court_paver_200x100x60: grid(14, [200, 100], 3, [4, 7], ["#8d8a84", "#77746f"]),
  metro_tile_150x75mm: grid(15, [150, 75], 2, [5, 8], ["#e9ece8", "#dfe4df"]),
  slab_60x30cm: grid(16, [597, 297], 3, [2, 3], ["#8f8b80", "#a19d92"]),
  "flag-400x400": grid(17, [400, 400], 3, [3, 3], ["#9b978d", "#86827a"]),
  bath_tile_green: grid(18, [98, 98], 2, [7, 7], ["#4f7d6a", "#5d8c78"]),
  larch_decking_145mm: planks({
    ...{ seed: 19, width: 145, gap: 5, rows: 6, length: 1800, boards: 1, bevel: 2.5, variety: 0.7 },
    ...{ light: "#c99a66", dark: "#7b4a26", gapColor: "#1c130d", roughness: 0.5 },
  }),
  lime_plaster_2m: plaster({
    ...{ seed: 20, repeat: { width: 2000, height: 2000 }, color: "#d8c9ae", cloud: "#c4b08f" },
    finish: "trowelled",
  }),
};

/** Pixels of the longer side. */
const PIXELS = 640;

/** One of them as a download, with its proportions as they are. */
export async function zipOfSet(name: string): Promise<Buffer> {
  const { surface, repeat } = TEN_SETS[name];
  const by = PIXELS / Math.max(repeat.width, repeat.height);
  const [widthPx, heightPx] = [Math.round(repeat.width * by), Math.round(repeat.height * by)];
  const set = renderPattern(surface, { repeat, widthPx, heightPx });
  return zipOf({
    [`${name}_basecolor.png`]: await encode(set.base_color, "png"),
    [`${name}_normal_gl.png`]: await encode(set.geometry_normal, "png"),
    [`${name}_roughness.png`]: await encode(set.specular_roughness, "png"),
  });
}
