import { z } from "zod";
import { IMAGE_FORMAT_NAMES, imageFormat } from "#core/convert/imageFormats";
import { CONTAINER_NAMES } from "#core/formats/containers";
import { FINISH_FIELDS } from "#core/finish/valueFacts";
import { WEAR_EFFECTS } from "#core/finish/wear";
import { ROLES } from "#core/roles/roles";

/** The roles that a profile can ask for: canonical ones and the forms that renderers want instead. */
const roleSchema = z.enum(ROLES);

const imageFile = {
  /** What the renderer calls this input. */
  slot: z.string().min(1),
  /** Ends the file's name: `brick-0007_gloss.png`. */
  suffix: z.string().regex(/^[a-z0-9-]+$/),
  format: z.enum(IMAGE_FORMAT_NAMES),
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
    when: z.enum(["always", "images", "normal", "height", "opacity", "repeat", "plain", "values", "wear"]),
    /** May use {width}, {height} (in the profile's unit), {unit}, {amplitude}, {middle}, {name}, {values}. */
    text: z.string().min(1),
  })
  .strict();

/** The conventions of one renderer, as data. */
export const profileSchema = z
  .object({
    id: z.string().regex(/^[a-z0-9-]+$/),
    name: z.string().min(1),
    description: z.string(),
    /** "images": files for each material; or one container with the images inside. */
    delivers: z.enum(["images", ...CONTAINER_NAMES]),
    unit: z.enum(["mm", "cm", "m", "in"]),
    /** Which way green points in its normal maps. */
    normalDirection: z.enum(["+Y", "-Y"]),
    /** Largest width or height it takes. */
    maxPixels: z.number().int().min(16).max(32768).nullable(),
    outputs: z.array(z.discriminatedUnion("kind", [mapOutputSchema, packedOutputSchema])).min(1),
    /** Values of a finish that it takes, and what it calls their inputs. */
    values: z.partialRecord(z.enum(FINISH_FIELDS), z.string().min(1)).default({}),
    /** What wear it lays on by itself, each layer as a map with a size of its own; none where it takes no such map. */
    layers: z
      .object({
        effects: z.array(z.enum(WEAR_EFFECTS)).min(1),
        /** What it calls the first one: "wear 1". */
        slot: z.string().min(1),
        suffix: imageFile.suffix,
        format: imageFile.format,
      })
      .strict()
      .nullable()
      .default(null),
    /** Its relief inputs, and whether they share one that must be told the kind. */
    relief: z.object({ inputs: z.array(z.enum(["bump", "normal", "height"])), shared: z.boolean() }).strict(),
    steps: z.array(stepSchema),
  })
  .strict()
  .superRefine(({ outputs }, context) => {
    for (const [at, output] of outputs.entries())
      if (output.kind === "map" && !imageFormat(output.format).bitDepths.includes(output.bitDepth))
        context.addIssue({
          code: "custom",
          path: ["outputs", at, "bitDepth"],
          message: `A ${output.format} file does not hold ${output.bitDepth} bits.`,
        });
  });

export type Profile = z.infer<typeof profileSchema>;
export type MapOutput = z.infer<typeof mapOutputSchema>;
export type PackedOutput = z.infer<typeof packedOutputSchema>;
