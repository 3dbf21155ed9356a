import { z } from "zod";
import { finishSchema } from "#core/finish/finish";
import { LAYOUTS, MATERIAL_KINDS, SIZE_STATES, missingOf } from "#core/finish/material";
import { FORMAT_KINDS } from "#core/gauge/formats";
import { type GaugeResult, KEEPS, MOST_LINES, densityOf } from "#core/gauge/repeat";
import { holdsUpFrom, type Camera } from "#core/judge/holdsUp";
import { MAP_CHANNELS } from "#core/maps/channel";
import { ROLES } from "#core/maps/roles";
import { mendRecipeSchema } from "#core/mend/recipe";
import { flattenFiguresSchema, flattenRecipeSchema } from "#core/photo/recipe";
import { idSchema, size } from "#server/api/shapes";
import { licenceSchema } from "#server/db/facts";
import type { ImageRow } from "#server/db/files";
import type { FlatteningRow } from "#server/db/flattenings";
import { DECISIONS } from "#server/db/likenesses";
import { type MaterialRow, type Sample, findingSchema } from "#server/db/materials";
import { type MendRow, mendFiguresSchema } from "#server/db/mends";
import { variantSheetSchema } from "#server/db/suppliers";
import type { RepeatRequest } from "#server/library/materials";

/** Shapes of the HTTP interface for materials, and how rows become them. */

export const likenessShape = z.object({
  first: z.string(),
  second: z.string(),
  alike: z.number(),
  turns: z.number(),
  shiftX: z.number(),
  shiftY: z.number(),
  tint: z.array(z.number()),
  /** Left and right are exchanged before the turn. */
  mirrored: z.boolean(),
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
  /** "waiting": it is done, and waits to be kept or dropped; `proposed` is what it came to. */
  state: z.enum(["running", "waiting", "done", "failed"]),
  fromRevision: z.number(),
  toRevision: z.number().nullable(),
  recipe: mendRecipeSchema,
  figures: mendFiguresSchema.nullable(),
  failure: z.string().nullable(),
  proposed: z
    .object({ repeat: size.nullable(), maps: z.array(z.object({ role: z.enum(ROLES), sha256: z.string() })) })
    .optional(),
});

export function mendAnswer(mend: MendRow): z.input<typeof mendShape> {
  const { id, fromRevision, toRevision, recipe, failure, proposal } = mend;
  const state = stateOf(toRevision, failure);
  const answer = { id, fromRevision, toRevision, recipe, failure };
  if (state !== "running" || !proposal) return { ...answer, state, figures: mend.figures };
  const { repeat, maps, figures } = proposal;
  return {
    ...answer,
    state: "waiting",
    figures,
    proposed: { repeat, maps: maps.map(({ role, sha256 }) => ({ role, sha256 })) },
  };
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
  licence: licenceSchema.nullable(),
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

const seamShape = z.object({ broken: z.number(), worstAt: z.number() });

export const judgementShape = z.object({
  maps: z.array(
    z.object({
      role: z.enum(ROLES),
      /** Pixels per real metre; null where the size is unknown. */
      density: z.number().nullable(),
      /** Metres; null where the size is unknown. */
      holdsUpFrom: z.number().nullable(),
      /** How likely it is that it does not continue at its other side; null where nothing was measured. */
      seams: z.object({ across: seamShape, down: seamShape }).nullable(),
    }),
  ),
  repetition: z
    .object({
      giveaway: z.number(),
      likeItself: z.number(),
      spots: z.array(z.object({ x: z.number(), y: z.number(), lightness: z.number() })),
    })
    .nullable(),
});

export function judgementAnswer(
  { maps, repeat }: MaterialRow,
  readings: Pick<ImageRow, "sha256" | "reading" | "repetition">[],
  camera: Camera,
): z.input<typeof judgementShape> {
  const of = (sha256?: string) => readings.find((one) => one.sha256 === sha256);
  return {
    maps: maps.map(({ role, sha256, width }) => {
      const density = repeat ? densityOf(width, repeat.width) : null;
      return {
        role,
        density,
        holdsUpFrom: density === null ? null : holdsUpFrom(camera, density),
        seams: of(sha256)?.reading?.seams ?? null,
      };
    }),
    repetition: of(maps.find(({ role }) => role === "base_color")?.sha256)?.repetition ?? null,
  };
}

export const formatShape = z.object({
  id: z.string(),
  kind: z.enum(FORMAT_KINDS),
  name: z.string(),
  workSize: size.partial().optional(),
  joint: z.number().optional(),
  jointVertical: z.number().optional(),
  coverSize: size.partial().optional(),
  looksLike: z.object({ across: z.number(), down: z.number() }).optional(),
  source: z.string(),
});
