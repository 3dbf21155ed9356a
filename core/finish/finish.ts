import { z } from "zod";
import { hexColorSchema as hex } from "#core/finish/hexColor";
import { MOST_WEAR, wearLayerSchema } from "#core/finish/wear";

const unit = z.number().min(0).max(1);

/** No relief is deeper. */
const MOST_MM = 1000;

/** The least and the most of something that goes from 0 to 1. */
const range = z
  .tuple([unit, unit])
  .refine(([low, high]) => low < high, "The first number has to be below the second.");

const OPACITY_MODES = ["cut-out", "blend"] as const;

/** What gives way where wear is baked over images whose repeat is another than its own. */
export const WEAR_FITS = ["balance", "wear-size", "pixels"] as const;
export type WearFit = (typeof WEAR_FITS)[number];

/** Those that every finish has, with what they are where nobody set them. */
const always = {
  /** Perceptual roughness, where no map says it; microfacet α is its square. */
  roughness: unit,
  /** Where no map says it. */
  metalness: unit,
  /** Index of refraction of a dielectric: F0 = ((ior − 1) / (ior + 1))². */
  ior: z.number().min(1).max(3),
  /** Scales the slopes of the normal map. */
  normalStrength: z.number().min(0).max(10),
  /** How much of the relief that a reduced normal map loses makes the surface rougher: 1 all of it, 0 nothing. */
  lostRelief: unit,
  /** The height value that lies in the surface. */
  heightMiddle: unit,
  occlusionStrength: unit,
  /** An exponent on occlusion: below 1 softens it. */
  occlusionGamma: z.number().min(0.1).max(4),
};

/** Those that may be absent: then the maps stand as they are, and what has no map has none of it. */
const sometimes = {
  /** sRGB, `#rrggbb`: the colour of a plain material. */
  color: hex,
  /** Multiplied in linear light. */
  tint: hex,
  /** Light is doubled with each. */
  brightnessStops: z.number().min(-4).max(4),
  /** Of linear light between black and white: above 1 lightens. */
  gamma: z.number().min(0.2).max(5),
  /** 0 is grey, 1 as it is. */
  saturation: z.number().min(0).max(3),
  /** About 18 % grey, in linear light: 1 is as it is. */
  contrast: z.number().min(0.2).max(3),
  /** In mired along the daylight locus from D65: above 0 is warmer. */
  warmth: z.number().min(-90).max(90),
  /** How the surface was worked, in a supplier's words; what it sets is in the other values. */
  grade: z.string().trim().min(1).max(60),
  roughnessScale: z.number().min(0).max(4),
  /** Added after scaling. */
  roughnessShift: z.number().min(-1).max(1),
  /** Nothing is smoother than the first or rougher than the second. */
  roughnessRange: range,
  /** On the reflectance of a dielectric at normal incidence. */
  specularWeight: unit,
  specularColor: hex,
  coatWeight: unit,
  coatRoughness: unit,
  coatIor: z.number().min(1).max(3),
  coatColor: hex,
  fuzzWeight: unit,
  fuzzColor: hex,
  subsurfaceWeight: unit,
  subsurfaceColor: hex,
  /** Of what a thin sheet scatters, the share that comes out at its other side. */
  translucencyWeight: unit,
  translucencyColor: hex,
  /** Real difference between the lowest and the highest value of the height map; assumed where not given. */
  heightAmplitudeMm: z.number().min(0).max(MOST_MM),
  /** What is lower or higher is cut off there; millimetres stay what they are. */
  heightRange: range,
  transmissionWeight: unit,
  transmissionColor: hex,
  /** After so much of it light has the colour of the transmission. */
  transmissionDepthMm: z.number().min(0.01).max(100_000),
  /** A leaf, a curtain, a pane: seen from both sides, without an inside. */
  thinWalled: z.boolean(),
  /** Luminance of the brightest that is emitted, in cd/m². */
  emissionNits: z.number().min(0).max(1_000_000),
  emissionColor: hex,
  opacityMode: z.enum(OPACITY_MODES),
  /** Of a cut-out: what covers less is not there. */
  opacityThreshold: unit,
  wearFit: z.enum(WEAR_FITS),
};

const wear = z.array(wearLayerSchema).max(MOST_WEAR, `There can be ${MOST_WEAR} wear layers at most.`);

/**
 * The adjustments that make the look, kept apart from the maps. Values where no map says better, in OpenPBR's
 * terms; a plain material is nothing but this.
 */
export const finishSchema = z
  .object({
    roughness: always.roughness.default(0.5),
    metalness: always.metalness.default(0),
    ior: always.ior.default(1.5),
    normalStrength: always.normalStrength.default(1),
    lostRelief: always.lostRelief.default(1),
    heightMiddle: always.heightMiddle.default(0.5),
    occlusionStrength: always.occlusionStrength.default(1),
    occlusionGamma: always.occlusionGamma.default(1),
    ...z.object(sometimes).partial().shape,
    /** Over everything else, the first at the bottom. */
    wear: wear.optional(),
  })
  .strict();

const valuesChanged = {
  ...z.object(always).partial().shape,
  ...(mapped(sometimes) as {
    [K in keyof typeof sometimes]: z.ZodOptional<z.ZodNullable<(typeof sometimes)[K]>>;
  }),
};

/** Some of a finish, to be changed: what is not named stays as it is, and gets no default; null takes a value away. */
export const finishChangeSchema = z.object({ ...valuesChanged, wear: wear.nullable().optional() }).strict();

function mapped(shape: z.ZodRawShape): z.ZodRawShape {
  return Object.fromEntries(
    Object.entries(shape).map(([name, value]) => [name, z.optional(z.nullable(value))]),
  );
}

export type Finish = z.infer<typeof finishSchema>;
export type FinishChange = z.infer<typeof finishChangeSchema>;
/** One value of a finish; its wear layers are no value. */
export type FinishField = Exclude<keyof Finish, "wear">;

/** What is changed of a finish for one renderer alone: values, and no wear layers. */
export const correctionSchema = z.object(valuesChanged).strict();
/** By the profile's id. */
export type Corrections = Record<string, z.infer<typeof correctionSchema>>;
export const correctionsSchema = z.record(z.string(), correctionSchema);

/** A finish with some of its values changed. */
export const changedFinish = (finish: Finish, change: FinishChange): Finish =>
  finishSchema.parse(
    Object.fromEntries(Object.entries({ ...finish, ...change }).filter(([, value]) => value !== null)),
  );

/** Emission where only a map says that there is some, in cd/m². */
export const EMITS_NITS = 100;

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
