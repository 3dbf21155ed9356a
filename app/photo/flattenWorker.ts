import { flatten } from "#core/photo/flatten";
import type { FlattenRecipe } from "#core/photo/recipe";

/** A small flattening for looking at while the corners are set. */
export interface PreviewAsk {
  turn: number;
  picture: { width: number; height: number; data: Uint8ClampedArray };
  /** Points in pixels of that picture. */
  recipe: FlattenRecipe;
}

export type PreviewAnswer =
  | { turn: number; width: number; height: number; data: Uint8ClampedArray; share: number }
  | { turn: number; failure: string };

const answer = (message: PreviewAnswer) => postMessage(message);

addEventListener("message", ({ data: { turn, picture, recipe } }: MessageEvent<PreviewAsk>) => {
  try {
    const { width, height, data } = picture;
    const raster = {
      width,
      height,
      channels: 4 as const,
      bitDepth: 8 as const,
      data: new Uint8Array(data.buffer),
    };
    // Other materials are not at hand here: their patches are filled when it is made.
    const patches = recipe.patches.filter(({ material }) => material === undefined);
    const flat = flatten(raster, recipe, "half", patches);
    const out = new Uint8ClampedArray(flat.raster.width * flat.raster.height * 4);
    for (let i = 0, o = 0; i < flat.raster.data.length; i += 3, o += 4) {
      out.set(flat.raster.data.subarray(i, i + 3), o);
      out[o + 3] = 255;
    }
    const share = (flat.window.width * flat.window.height) / (recipe.width * recipe.height);
    answer({ turn, width: flat.raster.width, height: flat.raster.height, data: out, share });
  } catch (error) {
    answer({ turn, failure: (error as Error).message });
  }
});
