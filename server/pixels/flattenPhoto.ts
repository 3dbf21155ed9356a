import type { Repeat } from "#core/length/repeat";
import { flatten } from "#core/photo/flatten";
import type { FlattenFigures, FlattenRecipe } from "#core/photo/recipe";
import { flattening } from "#core/photo/region";
import { decode } from "#server/pixels/decode";
import { encode } from "#server/pixels/encode";

export interface FlattenTask {
  photo: { path: string; format: string };
  recipe: FlattenRecipe;
  /** Base colors of the materials that patches are filled with, by id. */
  fills: Record<string, { path: string; format: string; repeat: Repeat }>;
}

export interface FlattenedPhoto {
  /** A PNG with the photograph's bits. */
  file: Uint8Array;
  figures: FlattenFigures;
}

/** Flattens one region of a photograph, and tells the share that is done. @throws {RegionError} */
export async function flattenPhoto(
  { photo, recipe, fills }: FlattenTask,
  tell: (share: number) => void,
): Promise<FlattenedPhoto> {
  const raster = await decode(photo.path, photo.format, "color");
  const read = new Map<string, Awaited<ReturnType<typeof decode>>>();
  for (const [id, { path, format }] of Object.entries(fills))
    read.set(id, await decode(path, format, "color"));
  const patches = recipe.patches.map(({ material, ...patch }) => ({
    ...patch,
    ...(material && { fill: { raster: read.get(material)!, repeat: fills[material].repeat } }),
  }));
  const flat = flatten(raster, recipe, recipe.quality, patches, tell);
  const { width, height } = flat.raster;
  const { residuals } = flattening(recipe, raster);
  return {
    file: await encode(flat.raster, "png"),
    figures: { width, height, window: flat.window, residuals },
  };
}
