import { z } from "zod";
import { CONDITIONS, conditionSchema } from "#core/picture/condition";
import type { Measured } from "#core/picture/measure";
import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { changedFinish } from "#core/finish/finish";
import { SHAPES } from "#core/picture/view";
import { database } from "#server/db/database";
import { call, type Call } from "#server/http/api/call";
import { revisionNumber } from "#server/http/api/shapes";
import { findMaterial, mustFindMaterial, type MaterialRow } from "#server/material/queries";
import { measuredOf, measuredReference, pictureOf, type PictureAsk } from "#server/picture/pictureOf";
import { findReference, listReferences } from "#server/reference/sql";
import { badField, conflict, notFound } from "#server/problem";
import { fileStore } from "#server/store/store";

const LEAST = 32;
const MOST = 2048;

const querySchema = z
  .object({
    width: z.coerce.number().int().min(LEAST).max(MOST).default(960),
    height: z.coerce.number().int().min(LEAST).max(MOST).optional(),
    shape: z.enum(SHAPES).default("panel"),
    condition: z.enum(Object.keys(CONDITIONS) as [keyof typeof CONDITIONS]).default("studio"),
    lampAround: conditionSchema.shape.lampAround.optional(),
    lampAbove: conditionSchema.shape.lampAbove.optional(),
    exposureStops: conditionSchema.shape.exposureStops.optional(),
    mmPerPx: z.coerce.number().min(0.01).max(100).optional(),
    revision: z.coerce.number().pipe(revisionNumber).optional(),
    profile: z.string().max(80).optional(),
  })
  .strict();

/** So much of both is compared, at a scale that shows a repeat and a half of the material. */
const COMPARED = { width: 240, height: 150 };

const withSchema = z
  .string()
  .regex(
    /^(reference(:[0-9a-f-]{36})?|revision:\d{1,9}|material:[0-9a-f-]{36})$/,
    "Compare with reference, reference:ID, revision:N or material:ID",
  );

const lab = z.tuple([z.number(), z.number(), z.number()]);
const roughness = z.object({ mean: z.number(), spread: z.number() }).nullable();

const labOf = ({ mean: [r, g, b] }: Measured): Lab => linearToLab(r, g, b);

/** What a material is compared with, measured at the same scale under the same condition. */
async function measuredOther(material: MaterialRow, other: string, ask: PictureAsk): Promise<Measured> {
  const [kind, id] = other.split(":");
  if (kind === "reference") {
    const found = id
      ? await findReference(database(), material.id, id)
      : (await listReferences(database(), material.id)).find(({ state }) => state === "there");
    if (!found) throw badField("/with", "There is no such reference picture.");
    if (found.state !== "there") throw conflict("The picture has not been read yet, or cannot be.");
    const view = { shape: "panel" as const, ...COMPARED, centre: { x: 0, y: 0 }, cards: false };
    const measured = await measuredReference(found, { ...view, mmPerPx: ask.mmPerPx! });
    if (!measured) throw badField("/with", "The reference picture shows nothing in its middle.");
    return measured;
  }
  const there =
    kind === "revision"
      ? await findMaterial(database(), material.id, Number(id))
      : await findMaterial(database(), id);
  if (!there) throw badField("/with", `There is no such ${kind}.`);
  return measuredOf(there, ask);
}

const numbers = ["lampAround", "lampAbove", "exposureStops"] as const;

/** Pictures of materials, by the shading model. */
export const PICTURE_CALLS: Call[] = [
  {
    method: "get",
    path: "/materials/:id/picture",
    summary:
      "The material under a condition, drawn by the shading model: width, height, shape (panel, block or drape), condition (studio, grazing, low-sun, behind), lampAround, lampAbove, exposureStops, mmPerPx, revision, profile (with its corrections)",
    status: 200,
    gives: { "image/png": {} },
    async raw({ params, request, response }) {
      const asked: Record<string, unknown> = { ...request.query };
      for (const name of numbers) if (name in asked) asked[name] = Number(asked[name]);
      const read = querySchema.safeParse(asked);
      if (!read.success) {
        const [{ path, message }] = read.error.issues;
        throw badField(`/${path.join("/")}`, message);
      }
      const { width, height, shape, mmPerPx, revision, profile, condition, ...changes } = read.data;
      const found =
        revision === undefined
          ? await mustFindMaterial(database(), params.id)
          : await findMaterial(database(), params.id, revision);
      if (!found) throw notFound("revision");
      const correction = profile === undefined ? undefined : found.corrections[profile];
      const material = correction ? { ...found, finish: changedFinish(found.finish, correction) } : found;
      const sha256 = await pictureOf(material, {
        width,
        height: height ?? Math.max(LEAST, Math.round(width / 1.6)),
        shape,
        condition: { ...CONDITIONS[condition], ...changes },
        mmPerPx,
      });
      response.type("image/png").set("Cache-Control", "private, no-cache").set("ETag", `"${sha256}"`);
      if (request.fresh) return void response.status(304).end();
      response.send(await fileStore().read(sha256));
    },
  },
  call({
    method: "get",
    path: "/materials/:id/difference",
    summary:
      "How a material differs from a reference picture, a revision of itself, or another material: the mean colours under one condition, and the roughness",
    status: 200,
    query: z.object({
      with: withSchema,
      condition: z.enum(Object.keys(CONDITIONS) as [keyof typeof CONDITIONS]).default("studio"),
    }),
    answer: z.object({
      meanLab: lab,
      otherLab: lab,
      deltaE2000: z.number(),
      roughness,
      otherRoughness: roughness,
    }),
    async handle({ params, query }) {
      const material = await mustFindMaterial(database(), params.id);
      const width = material.repeat?.width ?? 1000;
      const ask: PictureAsk = {
        ...COMPARED,
        shape: "panel",
        condition: CONDITIONS[query.condition],
        mmPerPx: Math.min(4000, 1.5 * width) / COMPARED.width,
      };
      const [mine, other] = [await measuredOf(material, ask), await measuredOther(material, query.with, ask)];
      return {
        meanLab: [...labOf(mine)] as [number, number, number],
        otherLab: [...labOf(other)] as [number, number, number],
        deltaE2000: ciede2000(labOf(mine), labOf(other)),
        roughness: mine.roughness,
        otherRoughness: other.roughness,
      };
    },
  }),
];
