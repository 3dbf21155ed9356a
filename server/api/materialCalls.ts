import { z } from "zod";
import { finishChangeSchema, finishSchema } from "#core/finish/finish";
import { LAYOUTS } from "#core/finish/material";
import { BONDS } from "#core/gauge/bond";
import { FORMATS } from "#core/gauge/formats";
import { cameraSchema, DEFAULT_CAMERA } from "#core/judge/holdsUp";
import { mendRecipeSchema } from "#core/mend/recipe";
import { flattenRecipeSchema } from "#core/photo/recipe";
import { type Call, call } from "#server/api/call";
import {
  flatteningAnswer,
  flatteningShape,
  likenessShape,
  materialAnswer,
  materialShape,
  mendAnswer,
  mendShape,
  repeatAnswer,
  repeatBody,
  repeatShape,
  sampleAnswer,
  sampleShape,
  judgementShape,
  judgementAnswer,
  formatShape,
} from "#server/api/materialShapes";
import { idSchema, nameSchema, listOf, pageAnswer, pageQuery } from "#server/api/shapes";
import { database } from "#server/db/database";
import { licenceSchema, listLicences } from "#server/db/facts";
import { listReadings } from "#server/db/files";
import { listFlattenings } from "#server/db/flattenings";
import { DECISIONS, decideLikeness, listLikePairs } from "#server/db/likenesses";
import { findMaterial, listSamples, listUses, listRevisions, type MaterialRow } from "#server/db/materials";
import { listMends } from "#server/db/mends";
import { pageOf, sliceOf } from "#server/db/page";
import { askForModules } from "#server/library/countModules";
import { changeFacts, factsSchema } from "#server/library/facts";
import { startFlattening } from "#server/library/flatten";
import {
  changeMaterial,
  copyMaterial,
  createPlain,
  deleteMaterial,
  setRepeat,
  handOnRepeat,
} from "#server/library/materials";
import { dropMend, keepMend, startMend } from "#server/library/mend";
import { Problem, notFound } from "#server/problem";

const jointShape = z.object({ share: z.number(), sure: z.number() });

const countShape = z.object({
  across: z.number().optional(),
  down: z.number().optional(),
  bond: z.enum(BONDS),
  /** Columns are shifted against each other, and not courses. */
  upright: z.boolean().optional(),
  /** Of herringbone: how many times as long as wide a block is. */
  blockLength: z.number().optional(),
  /** How often the picture holds itself beside itself. */
  copies: z.object({ across: z.number(), down: z.number() }).optional(),
  sure: z.number(),
});

/** @throws {Problem} 404 */
async function mustBe(id: string, revision?: number): Promise<MaterialRow> {
  const material = await findMaterial(database(), id, revision);
  if (!material) throw notFound("material");
  return material;
}

/** The revision that the caller saw, from If-Match: a number, with or without quotes. */
function seenRevision(header: string | undefined): number | undefined {
  if (header === undefined || header === "*") return undefined;
  const match = /^(?:W\/)?"?(\d+)"?$/.exec(header.trim());
  if (!match)
    throw new Problem(
      400,
      "Bad request",
      `“${header}” is not a revision. Send If-Match with the revision's number.`,
    );
  return Number(match[1]);
}

/** The library, and the work at one material. */
export const MATERIAL_CALLS: Call[] = [
  call({
    method: "get",
    path: "/materials",
    summary: "Search the library",
    status: 200,
    query: pageQuery.extend({
      q: z.string().optional(),
      sizeState: z.enum(["known", "assumed", "unknown"]).optional(),
      collection: idSchema.optional(),
      project: idSchema.optional(),
    }),
    answer: listOf(sampleShape).extend({ total: z.number() }),
    async handle({ query }) {
      const { page, ...filter } = query;
      const { items, total } = await listSamples(database(), {
        ...filter,
        ...sliceOf(page),
      });
      return { ...pageAnswer({ items, ...pageOf(page, total) }, sampleAnswer), total };
    },
  }),
  call({
    method: "post",
    path: "/materials",
    summary: "Make a plain material, or a copy that remembers its origin",
    status: 201,
    body: z.union([
      z.object({ name: nameSchema, from: idSchema }).strict(),
      z
        .object({
          name: nameSchema,
          layout: z.literal("plain"),
          color: z.string().regex(/^#[0-9a-fA-F]{6}$/, "A colour is written #rrggbb."),
          roughness: finishSchema.shape.roughness.unwrap().optional(),
          metalness: finishSchema.shape.metalness.unwrap().optional(),
          ior: finishSchema.shape.ior.unwrap().optional(),
        })
        .strict(),
    ]),
    answer: materialShape,
    async handle({ body, person, response }) {
      const made = await ("from" in body ? copyMaterial(body.from, body.name, person) : makePlain(body));
      response.location(`/api/v1/materials/${made.id}`);
      return materialAnswer(made);

      function makePlain({
        name,
        color,
        roughness,
        metalness,
        ior,
      }: Extract<typeof body, { layout: "plain" }>) {
        const finish = Object.fromEntries(
          Object.entries({ roughness, metalness, ior }).filter(([, value]) => value !== undefined),
        );
        return createPlain({ name, color, finish }, person);
      }
    },
  }),
  call({
    method: "get",
    path: "/materials/:id",
    summary: "One material, in its newest revision or in an earlier one",
    status: 200,
    query: z.object({ revision: z.coerce.number().int().min(1).optional() }),
    answer: materialShape,
    async handle({ params, query }) {
      return materialAnswer(await mustBe(params.id, query.revision));
    },
  }),
  call({
    method: "patch",
    path: "/materials/:id",
    summary: "Change name, layout, finish or the direction of the normal map",
    status: 200,
    body: z
      .object({
        name: nameSchema.optional(),
        layout: z.enum(LAYOUTS).optional(),
        finish: finishChangeSchema.optional(),
        normalDirection: z.enum(["+Y", "-Y"]).optional(),
      })
      .strict(),
    answer: materialShape,
    async handle({ params, body, person, request }) {
      return materialAnswer(
        await changeMaterial(params.id, body, seenRevision(request.headers["if-match"]), person),
      );
    },
  }),
  call({
    method: "patch",
    path: "/materials/:id/facts",
    summary: "Say where a material comes from and what may be done with it (null takes a fact away)",
    status: 200,
    body: factsSchema,
    answer: materialShape,
    handle: async ({ params, body }) => materialAnswer(await changeFacts(params.id, body)),
  }),
  call({
    method: "get",
    path: "/licences",
    summary: "The licences that the studio knows",
    status: 200,
    answer: listOf(licenceSchema),
    handle: async () => ({ items: await listLicences(database()), next: null }),
  }),
  call({
    method: "delete",
    path: "/materials/:id",
    summary: "Take a material out of the library; projects and deliveries that have it keep it",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await deleteMaterial(params.id, true);
      return { id: params.id };
    },
  }),
  call({
    method: "get",
    path: "/materials/:id/uses",
    summary: "The collections, projects and deliveries that a material is in",
    status: 200,
    answer: listOf(
      z.object({ kind: z.enum(["collection", "project", "delivery"]), id: z.string(), name: z.string() }),
    ),
    async handle({ params }) {
      await mustBe(params.id);
      return { items: await listUses(database(), params.id), next: null };
    },
  }),
  call({
    method: "get",
    path: "/materials/:id/revisions",
    summary: "What was changed, by whom and when, the newest first",
    status: 200,
    answer: listOf(
      z.object({ revision: z.number(), note: z.string(), by: z.string(), at: z.iso.datetime() }),
    ),
    async handle({ params }) {
      await mustBe(params.id);
      const revisions = await listRevisions(database(), params.id);
      return {
        items: revisions.map(({ number, note, madeBy, madeAt }) => ({
          revision: number,
          note,
          by: madeBy,
          at: madeAt.toISOString(),
        })),
        next: null,
      };
    },
  }),
  call({
    method: "get",
    path: "/materials/:id/judgement",
    summary: "What the pixels say: seams, repetition, and from which distance each map holds up",
    status: 200,
    query: z.object({
      widthPx: z.coerce.number().pipe(cameraSchema.shape.widthPx).default(DEFAULT_CAMERA.widthPx),
      angleDegrees: z.coerce
        .number()
        .pipe(cameraSchema.shape.angleDegrees)
        .default(DEFAULT_CAMERA.angleDegrees),
    }),
    answer: judgementShape,
    async handle({ params, query }) {
      const material = await mustBe(params.id);
      const hashes = material.maps.map(({ sha256 }) => sha256);
      return judgementAnswer(material, await listReadings(database(), hashes), query);
    },
  }),
  call({
    method: "post",
    path: "/materials/:id/hand-on",
    summary: "Give other materials the size of this one",
    status: 200,
    body: z.object({ materials: z.array(idSchema).min(1).max(200) }).strict(),
    answer: z.object({
      saved: z.number(),
      failed: z.array(z.object({ name: z.string(), reason: z.string() })),
    }),
    async handle({ params, body, person }) {
      await mustBe(params.id);
      return handOnRepeat(params.id, body.materials, person);
    },
  }),
  call({
    method: "get",
    path: "/formats",
    summary:
      "Standard formats of modules, with their sizes and joints in millimetres and where they are from",
    status: 200,
    answer: listOf(formatShape),
    handle: async () => ({ items: [...FORMATS], next: null }),
  }),
  call({
    method: "put",
    path: "/materials/:id/repeat",
    summary: "Give a material its real size",
    status: 200,
    body: repeatBody,
    answer: repeatShape,
    async handle({ params, body, person, request }) {
      const { result, material } = await setRepeat(
        params.id,
        body,
        seenRevision(request.headers["if-match"]),
        person,
      );
      return repeatAnswer(result, material.revision);
    },
  }),
  call({
    method: "get",
    path: "/materials/:id/flattenings",
    summary: "Regions of a photograph that were flattened, newest first",
    status: 200,
    answer: listOf(flatteningShape),
    handle: async ({ params }) => ({
      items: (await listFlattenings(database(), params.id)).map(flatteningAnswer),
      next: null,
    }),
  }),
  call({
    method: "post",
    path: "/materials/:id/flattenings",
    summary: "Flatten a region of a photograph into a material of its own",
    status: 202,
    body: flattenRecipeSchema,
    answer: flatteningShape,
    handle: async ({ params, body, person }) =>
      flatteningAnswer(await startFlattening(params.id, body, person)),
  }),
  call({
    method: "get",
    path: "/materials/:id/mends",
    summary: "What was mended of a material, newest first",
    status: 200,
    answer: listOf(mendShape),
    handle: async ({ params }) => ({
      items: (await listMends(database(), params.id)).map(mendAnswer),
      next: null,
    }),
  }),
  call({
    method: "get",
    path: "/materials/:id/modules",
    summary:
      "What the program counts in the picture: modules, or the pitch in pixels where it is not seamless",
    status: 200,
    answer: z.object({
      /** "counting": ask again in a while; "none": there is no picture that repeats. */
      state: z.enum(["counting", "counted", "failed", "none"]),
      count: countShape.optional(),
      /** What the height map holds, where that is another number than in the picture. */
      heightCount: countShape.optional(),
      pitch: z.object({ across: z.number().optional(), down: z.number().optional() }).optional(),
      /** Degrees from level, counter-clockwise, and how clear that is, 0..1. */
      grain: z.object({ angle: z.number(), clear: z.number() }).optional(),
      /** How much of a module its joints take, between pieces and between courses, and how sure that is. */
      joints: z.object({ across: jointShape.optional(), down: jointShape.optional() }).optional(),
    }),
    async handle({ params }) {
      const found = await askForModules(await mustBe(params.id));
      if (found === undefined) return { state: "none" as const };
      if (found === null) return { state: "counting" as const };
      const { failed, lattice: _, ...counted } = found;
      return failed ? { state: "failed" as const } : { state: "counted" as const, ...counted };
    },
  }),
  call({
    method: "post",
    path: "/materials/:id/mends",
    summary:
      "Mend seams, or even out slow light and dark; the result is a new revision, or with `look=first` waits to be kept",
    status: 202,
    query: z.object({ look: z.literal("first").optional() }),
    body: mendRecipeSchema,
    answer: mendShape,
    handle: async ({ params, query, body, person }) =>
      mendAnswer(await startMend(params.id, body, person, query.look === "first")),
  }),
  call({
    method: "post",
    path: "/materials/:id/mends/:mend/keep",
    summary: "Keep a mend that waits: its maps become a new revision",
    status: 200,
    answer: mendShape,
    handle: async ({ params, person }) => mendAnswer(await keepMend(params.id, params.mend, person)),
  }),
  call({
    method: "delete",
    path: "/materials/:id/mends/:mend",
    summary: "Drop a mend that waits: nothing of the material changes",
    status: 200,
    answer: mendShape,
    handle: async ({ params }) => mendAnswer(await dropMend(params.id, params.mend)),
  }),
  call({
    method: "get",
    path: "/likenesses",
    summary: "Pairs of materials that show the same picture, the undecided first",
    status: 200,
    answer: listOf(likenessShape),
    handle: async () => ({ items: await listLikePairs(database()), next: null }),
  }),
  call({
    method: "put",
    path: "/likenesses",
    summary: "Decide once what a pair is",
    status: 200,
    body: z
      .object({ first: z.string(), second: z.string(), decision: z.enum(DECISIONS).nullable() })
      .strict(),
    answer: z.object({ first: z.string(), second: z.string(), decision: z.enum(DECISIONS).nullable() }),
    async handle({ body, person }) {
      if (!(await decideLikeness(database(), body, body.decision, person.id))) throw notFound("pair");
      return body;
    },
  }),
];
