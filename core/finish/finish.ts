import { z } from "zod";

const unit = z.number().min(0).max(1);

/**
 * The adjustments that make the look, kept apart from the maps. Values where no map says better, in OpenPBR's
 * terms; a plain material is nothing but this.
 */
export const finishSchema = z
  .object({
    /** sRGB, `#rrggbb`: the colour of a plain material. */
    color: z
      .string()
      .regex(/^#[0-9a-f]{6}$/i, "A colour is written #rrggbb.")
      .optional(),
    /** Perceptual roughness; microfacet α is its square. */
    roughness: unit.default(0.5),
    metalness: unit.default(0),
    /** Index of refraction of a dielectric: F0 = ((ior − 1) / (ior + 1))². */
    ior: z.number().min(1).max(3).default(1.5),
    /** Scales the slopes of the normal map. */
    normalStrength: z.number().min(0).max(10).default(1),
    /** Real difference between the lowest and the highest value of the height map; assumed where not given. */
    heightAmplitudeMm: z.number().min(0).max(1000).optional(),
    /** The height value that lies in the surface. */
    heightMiddle: unit.default(0.5),
    occlusionStrength: unit.default(1),
    /** An exponent on occlusion: below 1 softens it. */
    occlusionGamma: z.number().min(0.1).max(4).default(1),
  })
  .strict();

export type Finish = z.infer<typeof finishSchema>;

export const DEFAULT_FINISH: Finish = finishSchema.parse({});

/** The amplitude to work with, and whether it is a guess: a hundredth of the repeat, 10 mm at most. */
export function heightAmplitude(
  finish: Finish,
  repeat: { width: number } | null,
): { mm: number; assumed: boolean } {
  if (finish.heightAmplitudeMm !== undefined) return { mm: finish.heightAmplitudeMm, assumed: false };
  return { mm: Math.min(10, Math.round((repeat?.width ?? 500) / 10) / 10), assumed: true };
}
