import { z } from "zod";
import { IMAGE_FORMAT_NAMES } from "#core/convert/imageFormats";
import { CONTAINER_NAMES } from "#core/formats/containers";
import type { MaterialPlan, PlannedImage, PlannedLayer } from "#core/convert/materialPlan";
import { finishSchema } from "#core/finish/finish";
import { wearLayerSchema } from "#core/finish/wear";
import { mapSchema } from "#core/finish/mapSchema";
import { LAYOUTS, SIZE_STATES, type MaterialFacts } from "#core/finish/material";
import { ROLES } from "#core/roles/roles";

const count = z.number().int().positive();

const { strength, polarity, effect, amountMm, tint, turn, start } = wearLayerSchema.shape;
const sizeSchema = z.object({ width: z.number(), height: z.number() });
const heightScale = z.object({ lowestMm: z.number(), spanMm: z.number() });

const colorSchema = z.object({
  tint: z.string().optional(),
  warmth: z.number().optional(),
  brightnessStops: z.number().optional(),
  gamma: z.number().optional(),
  contrast: z.number().optional(),
  saturation: z.number().optional(),
});
const roughnessSchema = z.object({ scale: z.number(), shift: z.number(), low: z.number(), high: z.number() });

const operationSchema = z.discriminatedUnion("op", [
  z.object({ op: z.literal("take-channel"), channel: z.enum(["red", "green", "blue", "alpha"]) }),
  z.object({ op: z.enum(["drop-alpha", "to-grey", "invert", "flip-green", "attach-opacity"]) }),
  z.object({ op: z.literal("scale-normal"), strength: z.number() }),
  z.object({ op: z.literal("adjust-color"), ...colorSchema.shape }),
  z.object({
    op: z.literal("adjust-roughness"),
    ...roughnessSchema.shape,
    values: z.enum(["roughness", "gloss"]),
  }),
  z.object({ op: z.literal("limit"), low: z.number(), high: z.number() }),
  z.object({ op: z.literal("cut"), at: z.number() }),
  z.object({ op: z.literal("soften-occlusion"), strength: z.number(), gamma: z.number() }),
  z.object({ op: z.literal("scale"), by: z.number() }),
  z.object({ op: z.literal("multiply"), strength: z.number(), gamma: z.number() }),
  z.object({
    op: z.literal("resize"),
    width: count,
    height: count,
    values: z.enum(["srgb", "data", "normal"]),
  }),
  z.object({
    op: z.literal("to-bits"),
    bitDepth: z.union([z.literal(8), z.literal(16)]),
    dither: z.boolean(),
  }),
  z.object({
    op: z.literal("roughen"),
    width: count,
    height: count,
    weight: z.number(),
    values: z.enum(["roughness", "gloss"]),
  }),
  z.object({
    op: z.literal("fill"),
    width: count,
    height: count,
    values: z.array(z.number()),
    bitDepth: z.union([z.literal(8), z.literal(16)]),
  }),
  z.object({ op: z.literal("tile"), across: count, down: count }),
  z.object({
    op: z.literal("wear"),
    image: z.discriminatedUnion("on", [
      z.object({ on: z.enum(["color", "roughness", "gloss"]) }),
      z.object({ on: z.literal("normal"), green: z.enum(["+Y", "-Y"]) }),
      z.object({ on: z.literal("height"), from: heightScale, to: heightScale }),
    ]),
    area: sizeSchema,
    layers: z.array(
      z.object({
        strength,
        polarity,
        effect,
        amountMm,
        tint,
        turn,
        start,
        of: z.string(),
        mask: z.number().int().min(0),
        size: sizeSchema,
        repeats: z.boolean(),
      }),
    ),
  }),
]);

const layerSchema: z.ZodType<PlannedLayer> = z.lazy(() =>
  z.object({
    source: mapSchema.nullable(),
    operations: z.array(operationSchema),
    normal: layerSchema.optional(),
    masks: z.array(layerSchema).optional(),
  }),
) as z.ZodType<PlannedLayer>;

const channelSchema = z.union([layerSchema, z.number()]);
const imageSchema: z.ZodType<PlannedImage> = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("map"),
    base: layerSchema,
    occlusion: layerSchema.optional(),
    opacity: layerSchema.optional(),
  }),
  z.object({
    kind: z.literal("packed"),
    roles: z.tuple([z.enum(ROLES), z.enum(ROLES), z.enum(ROLES)]),
    channels: z.tuple([channelSchema, channelSchema, channelSchema]),
  }),
]);

const fact = z.string().nullable();
const factsSchema: z.ZodType<MaterialFacts> = z.object({
  supplier: fact,
  product: fact,
  productCode: fact,
  page: fact,
  thicknessMm: z.number().nullable(),
  frost: fact,
  slip: fact,
  fire: fact,
});

/** Its keys in one order, whatever order they were kept in. */
export const plannedFileSchema = z.object({
  path: z.string(),
  slot: z.string(),
  role: z.string(),
  image: imageSchema,
  format: z.enum(IMAGE_FORMAT_NAMES),
  width: count,
  height: count,
  bitDepth: z.union([z.literal(8), z.literal(16), z.literal(32)]),
  quality: z.number().optional(),
  encoding: z.enum(["srgb", "linear"]),
  tag: z.enum(["none", "icc"]).default("none"),
  operations: z.array(z.string()),
  left: z.object({ color: colorSchema.optional(), roughness: roughnessSchema.optional() }).optional(),
  wear: z.object({ effect, strength, tint, turn, start, size: sizeSchema, repeats: z.boolean() }).optional(),
});

const readPlan = z.object({
  material: z.object({
    id: z.string(),
    name: z.string(),
    code: z.string(),
    fileName: z.string(),
    revision: count,
    layout: z.enum(LAYOUTS),
    repeat: sizeSchema.nullable(),
    sizeState: z.enum(SIZE_STATES),
    finish: finishSchema,
    facts: factsSchema.optional(),
  }),
  profile: z.string(),
  folder: z.string(),
  // What was planned before has it in the folder.
  settingsPath: z.string().optional(),
  // What was planned before there were several is a GLB.
  container: z.object({ path: z.string(), kind: z.enum(CONTAINER_NAMES).default("glb") }).nullable(),
  files: z.array(plannedFileSchema),
  settings: z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])),
  steps: z.array(z.string()),
  warnings: z.array(z.string()),
  // Of what was planned before, nothing is said.
  notCarried: z.array(z.string()).default([]),
  correction: z.array(z.string()).default([]),
});
/** A plan as it waits to be carried out; one that another version of the program made may not fit. */
export const planSchema = readPlan.transform((plan) => ({
  ...plan,
  settingsPath: plan.settingsPath ?? `${plan.folder}/settings.json`,
})) as unknown as z.ZodType<MaterialPlan>;
