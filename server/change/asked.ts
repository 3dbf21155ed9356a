import { z } from "zod";
import { FAMILIES } from "#core/finish/family";
import { ruleProblem } from "#core/library/nameRule";
import { idSchema, revisionNumber } from "#server/http/api/shapes";
import { tagSchema } from "#server/material/facts";
import { repeatBody } from "#server/material/shapes";

/** As many materials as one act may change. */
const MOST_MATERIALS = 5000;
/** Each with a size of its own, which is long. */
const MOST_SIZES = 1000;

const isEachOnce = (ids: string[]) => new Set(ids).size === ids.length;
const ONCE = "Name each material once.";

const materials = z.array(idSchema).min(1).max(MOST_MATERIALS).refine(isEachOnce, ONCE);

/** Facts that become those of all; what is not named stays, and null takes a fact away. */
const manyFactsSchema = z
  .strictObject({
    supplier: z.string().trim().min(1).max(200).nullable(),
    licence: z.strictObject({ id: idSchema }).nullable(),
    family: z.enum(FAMILIES).nullable(),
    addTags: z.array(tagSchema).max(30),
    removeTags: z.array(tagSchema).max(30),
  })
  .partial();
export type ManyFacts = z.infer<typeof manyFactsSchema>;

/** What is asked for many materials at once. */
export const askedSchema = z.discriminatedUnion("kind", [
  z.strictObject({
    kind: z.literal("size"),
    items: z
      .array(
        z.strictObject({
          material: idSchema,
          /** The revision that the size was found on: one that has been sized since is left as it is. */
          seen: revisionNumber.optional(),
          size: repeatBody,
        }),
      )
      .min(1)
      .max(MOST_SIZES)
      .refine((items) => isEachOnce(items.map(({ material }) => material)), ONCE),
  }),
  z.strictObject({
    kind: z.literal("facts"),
    materials,
    facts: manyFactsSchema.refine(
      (facts) => Object.values(facts).some((value) => value !== undefined),
      "Say what is to be changed.",
    ),
  }),
  z.strictObject({
    kind: z.literal("name"),
    materials,
    rule: z
      .string()
      .max(120)
      .refine((rule) => ruleProblem(rule) === undefined, {
        error: ({ input }) => ruleProblem(String(input)),
      }),
  }),
  z.strictObject({
    kind: z.literal("grade"),
    materials,
    /** By its name: one that ships, or of the studio's own. */
    grade: z.string().trim().min(1).max(60),
  }),
  z
    .strictObject({
      kind: z.literal("place"),
      materials,
      /** Collections that they are put into, and taken out of. */
      into: idSchema.optional(),
      outOf: idSchema.optional(),
    })
    .refine(
      ({ into, outOf }) => (into ?? outOf) !== undefined && into !== outOf,
      "Say into which collection, or out of which.",
    ),
  /** Another variant takes the places that one has: in collections, and in the projects that have it. */
  z
    .strictObject({ kind: z.literal("swap"), materials, to: idSchema })
    .refine(({ materials, to }) => !materials.includes(to), "Name another one to take its place."),
  /** What was mended of each, and waits to be looked at, is kept. */
  z.strictObject({ kind: z.literal("mend"), materials }),
  z.strictObject({ kind: z.literal("delete"), materials }),
]);
export type Asked = z.infer<typeof askedSchema>;
export type ChangeKind = Asked["kind"];
/** One material's own part of it. */
export type AskedSize = Extract<Asked, { kind: "size" }>["items"][number];
