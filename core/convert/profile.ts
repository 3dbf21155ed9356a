import { z } from "zod";
import { ROLES } from "#core/roles/roles";

/** The roles that a profile can ask for: canonical ones and the forms that renderers want instead. */
const roleSchema = z.enum(ROLES);

const imageFile = {
  /** What the renderer calls this input. */
  slot: z.string().min(1),
  /** Ends the file's name: `brick-0007_gloss.png`. */
  suffix: z.string().regex(/^[a-z0-9-]+$/),
  format: z.enum(["png", "jpeg", "tiff"]),
};

/** An image of one role. */
const mapOutputSchema = z
  .object({
    kind: z.literal("map"),
    ...imageFile,
    /** `gloss` asks for inverted roughness. */
    role: roleSchema,
    bitDepth: z.union([z.literal(8), z.literal(16)]),
    /** Multiplies ambient occlusion in, for renderers without an input for it. */
    multiplyOcclusion: z.boolean().default(false),
    /** Puts opacity into the fourth channel, where there is any. */
    opacityInAlpha: z.boolean().default(false),
  })
  .strict();

/** Three roles in the channels of one image. */
const packedOutputSchema = z
  .object({
    kind: z.literal("packed"),
    ...imageFile,
    channels: z.tuple([roleSchema, roleSchema, roleSchema]),
  })
  .strict();

/** What is left to do at the receiving end, said where the condition holds. `{placeholders}` are filled in. */
const stepSchema = z
  .object({
    when: z.enum(["always", "images", "normal", "height", "opacity", "repeat", "plain"]),
    /** May use {width}, {height} (in the profile's unit), {unit}, {amplitude}, {name}. */
    text: z.string().min(1),
  })
  .strict();

/** The conventions of one renderer, as data. */
export const profileSchema = z
  .object({
    id: z.string().regex(/^[a-z0-9-]+$/),
    name: z.string().min(1),
    description: z.string(),
    /** "images": files for each material; "glb": one glTF binary with the images inside. */
    delivers: z.enum(["images", "glb"]),
    unit: z.enum(["mm", "cm", "m", "in"]),
    /** Which way green points in its normal maps. */
    normalDirection: z.enum(["+Y", "-Y"]),
    /** Largest width or height it takes. */
    maxPixels: z.number().int().min(16).max(32768).nullable(),
    outputs: z.array(z.discriminatedUnion("kind", [mapOutputSchema, packedOutputSchema])).min(1),
    /** Its relief inputs, and whether they share one that must be told the kind. */
    relief: z.object({ inputs: z.array(z.enum(["bump", "normal", "height"])), shared: z.boolean() }).strict(),
    steps: z.array(stepSchema),
  })
  .strict();

export type Profile = z.infer<typeof profileSchema>;
export type MapOutput = z.infer<typeof mapOutputSchema>;
export type PackedOutput = z.infer<typeof packedOutputSchema>;
