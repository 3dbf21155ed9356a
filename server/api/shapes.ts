import { z } from "zod";
import { finishSchema } from "#core/finish/finish";
import { LAYOUTS, MATERIAL_KINDS, missingOf, SIZE_STATES } from "#core/finish/material";
import { KEEPS, MOST_LINES, type GaugeResult } from "#core/gauge/repeat";
import { mendRecipeSchema } from "#core/mend/recipe";
import { flattenFiguresSchema, flattenRecipeSchema } from "#core/photo/recipe";
import { cameraSchema, PURPOSES } from "#core/judge/holdsUp";
import { IGNORED_KINDS } from "#core/maps/candidate";
import { MAP_CHANNELS } from "#core/maps/channel";
import { ROLES, roleFromWord } from "#core/maps/roles";
import type { CandidateRow, IntakeRow } from "#server/db/intakes";
import { foundLicenceSchema, INTAKE_STATES } from "#server/db/intakes";
import { DECISIONS } from "#server/db/likenesses";
import type { FlatteningRow } from "#server/db/flattenings";
import { mendFiguresSchema, type MendRow } from "#server/db/mends";
import type { CollectionRow } from "#server/db/collections";
import { DELIVERY_STATES, type DeliveryRow } from "#server/db/deliveries";
import { findingSchema, type MaterialRow, type Sample } from "#server/db/materials";
import { variantSheetSchema } from "#server/db/suppliers";
import type { ProjectRow } from "#server/db/projects";
import type { Account } from "#server/delivery/account";
import type { RepeatRequest } from "#server/library/materials";

/** Shapes of the HTTP interface, and how rows become them. */

const size = z.object({ width: z.number(), height: z.number() });
export const idSchema = z.uuid("is not an id");
export const nameSchema = z
  .string()
  .trim()
  .min(1, "A name has 1 to 200 characters.")
  .max(200, "A name has 1 to 200 characters.");
const progress = z.object({
  done: z.number(),
  total: z.number(),
  what: z.string(),
  left: z.number().nullish(),
});

/** A role by its canonical name or by the word that people use. */
export const roleInput = z.string().transform((word, context) => {
  if (word === "leave-out") return "leave-out" as const;
  const role = roleFromWord(word);
  if (role) return role;
  context.addIssue({ code: "custom", message: `“${word}” is not a role: ${ROLES.join(", ")} or leave-out.` });
  return z.NEVER;
});

export const candidateShape = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(MATERIAL_KINDS),
  layout: z.enum(LAYOUTS),
  folder: z.string(),
  licence: foundLicenceSchema.nullable(),
  clashes: z.array(z.object({ id: z.string(), name: z.string(), same: z.enum(["name", "picture"]) })),
  state: z.enum(["waiting", "accepted"]),
  material: z.string().nullable(),
  maps: z.array(
    z.object({
      file: z.string(),
      role: z.enum([...ROLES, "unknown"]),
      width: z.number(),
      height: z.number(),
      bitDepth: z.number(),
      confidence: z.number(),
      normalDirection: z.enum(["+Y", "-Y"]).optional(),
      likely: z.array(z.enum(ROLES)),
    }),
  ),
  findings: z.array(findingSchema),
  sheet: variantSheetSchema.nullable(),
});

export const intakeShape = z.object({
  id: z.string(),
  state: z.enum(INTAKE_STATES),
  failure: z.string().nullable(),
  purpose: z.enum(PURPOSES),
  hold: z.enum(["pause", "stop"]).nullable(),
  progress,
  candidates: z.array(candidateShape),
  ignored: z.array(z.object({ file: z.string(), reason: z.string(), kind: z.enum(IGNORED_KINDS) })),
});

export function intakeAnswer(
  intake: IntakeRow,
  candidates: CandidateRow[],
  ignored: z.input<typeof intakeShape>["ignored"],
): z.input<typeof intakeShape> {
  const { id, state, failure, purpose, hold, progress } = intake;
  return {
    id,
    state,
    failure,
    purpose,
    hold,
    progress,
    candidates: candidates.map((candidate) => ({
      ...candidate,
      maps: candidate.maps.map(({ normalDirection, ...map }) => ({
        ...map,
        ...(normalDirection && { normalDirection }),
      })),
    })),
    ignored,
  };
}

export const likenessShape = z.object({
  first: z.string(),
  second: z.string(),
  alike: z.number(),
  turns: z.number(),
  shiftX: z.number(),
  shiftY: z.number(),
  tint: z.array(z.number()),
  decision: z.enum(DECISIONS).nullable(),
  sides: z.array(
    z.object({
      sha256: z.string(),
      width: z.number(),
      height: z.number(),
      owners: z.array(
        z.object({ kind: z.enum(["material", "candidate"]), id: z.string(), name: z.string() }),
      ),
    }),
  ),
});

export const flatteningShape = z.object({
  id: z.string(),
  state: z.enum(["running", "done", "failed"]),
  share: z.number(),
  recipe: flattenRecipeSchema,
  material: z.string().nullable(),
  figures: flattenFiguresSchema.nullable(),
  failure: z.string().nullable(),
});

export function flatteningAnswer(row: FlatteningRow): z.input<typeof flatteningShape> {
  const { id, share, recipe, made, figures, failure } = row;
  return { id, state: stateOf(made, failure), share, recipe, material: made, figures, failure };
}

const stateOf = (made: unknown, failure: string | null) =>
  failure !== null ? "failed" : made !== null ? "done" : "running";

export const mendShape = z.object({
  id: z.string(),
  state: z.enum(["running", "done", "failed"]),
  fromRevision: z.number(),
  toRevision: z.number().nullable(),
  recipe: mendRecipeSchema,
  figures: mendFiguresSchema.nullable(),
  failure: z.string().nullable(),
});

export function mendAnswer(mend: MendRow): z.input<typeof mendShape> {
  const { id, fromRevision, toRevision, recipe, figures, failure } = mend;
  const state = stateOf(toRevision, failure);
  return { id, state, fromRevision, toRevision, recipe, figures, failure };
}

export const sampleShape = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  layout: z.enum(LAYOUTS),
  revision: z.number(),
  repeat: size.nullable(),
  sizeState: z.enum(SIZE_STATES),
  /** Nothing is missing. */
  ready: z.boolean(),
  missing: z.array(z.string()),
});

export function sampleAnswer(sample: Sample): z.input<typeof sampleShape> {
  const missing = missingOf({ ...sample, maps: sample.roles.map((role) => ({ role })) });
  const { id, code, name, layout, revision, repeat, sizeState } = sample;
  return { id, code, name, layout, revision, repeat, sizeState, ready: missing.length === 0, missing };
}

export const materialShape = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  kind: z.enum(MATERIAL_KINDS),
  layout: z.enum(LAYOUTS),
  line: z.string().nullable(),
  variant: z.record(z.string(), z.string()),
  madeFrom: z.object({ id: z.string(), code: z.string(), name: z.string() }).nullable(),
  revision: z.number(),
  maps: z.array(
    z.object({
      role: z.enum(ROLES),
      file: z.string(),
      sha256: z.string(),
      channel: z.enum(MAP_CHANNELS),
      width: z.number(),
      height: z.number(),
      bitDepth: z.number(),
      normalDirection: z.enum(["+Y", "-Y"]).nullable(),
      /** The recipes by which it was made from others, in order. */
      derived: z.array(z.string()),
    }),
  ),
  repeat: size.nullable(),
  sizeState: z.enum(SIZE_STATES),
  gauge: z.record(z.string(), z.unknown()).nullable(),
  finish: finishSchema,
  source: z.object({
    supplier: z.string().nullable(),
    product: z.string().nullable(),
    productCode: z.string().nullable(),
    page: z.string().nullable(),
    intake: z.string().nullable(),
    sheet: variantSheetSchema.nullable(),
  }),
  licence: z
    .object({
      name: z.string(),
      price: z.enum(["free", "bought", "unknown"]),
      project: z.string().nullable(),
      endsOn: z.string().nullable(),
      credit: z.string().nullable(),
    })
    .nullable(),
  findings: z.array(findingSchema),
  missing: z.array(z.string()),
});

export function materialAnswer(material: MaterialRow): z.input<typeof materialShape> {
  return {
    ...material,
    maps: material.maps.map(({ fileName, ...map }) => ({ ...map, file: fileName })),
    missing: missingOf(material),
  };
}

const point = z.object({ x: z.number(), y: z.number() }).strict();
const keep = { keep: z.enum(KEEPS).optional(), assumed: z.boolean().optional() };
const measured = { from: point, to: point, length: z.number() };

export const repeatBody = z.discriminatedUnion("method", [
  z.object({ method: z.literal("size"), width: z.number(), height: z.number().optional(), ...keep }).strict(),
  z
    .object({
      method: z.literal("modules"),
      across: z.number().optional(),
      up: z.number().optional(),
      workSize: size.partial().strict().optional(),
      joint: z.number().optional(),
      jointVertical: z.number().optional(),
      coverSize: size.partial().strict().optional(),
      looksLike: z.object({ across: z.number(), down: z.number() }).strict().optional(),
      ...keep,
    })
    .strict(),
  z
    .object({ method: z.literal("density"), across: z.number(), down: z.number().optional(), ...keep })
    .strict(),
  z
    .object({
      method: z.literal("fitted"),
      width: z.number(),
      height: z.number(),
      surface: size.partial().strict(),
      before: size.strict(),
      counted: z
        .object({
          across: z.number().optional(),
          up: z.number().optional(),
          joint: z.number(),
          jointVertical: z.number(),
        })
        .strict()
        .optional(),
      ...keep,
    })
    .strict(),
  z.object({ method: z.literal("same-as"), material: idSchema, ...keep }).strict(),
  z.object({ method: z.literal("length"), ...measured, ...keep }).strict(),
  z
    .object({
      method: z.literal("lines"),
      lines: z.array(z.object(measured).strict()).max(MOST_LINES),
      ...keep,
    })
    .strict(),
  z
    .object({
      method: z.literal("rectangle"),
      from: point,
      to: point,
      width: z.number(),
      height: z.number(),
      ...keep,
    })
    .strict(),
]) satisfies z.ZodType<RepeatRequest>;

export const repeatShape = z.object({
  repeat: size,
  stretchPercent: z.number(),
  disagreementPercent: z.number(),
  densityX: z.number(),
  densityY: z.number(),
  errorPercent: z.number(),
  residuals: z.array(z.number()).optional(),
  revision: z.number(),
});

export const repeatAnswer = (result: GaugeResult, revision: number): z.input<typeof repeatShape> => ({
  ...result,
  revision,
});

export const changeBody = z
  .object({ add: z.array(idSchema).max(5000).default([]), remove: z.array(idSchema).max(5000).default([]) })
  .strict();

export const collectionShape = z.object({
  id: z.string(),
  name: z.string(),
  parent: z.string().nullable(),
  materials: z.array(z.string()),
  projects: z.array(z.object({ id: z.string(), name: z.string() })),
});
export const collectionAnswer = (collection: CollectionRow): z.input<typeof collectionShape> => collection;

export const projectShape = z.object({
  id: z.string(),
  name: z.string(),
  number: z.string().nullable(),
  camera: cameraSchema.nullable(),
  collections: z.array(z.object({ id: z.string(), name: z.string(), count: z.number() })),
  materials: z.array(z.string()),
  revisions: z.array(z.object({ material: z.string(), taken: z.number(), newest: z.number() })),
});
export const projectAnswer = (project: ProjectRow): z.input<typeof projectShape> => project;

export const deliveryBody = z
  .object({
    materials: z.array(idSchema).min(1).max(5000).optional(),
    collection: idSchema.optional(),
    project: idSchema.optional(),
    profiles: z.array(z.string()).min(1, "Choose at least one profile."),
    maxPixels: z.number().int().min(16).max(32768).optional(),
    destination: z.string().optional(),
  })
  .strict();

export const accountShape = z.object({
  delivery: z.string(),
  made: z.string(),
  materials: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      revision: z.number(),
      repeat: size.nullable(),
      profile: z.string(),
      files: z.array(
        z.object({
          path: z.string(),
          role: z.string(),
          operations: z.array(z.string()),
          width: z.number(),
          height: z.number(),
          bitDepth: z.number(),
          encoding: z.enum(["srgb", "linear"]),
          sha256: z.string(),
          written: z.boolean(),
        }),
      ),
      settings: z.object({ path: z.string(), sha256: z.string() }),
      steps: z.array(z.string()),
      warnings: z.array(z.string()),
    }),
  ),
  destination: z.object({ name: z.string(), folder: z.string() }).optional(),
  written: z.number(),
  unchanged: z.number(),
}) satisfies z.ZodType<Account>;

export const deliveryShape = z.object({
  id: z.string(),
  state: z.enum(DELIVERY_STATES),
  progress,
  failure: z.string().nullable(),
  profiles: z.array(z.string()),
  materials: z.array(z.object({ id: z.string(), name: z.string(), revision: z.number() })),
  destination: z.object({ id: z.string(), name: z.string() }).nullable(),
  account: accountShape.nullable(),
});

export function deliveryAnswer(
  delivery: DeliveryRow,
  account: Account | null,
): z.input<typeof deliveryShape> {
  const { id, state, progress, failure, profiles, materials, destination } = delivery;
  return { id, state, progress, failure, profiles, materials, destination, account };
}
