import { z } from "zod";
import { flattening, RegionError, type Region } from "#core/photo/region";
import { sample, type Texture } from "#core/raster/texture";
import { luminance, type Rgb } from "#core/shade/rgb";
import type { View } from "#core/picture/view";

/** A place in a picture: 0..1 from its left and from its top, so that any preview of it will do. */
const placeSchema = z.object({ x: z.number().min(-0.5).max(1.5), y: z.number().min(-0.5).max(1.5) }).strict();
const realMm = z.number().min(0.1).max(1e6);

/** What tells the real size of a picture: two points and what lies between them, or the four corners of a real rectangle. */
export const placingSchema = z.discriminatedUnion("by", [
  z.object({ by: z.literal("points"), from: placeSchema, to: placeSchema, lengthMm: realMm }).strict(),
  z
    .object({
      by: z.literal("corners"),
      /** Top left, top right, bottom right, bottom left. */
      corners: z.tuple([placeSchema, placeSchema, placeSchema, placeSchema]),
      widthMm: realMm,
      heightMm: realMm,
    })
    .strict(),
]);
export type Placing = z.infer<typeof placingSchema>;

/** A spot that is grey in reality; with what it reflects, the exposure is set by it as well. */
export const neutralSchema = z
  .object({
    ...placeSchema.shape,
    /** Percent. */
    reflects: z.number().min(1).max(100).optional(),
  })
  .strict();
export type Neutral = z.infer<typeof neutralSchema>;

/** How far around its spot a grey is read, against the picture's smaller side. */
const AROUND = 0.008;

/** A picture to be compared with, as it is to be looked at. */
export interface PlacedReference {
  /** Linear light; it does not wrap. */
  texture: Texture;
  /** Of the picture in full, where the texture is reduced. */
  width: number;
  height: number;
  placing: Placing | null;
  neutral: Neutral | null;
}

/** Why a picture cannot be placed like this; nothing where it can. */
export function placingTrouble(
  placing: Placing,
  picture: { width: number; height: number },
): string | undefined {
  try {
    placedIn(placing, picture);
    return undefined;
  } catch (error) {
    if (error instanceof RegionError) return error.message;
    throw error;
  }
}

interface Placed {
  /** From mm, to the right and down of what lies in the middle, to pixels of the picture. */
  toPicture(xMm: number, yMm: number): { x: number; y: number };
  /** Of one pixel in the middle. */
  pixelMm: number;
  /** Half of what is shown, in mm; nothing beyond it. */
  half: { x: number; y: number };
}

/** @throws {RegionError} where two points are one, or four corners are no rectangle */
function placedIn(placing: Placing, { width, height }: { width: number; height: number }): Placed {
  const inPixels = ({ x, y }: { x: number; y: number }) => ({ x: x * width, y: y * height });
  if (placing.by === "points") {
    const [from, to] = [inPixels(placing.from), inPixels(placing.to)];
    const apart = Math.hypot(to.x - from.x, to.y - from.y);
    if (apart < 4) throw new RegionError("The two points lie on each other. Pull them apart.", "to");
    const pixelMm = placing.lengthMm / apart;
    return {
      toPicture: (x, y) => ({ x: width / 2 + x / pixelMm, y: height / 2 + y / pixelMm }),
      pixelMm,
      half: { x: (width * pixelMm) / 2, y: (height * pixelMm) / 2 },
    };
  }
  const { widthMm, heightMm } = placing;
  const region: Region = {
    corners: placing.corners.map(inPixels) as Region["corners"],
    width: widthMm,
    height: heightMm,
  };
  const { toPhoto } = flattening(region, { width, height });
  const [a, b] = [
    toPhoto({ x: widthMm / 2, y: heightMm / 2 }),
    toPhoto({ x: widthMm / 2 + 1, y: heightMm / 2 }),
  ];
  return {
    toPicture: (x, y) => toPhoto({ x: x + widthMm / 2, y: y + heightMm / 2 }),
    pixelMm: 1 / Math.max(1e-6, Math.hypot(b.x - a.x, b.y - a.y)),
    half: { x: widthMm / 2, y: heightMm / 2 },
  };
}

/** Without a size: as large as fits in the view. */
function fitted({ width, height }: { width: number; height: number }, view: View): Placed {
  const pixelMm = Math.min((view.width * view.mmPerPx) / width, (view.height * view.mmPerPx) / height);
  return {
    toPicture: (x, y) => ({ x: width / 2 + x / pixelMm, y: height / 2 + y / pixelMm }),
    pixelMm,
    half: { x: (width * pixelMm) / 2, y: (height * pixelMm) / 2 },
  };
}

/** By how much a picture can be reduced before it is coarser than it is shown. */
export function referenceReduction(
  reference: Omit<PlacedReference, "texture" | "neutral">,
  view: View,
): number {
  const { pixelMm } = reference.placing ? placedIn(reference.placing, reference) : fitted(reference, view);
  return Math.max(1, view.mmPerPx / pixelMm);
}

/**
 * What makes the picture neutral: factors of linear light that give the grey spot three equal channels of the same luminance, or
 * of what it reflects.
 */
export function neutralGains({ texture, neutral }: Pick<PlacedReference, "texture" | "neutral">): Rgb {
  if (!neutral) return [1, 1, 1];
  const { width, height } = texture;
  const radius = Math.max(1, AROUND * Math.min(width, height));
  const mean: [number, number, number] = [0, 0, 0];
  let count = 0;
  for (let dy = -radius; dy <= radius; dy++)
    for (let dx = -radius; dx <= radius; dx++) {
      if (Math.hypot(dx, dy) > radius) continue;
      count++;
      for (const c of [0, 1, 2] as const)
        mean[c] += sample(texture, neutral.x + dx / width, neutral.y + dy / height, c);
    }
  const spot: Rgb = [mean[0] / count, mean[1] / count, mean[2] / count];
  const target = neutral.reflects === undefined ? luminance(spot) : neutral.reflects / 100;
  const gain = (value: number) => Math.min(16, Math.max(1 / 16, target / Math.max(1e-4, value)));
  return [gain(spot[0]), gain(spot[1]), gain(spot[2])];
}

/**
 * Reads a reference picture at the pixels of a view: its middle lies where the view's does, at the same scale.
 * @param middle of the view, in mm from where the two middles meet
 * @returns linear light, or nothing beyond the picture
 */
export function referenceReader(
  reference: PlacedReference,
  view: View,
  middle: { x: number; y: number },
): (px: number, py: number) => Rgb | undefined {
  const { texture, width, height, placing } = reference;
  const { toPicture, half } = placing ? placedIn(placing, reference) : fitted(reference, view);
  const gains = neutralGains(reference);
  const moved = placing ? middle : { x: 0, y: 0 };
  return (px, py) => {
    const x = (px - view.width / 2) * view.mmPerPx + moved.x;
    const y = (py - view.height / 2) * view.mmPerPx + moved.y;
    if (Math.abs(x) > half.x || Math.abs(y) > half.y) return undefined;
    const at = toPicture(x, y);
    const [u, v] = [at.x / width, at.y / height];
    if (u < 0 || u > 1 || v < 0 || v > 1) return undefined;
    return [
      sample(texture, u, v, 0) * gains[0],
      sample(texture, u, v, 1) * gains[1],
      sample(texture, u, v, 2) * gains[2],
    ];
  };
}
