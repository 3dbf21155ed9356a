import { z } from "zod";
import { IMAGE_FORMAT_NAMES, imageFormat, JPEG_QUALITY } from "#core/convert/imageFormats";
import { CONTAINER_NAMES, containerKind } from "#core/formats/containers";
import { FINISH_FIELDS } from "#core/finish/valueFacts";
import { WEAR_EFFECTS } from "#core/finish/wear";
import { ROLES, isColorRole } from "#core/roles/roles";

/** The roles that a profile can ask for: canonical ones and the forms that renderers want instead. */
const roleSchema = z.enum(ROLES);

/** What a renderer calls something. */
const inputName = z.string().trim().min(1, "Say what the renderer calls it.").max(80);

const imageFile = {
  /** What the renderer calls this input. */
  slot: inputName,
  /** Ends the file's name: `brick-0007_gloss.png`. */
  suffix: z
    .string()
    .max(40)
    .regex(/^[a-z0-9-]+$/, "The ending of a file name is made of small letters, digits and -."),
  format: z.enum(IMAGE_FORMAT_NAMES),
};

/** An image of one role. */
const mapOutputSchema = z
  .object({
    kind: z.literal("map"),
    ...imageFile,
    /** `gloss` asks for inverted roughness. */
    role: roleSchema,
    bitDepth: z.union([z.literal(8), z.literal(16), z.literal(32)]),
    /** Multiplies ambient occlusion in, for renderers without an input for it. */
    multiplyOcclusion: z.boolean().default(false),
    /** Puts opacity into the fourth channel, where there is any. */
    opacityInAlpha: z.boolean().default(false),
    /** Light and dark exchanged: what wants to know how transparent something is, in place of how opaque. */
    inverted: z.boolean().default(false),
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
    text: z.string().trim().min(1, "Say what is to be done.").max(500),
  })
  .strict();

/** Of a name: small letters, digits, - and _, and what stands for something in braces. */
const NAME_PATTERN = /^(?:[A-Za-z0-9_-]|\{(?:material|code|suffix)\})*$/;
const patternSchema = z
  .string()
  .max(120)
  .regex(
    NAME_PATTERN,
    "A name is made of letters, digits, - and _, with {material}, {code} and {suffix} where those belong.",
  );

/** How files are called, within the folder of the profile. */
const namesSchema = z
  .object({
    /** Of each material; empty where all lie beside each other. */
    folder: patternSchema.refine(
      (text) => !text.includes("{suffix}"),
      "A folder holds a material, and has no {suffix}.",
    ),
    file: patternSchema.refine(
      (text) => text.includes("{suffix}"),
      "Without {suffix} all files of a material would have one name.",
    ),
  })
  .strict()
  .refine(
    ({ folder, file }) => /\{(material|code)\}/.test(folder + file),
    "Without {material} or {code} all materials would have one name.",
  );

const LARGEST = "The largest image has 16 to 32768 px, or there is no limit: null.";

/** The conventions of one renderer, as data. */
export const profileSchema = z
  .object({
    id: z
      .string()
      .max(60)
      .regex(/^[a-z0-9-]+$/),
    name: z.string().trim().min(1, "Say how the profile is called.").max(80),
    description: z.string().max(600),
    /** "images": files for each material; or one container with the images inside. */
    delivers: z.enum(["images", ...CONTAINER_NAMES]),
    unit: z.enum(["mm", "cm", "m", "in"]),
    /** Which way green points in its normal maps. */
    normalDirection: z.enum(["+Y", "-Y"]),
    /** Largest width or height it takes. */
    maxPixels: z.number().int().min(16, LARGEST).max(32768, LARGEST).nullable(),
    /** What its colour files say of their colours: nothing, or that they are sRGB, by an ICC profile. Data files say nothing ever. */
    colorTag: z.enum(["none", "icc"]).default("none"),
    /** How much its JPEG files keep, of 100. */
    jpegQuality: z.number().int().min(50).max(100).default(JPEG_QUALITY),
    /** Whether a finish is worked into the images, or left to nodes of its material file, where it can still be changed. */
    finishIn: z.enum(["images", "nodes"]).default("images"),
    names: namesSchema.default({ folder: "{material}", file: "{material}_{suffix}" }),
    outputs: z
      .array(z.discriminatedUnion("kind", [mapOutputSchema, packedOutputSchema]))
      .min(1, "A renderer has one input at least.")
      .max(40),
    /** Values of a finish that it takes, and what it calls their inputs. */
    values: z.partialRecord(z.enum(FINISH_FIELDS), inputName).default({}),
    /** What wear it lays on by itself, each layer as a map with a size of its own; none where it takes no such map. */
    layers: z
      .object({
        effects: z.array(z.enum(WEAR_EFFECTS)).min(1),
        /** What it calls the first one: "wear 1". */
        slot: inputName,
        suffix: imageFile.suffix,
        format: imageFile.format,
      })
      .strict()
      .nullable()
      .default(null),
    steps: z.array(stepSchema).max(30),
    /** Whether each delivery is drawn from its files, and compared with its material. */
    isProved: z.boolean().default(true),
  })
  .strict()
  .superRefine(({ delivers, finishIn, outputs, layers, values }, context) => {
    const kind = delivers === "images" ? undefined : containerKind(delivers);
    if (finishIn === "nodes" && !kind?.leavesFinish)
      context.addIssue({
        code: "custom",
        path: ["finishIn"],
        message:
          "Only a MaterialX document has nodes that a finish could be left to: work it into the images.",
      });
    for (const [at, { format }] of outputs.entries())
      if (kind && !kind.formats.includes(format))
        context.addIssue({
          code: "custom",
          path: ["outputs", at, "format"],
          message: `A file of the kind “${kind.name}” holds ${kind.formats.map((one) => one.toUpperCase()).join(", ")}, and no ${format.toUpperCase()}.`,
        });
    const twice = (names: string[], path: (at: number) => (string | number)[], what: string) => {
      for (const [at, name] of names.entries())
        if (names.indexOf(name) < at)
          context.addIssue({ code: "custom", path: path(at), message: `${what} “${name}” is there twice.` });
    };
    twice(
      outputs.map(({ suffix }) => suffix),
      (at) => ["outputs", at, "suffix"],
      "The ending of file names",
    );
    twice(
      [...outputs.map(({ slot }) => slot), ...Object.values(values)].map((name) => name.toLowerCase()),
      (at) =>
        at < outputs.length ? ["outputs", at, "slot"] : ["values", Object.keys(values)[at - outputs.length]],
      "The input",
    );
    if (layers && outputs.some(({ suffix }) => suffix.startsWith(`${layers.suffix}-`)))
      context.addIssue({
        code: "custom",
        path: ["layers", "suffix"],
        message: `Files of wear would be called as another one is: “${layers.suffix}-1”.`,
      });
    for (const [at, output] of outputs.entries())
      if (output.kind === "map" && !imageFormat(output.format).bitDepths.includes(output.bitDepth))
        context.addIssue({
          code: "custom",
          path: ["outputs", at, "bitDepth"],
          message: `A ${output.format} file does not hold ${output.bitDepth} bits.`,
        });
    for (const [at, output] of outputs.entries())
      if (imageFormat(output.format).isLinear && (output.kind === "packed" || isColorRole(output.role)))
        context.addIssue({
          code: "custom",
          path: ["outputs", at, "format"],
          message: `An ${output.format} file holds linear numbers: ${output.kind === "packed" ? "a packed image has 8 bits" : "colours are encoded"}, and go into another format.`,
        });
  });

export type Profile = z.infer<typeof profileSchema>;
export type MapOutput = z.infer<typeof mapOutputSchema>;
export type PackedOutput = z.infer<typeof packedOutputSchema>;
