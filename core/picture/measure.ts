import type { Condition } from "#core/picture/condition";
import type { Panorama } from "#core/picture/environment";
import { makePicture } from "#core/picture/picture";
import { referenceReader, type PlacedReference } from "#core/picture/reference";
import { surfaceReader, type DrawnMaterial } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";
import type { Raster } from "#core/raster/raster";
import { linearTable } from "#core/raster/srgb";
import type { Rgb } from "#core/shade/rgb";

/** What a picture is on the whole. */
export interface Measured {
  /** Linear light. */
  mean: Rgb;
  /** Of the surface itself; nothing is known of a picture's. */
  roughness: { mean: number; spread: number } | null;
}

/** Places each way at which the roughness is read. */
const GRID = 64;

/** The mean colour of a material's picture, and its roughness in the same part. @param view a panel's */
export const measureMaterial = (
  material: DrawnMaterial,
  view: View,
  condition: Condition,
  panorama?: Panorama,
): Measured => ({
  mean: meanOf(makePicture(material, { ...view, cards: false }, condition, undefined, panorama)),
  roughness: roughnessOf(material, view),
});

/** The mean of what a reference picture shows in the view; nothing where that is beside it. */
export function measureReference(
  reference: PlacedReference,
  view: View,
  middle: { x: number; y: number },
): Measured | undefined {
  const read = referenceReader(reference, view, middle);
  const sums = [0, 0, 0];
  let count = 0;
  for (let y = 0; y < view.height; y++)
    for (let x = 0; x < view.width; x++) {
      const color = read(x + 0.5, y + 0.5);
      if (!color) continue;
      count++;
      for (const c of [0, 1, 2] as const) sums[c] += Math.min(1, color[c]);
    }
  if (count === 0) return undefined;
  return { mean: [sums[0] / count, sums[1] / count, sums[2] / count], roughness: null };
}

/** Mean and standard deviation of the roughness under the finish and its wear. */
export function roughnessOf(material: DrawnMaterial, view: View): { mean: number; spread: number } {
  const reader = surfaceReader(material);
  const { width, height, mmPerPx, centre } = view;
  let [sum, squares] = [0, 0];
  for (let j = 0; j < GRID; j++)
    for (let i = 0; i < GRID; i++) {
      const x = centre.x + ((i + 0.5) / GRID - 0.5) * width * mmPerPx;
      const y = centre.y + ((j + 0.5) / GRID - 0.5) * height * mmPerPx;
      const { roughness } = reader.at(x / material.repeat.width, y / material.repeat.height).surface;
      sum += roughness;
      squares += roughness * roughness;
    }
  const mean = sum / GRID ** 2;
  return { mean, spread: Math.sqrt(Math.max(0, squares / GRID ** 2 - mean * mean)) };
}

/** Mean of a picture of 8 bits in three channels, in linear light. */
export function meanOf({ data }: Pick<Raster, "data">): Rgb {
  const toLinear = linearTable(8);
  const sums = [0, 0, 0];
  for (let i = 0; i < data.length; i++) sums[i % 3] += toLinear[data[i]];
  const count = data.length / 3;
  return [sums[0] / count, sums[1] / count, sums[2] / count];
}
