import { z } from "zod";
import { conditionSchema } from "#core/picture/condition";
import type { Measured } from "#core/picture/measure";
import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { linearToHex } from "#core/raster/srgb";
import { changedFinish } from "#core/finish/finish";
import { ownColor } from "#core/picture/pickedColor";
import type { Rgb } from "#core/shade/rgb";
import { SHAPES } from "#core/picture/view";
import { conditionNamed } from "#server/condition/commands";
import { database } from "#server/db/database";
import { call, type Call } from "#server/http/api/call";
import { idSchema, revisionNumber } from "#server/http/api/shapes";
import { findMaterial, mustFindMaterial, type MaterialRow } from "#server/material/queries";
import {
  measuredOf,
  measuredReference,
  panoramaOf,
  pickedOf,
  pictureOf,
  type PictureAsk,
} from "#server/picture/pictureOf";
import { findReference, listReferences } from "#server/reference/sql";
import type { PickTask } from "#server/pixels/pickColor";
import { badField, conflict, notFound } from "#server/problem";
import { fileStore } from "#server/store/store";

const LEAST = 32;
const MOST = 2048;

const querySchema = z
  .object({
    width: z.coerce.number().int().min(LEAST).max(MOST).default(960),
    height: z.coerce.number().int().min(LEAST).max(MOST).optional(),
    shape: z.enum(SHAPES).default("panel"),
    condition: z.string().max(80).default("studio"),
    lampAround: conditionSchema.shape.lampAround.optional(),
    lampAbove: conditionSchema.shape.lampAbove.optional(),
    exposureStops: conditionSchema.shape.exposureStops.optional(),
    mmPerPx: z.coerce.number().min(0.01).max(100).optional(),
    cards: z.enum(["yes", "no"]).optional(),
    turnRight: z.coerce.number().min(-360).max(360).optional(),
    turnDown: z.coerce.number().min(-360).max(360).optional(),
    revision: z.coerce.number().pipe(revisionNumber).optional(),
    profile: z.string().max(80).optional(),
  })
  .strict();

/** So much of both is compared, at a scale that shows a repeat and a half of the material. */
const COMPARED = { width: 240, height: 150 };

const withSchema = z.string().refine((text) => {
  const [kind, id, ...more] = text.split(":");
  if (more.length > 0) return false;
  if (kind === "revision") return revisionNumber.safeParse(Number(id)).success;
  if (kind === "reference" && id === undefined) return true;
  return (kind === "reference" || kind === "material") && idSchema.safeParse(id).success;
}, "Compare with reference, reference:ID, revision:N or material:ID");

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

/** @throws {Problem} where there is no colour, or no such picture */
async function pickedColor(material: MaterialRow, spot: PickTask["spot"], reference?: string): Promise<Rgb> {
  if (reference !== undefined) {
    const found = await findReference(database(), material.id, reference);
    if (!found) throw badField("/reference", "There is no such reference picture.");
    if (found.state !== "there") throw conflict("The picture has not been read yet, or cannot be.");
    return pickedOf({ sha256: found.sha256, spot, of: { neutral: found.neutral } }, found.name);
  }
  const { wear: _, ...finish } = material.finish;
  const base = material.maps.find(({ role, channel }) => role === "base_color" && channel === "color");
  if (base) return pickedOf({ sha256: base.sha256, spot, of: { finish } }, base.fileName);
  const own = ownColor(material.finish, undefined, { ...spot, radiusPx: 1 });
  if (!own) throw conflict("The material has no colour: it has no base color map, and none was typed.");
  return own;
}

const numbers = ["lampAround", "lampAbove", "exposureStops"] as const;

/** Pictures of materials, by the shading model. */
export const PICTURE_CALLS: Call[] = [
  {
    method: "get",
    path: "/materials/:id/picture",
    summary:
      "The material under a condition, drawn by the shading model: width, height, shape (panel, wall, block, drape, leaf or pane), condition (studio, grazing, low-sun, behind, or the id of one of the studio's own), lampAround, lampAbove, exposureStops, mmPerPx, cards (yes: grey and white ones are laid on), turnRight and turnDown (of a block or a wall), revision, profile (with its corrections)",
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
      const {
        width,
        height,
        shape,
        mmPerPx,
        cards,
        turnRight,
        turnDown,
        revision,
        profile,
        condition,
        ...changes
      } = read.data;
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
        condition: { ...(await conditionNamed(condition)), ...changes },
        mmPerPx,
        cards: cards === "yes",
        ...((turnRight !== undefined || turnDown !== undefined) && {
          turn: { right: turnRight ?? 0, down: turnDown ?? 0 },
        }),
      });
      response.type("image/png").set("Cache-Control", "private, no-cache").set("ETag", `"${sha256}"`);
      if (request.fresh) return void response.status(304).end();
      response.send(await fileStore().read(sha256));
    },
  },
  {
    method: "get",
    path: "/environments/:sha256/panorama",
    summary:
      "A panorama of the library as it lights pictures: 256 × 128 directions of three floating-point numbers each, little-endian, linear light",
    status: 200,
    gives: { "application/octet-stream": {} },
    async raw({ params, response }) {
      const bytes = await panoramaOf(params.sha256);
      response
        .type("application/octet-stream")
        .set("Cache-Control", "private, max-age=31536000, immutable")
        .send(bytes);
    },
  },
  call({
    method: "get",
    path: "/materials/:id/color",
    summary:
      "A colour picked from a material, under its finish and no light, or from a reference picture of it, as it is made neutral: x and y from 0 to 1 of the map, radius against its smaller side",
    status: 200,
    query: z.object({
      x: z.coerce.number().min(0).max(1),
      y: z.coerce.number().min(0).max(1),
      radius: z.coerce.number().min(0).max(0.25).default(0.01),
      reference: idSchema.optional(),
    }),
    answer: z.object({ color: z.string(), lab }),
    async handle({ params, query: { reference, ...spot } }) {
      const [r, g, b] = await pickedColor(await mustFindMaterial(database(), params.id), spot, reference);
      return { color: linearToHex([r, g, b]), lab: linearToLab(r, g, b) };
    },
  }),
  call({
    method: "get",
    path: "/materials/:id/difference",
    summary:
      "How a material differs from a reference picture, a revision of itself, or another material: the mean colours under one condition, and the roughness",
    status: 200,
    query: z.object({
      with: withSchema,
      condition: z.string().max(80).default("studio"),
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
        condition: await conditionNamed(query.condition),
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
