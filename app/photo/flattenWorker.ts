import { HomographyError } from "#core/photo/homography";
import { RegionError } from "#core/photo/region";
import type { Repeat } from "#core/length/repeat";
import { flatten } from "#core/photo/flatten";
import type { FlattenRecipe } from "#core/photo/recipe";

/** Pixels with four channels. */
export interface SmallPicture {
  width: number;
  height: number;
  data: Uint8ClampedArray;
}

/** A small flattening for looking at while the corners are set. */
export interface PreviewAsk {
  turn: number;
  picture: SmallPicture;
  /** Points in pixels of that picture. */
  recipe: FlattenRecipe;
  /** Pictures of the materials that patches are filled with, as far as they are there, by id. */
  fills: Record<string, SmallPicture & { repeat: Repeat }>;
}

export type PreviewAnswer =
  | { turn: number; width: number; height: number; data: Uint8ClampedArray; share: number }
  | { turn: number; failure: string };

const answer = (message: PreviewAnswer) => postMessage(message);

const rasterOf = ({ width, height, data }: SmallPicture) => ({
  width,
  height,
  channels: 4 as const,
  bitDepth: 8 as const,
  data: new Uint8Array(data.buffer),
});

addEventListener("message", ({ data: { turn, picture, recipe, fills } }: MessageEvent<PreviewAsk>) => {
  try {
    const patches = recipe.patches.flatMap(({ material, ...patch }) => {
      if (material === undefined) return patch;
      const fill = fills[material];
      return fill ? { ...patch, fill: { raster: rasterOf(fill), repeat: fill.repeat } } : [];
    });
    const flat = flatten(rasterOf(picture), recipe, "half", patches);
    const out = new Uint8ClampedArray(flat.raster.width * flat.raster.height * 4);
    for (let i = 0, o = 0; i < flat.raster.data.length; i += 3, o += 4) {
      out.set(flat.raster.data.subarray(i, i + 3), o);
      out[o + 3] = 255;
    }
    const share = (flat.window.width * flat.window.height) / (recipe.width * recipe.height);
    answer({ turn, width: flat.raster.width, height: flat.raster.height, data: out, share });
  } catch (error) {
    // What the browser says is for nobody.
    const said = error instanceof RegionError || error instanceof HomographyError;
    answer({ turn, failure: said ? error.message : "The preview cannot be drawn." });
  }
});
