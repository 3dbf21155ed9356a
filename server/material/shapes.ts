import { z } from "zod";
import { correctionsSchema, finishSchema } from "#core/finish/finish";
import { LAYOUTS, SIZE_STATES, missingOf, MATERIAL_KINDS } from "#core/finish/material";
import { FAMILIES } from "#core/finish/family";
import { FORMAT_KINDS } from "#core/gauge/formats";
import { KEEPS, MOST_LINES, type GaugeResult, densityOf } from "#core/gauge/repeat";
import { holdsUpFrom, type Camera } from "#core/judge/holdsUp";
import { MAP_CHANNELS } from "#core/roles/channel";
import { ROLES } from "#core/roles/roles";
import { findingShape, size, idSchema } from "#server/http/api/shapes";
import { saidOf } from "#server/material/saidOf";
import type { ImageRow } from "#server/images/queries";
import { licenceSchema } from "#server/licence/queries";
import type { RepeatRequest } from "#server/material/commands";
import type { MaterialRow } from "#server/material/queries";
import type { Sample } from "#server/material/samples";
import { variantSheetSchema } from "#server/supplier/queries";

export const sampleShape = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  kind: z.enum(MATERIAL_KINDS),
  layout: z.enum(LAYOUTS),
  family: z.enum(FAMILIES).nullable(),
  revision: z.number(),
  repeat: size.nullable(),
  sizeState: z.enum(SIZE_STATES),
  /** Nothing is missing. */
  ready: z.boolean(),
  missing: z.array(z.string()),
  /** Y × 100 of its mean colour under D65, after the finish. */
  lightReflectance: z.number().nullable(),
});

export function sampleAnswer(sample: Sample): z.input<typeof sampleShape> {
  const missing = missingOf({ ...sample, maps: sample.roles.map((role) => ({ role })) });
  const { roles: _roles, supplier: _supplier, color: _color, preview: _preview, ...said } = sample;
  return { ...said, ready: missing.length === 0, missing };
}

export const materialShape = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  kind: z.enum(MATERIAL_KINDS),
  layout: z.enum(LAYOUTS),
  family: z.enum(FAMILIES).nullable(),
  /** By what that was said; null where nobody was asked yet. */
  familyFrom: z.enum(["sheet", "name", "folder", "maps", "look", "person", "nothing"]).nullable(),
  tags: z.array(z.string()),
  line: z.string().nullable(),
  variant: z.record(z.string(), z.string()),
  madeFrom: z.object({ id: z.string(), code: z.string(), name: z.string() }).nullable(),
  /** What it turned out to be, where it was merged: the library shows that one. */
  mergedInto: z.object({ id: z.string(), name: z.string() }).nullable(),
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
  /** What is changed for one renderer alone, by the profile's id. */
  corrections: correctionsSchema,
  source: z.object({
    supplier: z.string().nullable(),
    product: z.string().nullable(),
    productCode: z.string().nullable(),
    page: z.string().nullable(),
    intake: z.string().nullable(),
    sheet: variantSheetSchema.nullable(),
  }),
  licence: licenceSchema.nullable(),
  findings: z.array(findingShape),
  missing: z.array(z.string()),
  /** Y × 100 of its mean colour under D65, after the finish; null where nobody can say. */
  lightReflectance: z.number().nullable(),
});

export function materialAnswer(material: MaterialRow): z.input<typeof materialShape> {
  return {
    ...material,
    maps: material.maps.map(({ fileName, ...map }) => ({ ...map, file: fileName })),
    findings: saidOf(material),
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
