import { z } from "zod";
import { correctionSchema, finishChangeSchema, finishSchema } from "#core/finish/finish";
import { LAYOUTS } from "#core/finish/material";
import { revisionChanges } from "#core/finish/revisionChanges";
import { librarySearchSchema } from "#core/library/librarySearch";
import { MAP_CHANNELS } from "#core/roles/channel";
import { ROLES } from "#core/roles/roles";
import { cameraSchema, DEFAULT_CAMERA } from "#core/judge/holdsUp";
import { type Call, call } from "#server/http/api/call";
import {
  materialAnswer,
  materialShape,
  repeatAnswer,
  repeatBody,
  repeatShape,
  sampleAnswer,
  sampleShape,
  judgementShape,
  judgementAnswer,
} from "#server/material/shapes";
import { idSchema, nameSchema, listOf, pageAnswer, pageQuery, revisionNumber } from "#server/http/api/shapes";
import { database } from "#server/db/database";
import { listReadings } from "#server/images/queries";
import { findMaterial, mustFindMaterial, listUses, listRevisions } from "#server/material/queries";
import { pageOf, sliceOf } from "#server/db/page";
import { listSamples } from "#server/material/samples";
import { changeFacts, factsSchema } from "#server/material/facts";
import { savedOf } from "#server/material/clash";
import { listWearers } from "#server/material/wear";
import {
  changeMaterial,
  correctFor,
  restoreRevision,
  copyMaterial,
  createPlain,
  deleteMaterial,
  setRepeat,
  handOnRepeat,
  takeWearOver,
} from "#server/material/commands";
import { badField, notFound, Problem } from "#server/problem";

const changedMap = z.object({ sha256: z.string(), channel: z.enum(MAP_CHANNELS) });

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
    summary:
      "Search the library: q by words of name, code, tag, supplier, line, family and colour; color by a colour that it is of; like by the picture of another; the rest by what it is",
    status: 200,
    query: pageQuery.extend(librarySearchSchema.shape),
    answer: listOf(sampleShape).extend({
      total: z.number(),
      /** Words that nothing has, and those a letter away, if any, that were looked for in their place. */
      instead: z.array(z.object({ typed: z.string(), read: z.array(z.string()) })),
    }),
    async handle({ query }) {
      const { page, ...filter } = query;
      if (filter.within !== undefined && filter.color === undefined)
        throw badField("/within", "Say near to which colour: color=#rrggbb.");
      const { items, total, instead } = await listSamples(database(), {
        ...filter,
        ...sliceOf(page),
      });
      return { ...pageAnswer({ items, ...pageOf(page, total) }, sampleAnswer), total, instead };
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
    query: z.object({ revision: z.coerce.number().pipe(revisionNumber).optional() }),
    answer: materialShape,
    async handle({ params, query }) {
      return materialAnswer(await mustFindMaterial(database(), params.id, query.revision));
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
      const revision = seenRevision(request.headers["if-match"]);
      const seen = revision === undefined ? undefined : { revision };
      return materialAnswer(savedOf(await changeMaterial(params.id, body, seen, person)));
    },
  }),
  call({
    method: "put",
    path: "/materials/:id/corrections/:profile",
    summary:
      "Change the finish for one renderer alone, in place of what was changed for it before; {} takes it away",
    status: 200,
    body: correctionSchema,
    answer: materialShape,
    async handle({ params, body, person, request }) {
      const seen = seenRevision(request.headers["if-match"]);
      return materialAnswer(await correctFor(params.id, params.profile, body, seen, person));
    },
  }),
  call({
    method: "post",
    path: "/materials/:id/restore",
    summary: "Make what an earlier revision was the newest one",
    status: 200,
    body: z.object({ revision: revisionNumber }).strict(),
    answer: materialShape,
    handle: async ({ params, body, person }) =>
      materialAnswer(await restoreRevision(params.id, body.revision, person)),
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
      await mustFindMaterial(database(), params.id);
      return { items: await listUses(database(), params.id), next: null };
    },
  }),
  call({
    method: "get",
    path: "/materials/:id/wearers",
    summary: "The materials that a wear layer is laid over, and which revision of it each uses",
    status: 200,
    answer: listOf(
      z.object({ id: z.string(), code: z.string(), name: z.string(), layerRevision: z.number() }),
    ),
    async handle({ params }) {
      await mustFindMaterial(database(), params.id);
      return { items: await listWearers(database(), params.id), next: null };
    },
  }),
  call({
    method: "post",
    path: "/materials/:id/wearers",
    summary: "Let materials use the newest revision of a wear layer: those named, or all that use it",
    status: 200,
    body: z.object({ materials: z.array(idSchema).max(2000).optional() }).strict(),
    answer: z.object({
      saved: z.array(z.object({ id: z.string(), revision: z.number() })),
      failed: z.array(z.object({ name: z.string(), reason: z.string() })),
    }),
    handle: ({ params, body, person }) => takeWearOver(params.id, body.materials, person),
  }),
  call({
    method: "get",
    path: "/materials/:id/changes",
    summary:
      "What differs between two revisions: sizes and values in words, and maps; to is the newest unless given",
    status: 200,
    query: z.object({
      from: z.coerce.number().pipe(revisionNumber),
      to: z.coerce.number().pipe(revisionNumber).optional(),
    }),
    answer: z.object({
      values: z.array(
        z.object({ name: z.string(), before: z.string().nullable(), after: z.string().nullable() }),
      ),
      maps: z.array(
        z.object({ role: z.enum(ROLES), before: changedMap.nullable(), after: changedMap.nullable() }),
      ),
    }),
    async handle({ params, query: { from, to } }) {
      const after = await mustFindMaterial(database(), params.id, to);
      const before = await findMaterial(database(), params.id, from);
      if (!before) throw notFound("revision");
      return revisionChanges(before, after);
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
      await mustFindMaterial(database(), params.id);
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
      const material = await mustFindMaterial(database(), params.id);
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
      await mustFindMaterial(database(), params.id);
      return handOnRepeat(params.id, body.materials, person);
    },
  }),
  call({
    method: "put",
    path: "/materials/:id/repeat",
    summary: "Give a material its real size",
    status: 200,
    body: repeatBody,
    answer: repeatShape,
    async handle({ params, body, person, request }) {
      const seen = seenRevision(request.headers["if-match"]);
      const { result, material } = savedOf(await setRepeat(params.id, body, seen, person));
      return repeatAnswer(result, material.revision);
    },
  }),
];
