import { z } from "zod";
import { CONDITIONS, conditionSchema } from "#core/picture/condition";
import { SHAPES } from "#core/picture/view";
import { database } from "#server/db/database";
import type { Call } from "#server/http/api/call";
import { revisionNumber } from "#server/http/api/shapes";
import { findMaterial, mustFindMaterial } from "#server/material/queries";
import { pictureOf } from "#server/picture/pictureOf";
import { badField, notFound } from "#server/problem";
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
  })
  .strict();

const numbers = ["lampAround", "lampAbove", "exposureStops"] as const;

/** Pictures of materials, by the shading model. */
export const PICTURE_CALLS: Call[] = [
  {
    method: "get",
    path: "/materials/:id/picture",
    summary:
      "The material under a condition, drawn by the shading model: width, height, shape (panel or block), condition (studio, grazing, low-sun, behind), lampAround, lampAbove, exposureStops, mmPerPx, revision",
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
      const { width, height, shape, mmPerPx, revision, condition, ...changes } = read.data;
      const material =
        revision === undefined
          ? await mustFindMaterial(database(), params.id)
          : await findMaterial(database(), params.id, revision);
      if (!material) throw notFound("revision");
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
];
