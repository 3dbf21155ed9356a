import { z } from "zod";

const unit = z.number().min(0).max(1);

/** No relief is deeper. */
const MOST_MM = 1000;

const values = {
  /** sRGB, `#rrggbb`: the colour of a plain material. */
  color: z.string().regex(/^#[0-9a-f]{6}$/i, "A colour is written #rrggbb."),
  /** Perceptual roughness; microfacet α is its square. */
  roughness: unit,
  metalness: unit,
  /** Index of refraction of a dielectric: F0 = ((ior − 1) / (ior + 1))². */
  ior: z.number().min(1).max(3),
  /** Scales the slopes of the normal map. */
  normalStrength: z.number().min(0).max(10),
  /** How much of the relief that a reduced normal map loses makes the surface rougher: 1 all of it, 0 nothing. */
  lostRelief: unit,
  /** Real difference between the lowest and the highest value of the height map; assumed where not given. */
  heightAmplitudeMm: z.number().min(0).max(MOST_MM),
  /** The height value that lies in the surface. */
  heightMiddle: unit,
  occlusionStrength: unit,
  /** An exponent on occlusion: below 1 softens it. */
  occlusionGamma: z.number().min(0.1).max(4),
};

/**
 * The adjustments that make the look, kept apart from the maps. Values where no map says better, in OpenPBR's
 * terms; a plain material is nothing but this.
 */
export const finishSchema = z
  .object({
    color: values.color.optional(),
    roughness: values.roughness.default(0.5),
    metalness: values.metalness.default(0),
    ior: values.ior.default(1.5),
    normalStrength: values.normalStrength.default(1),
    lostRelief: values.lostRelief.default(1),
    heightAmplitudeMm: values.heightAmplitudeMm.optional(),
    heightMiddle: values.heightMiddle.default(0.5),
    occlusionStrength: values.occlusionStrength.default(1),
    occlusionGamma: values.occlusionGamma.default(1),
  })
  .strict();

/** Some of a finish, to be changed: what is not named stays as it is, and gets no default; null takes a value away. */
export const finishChangeSchema = z
  .object({ ...values, heightAmplitudeMm: values.heightAmplitudeMm.nullable() })
  .partial()
  .strict();

export type Finish = z.infer<typeof finishSchema>;
export type FinishChange = z.infer<typeof finishChangeSchema>;

/** A finish with some of its values changed. */
export const changedFinish = (finish: Finish, change: FinishChange): Finish =>
  finishSchema.parse(
    Object.fromEntries(Object.entries({ ...finish, ...change }).filter(([, value]) => value !== null)),
  );

export const DEFAULT_FINISH: Finish = finishSchema.parse({});

/**
 * What the range of a height in floating point says, millimetres taken for its unit: nothing where it lies within 0..1, or goes
 * deeper than any relief.
 */
export function heightOfRange({
  min,
  max,
  grey,
}: {
  min: number;
  max: number;
  /** Coloured numbers are no height, and are not spread. */
  grey: boolean;
}): (Pick<Finish, "heightMiddle"> & { heightAmplitudeMm?: number }) | Record<string, never> {
  if (!grey || (min >= -1e-4 && max <= 1 + 1e-4) || max - min > MOST_MM) return {};
  return {
    heightAmplitudeMm: Number((max - min).toPrecision(6)),
    heightMiddle: Math.min(1, Math.max(0, -min / (max - min))),
  };
}

/** The amplitude to work with, and whether it is a guess: a hundredth of the repeat, 10 mm at most. */
export function heightAmplitude(
  finish: Finish,
  repeat: { width: number } | null,
): { mm: number; assumed: boolean } {
  if (finish.heightAmplitudeMm !== undefined) return { mm: finish.heightAmplitudeMm, assumed: false };
  return { mm: Math.min(10, Math.round((repeat?.width ?? 500) / 10) / 10), assumed: true };
}
