import { z } from "zod";
import { finishChangeSchema, finishSchema } from "#core/finish/finish";
import { LAYOUTS } from "#core/finish/material";
import { PEOPLE_CALLS } from "#server/api/peopleCalls";
import { UPKEEP_CALLS } from "#server/api/upkeepCalls";
import { BONDS } from "#core/gauge/findModules";
import { profileSchema } from "#core/convert/profile";
import { flattenRecipeSchema } from "#core/photo/recipe";
import { mendRecipeSchema } from "#core/mend/recipe";
import { catalogueSchema, orderSchema } from "#core/supply/catalogue";
import { cameraSchema } from "#core/judge/holdsUp";
import { call, type Call } from "#server/api/call";
import {
  changeBody,
  collectionAnswer,
  collectionShape,
  deliveryAnswer,
  deliveryBody,
  deliveryShape,
  idSchema,
  intakeAnswer,
  intakeShape,
  likenessShape,
  materialAnswer,
  materialShape,
  flatteningAnswer,
  flatteningShape,
  mendAnswer,
  mendShape,
  nameSchema,
  projectAnswer,
  projectShape,
  repeatAnswer,
  repeatBody,
  repeatShape,
  roleInput,
  sampleAnswer,
  sampleShape,
} from "#server/api/shapes";
import { findCollection, insertCollection, listCollections } from "#server/db/collections";
import { database, inTransaction } from "#server/db/database";
import { askToCancel, findDelivery, listDeliveries, readAccount } from "#server/db/deliveries";
import {
  findIntake,
  INTAKE_STATES,
  listCandidates,
  listIgnored,
  listUploads,
  ON_CLASH,
} from "#server/db/intakes";
import { DECISIONS, decideLikeness, listLikePairs } from "#server/db/likenesses";
import { findMaterial, listSamples } from "#server/db/materials";
import { listFlattenings } from "#server/db/flattenings";
import { listMends } from "#server/db/mends";
import { destinationSchema, insertDestination, listDestinations, listProfiles } from "#server/db/profiles";
import {
  changeCollection,
  changeProject,
  findProject,
  insertProject,
  listProjects,
  setCamera,
} from "#server/db/projects";
import { archiveOf } from "#server/delivery/archive";
import { planDelivery, startDelivery } from "#server/delivery/plan";
import { announce, listen } from "#server/events/events";
import { acceptCandidates } from "#server/intake/accept";
import { accountCsv, accountOf } from "#server/intake/account";
import { beginIntake, completeIntake } from "#server/intake/begin";
import { intakeOptionsSchema } from "#server/intake/intakeOptions";
import { holdIntake, readAgain } from "#server/intake/hold";
import { tryAgain } from "#server/intake/tryAgain";
import { receiveIntake } from "#server/intake/receive";
import {
  changeMaterial,
  copyMaterial,
  createPlain,
  deleteMaterial,
  setRepeat,
} from "#server/library/materials";
import { askForModules } from "#server/library/countModules";
import { startFlattening } from "#server/library/flatten";
import { startMend } from "#server/library/mend";
import { conflict, notFound, Problem } from "#server/problem";
import { readCatalogue } from "#server/suppliers/catalogue";
import { changeFetch, noCatalogue, startFetch } from "#server/suppliers/fetchProducts";

const PAGE = 60;

const countShape = z.object({
  across: z.number().optional(),
  down: z.number().optional(),
  bond: z.enum(BONDS),
  /** Columns are shifted against each other, and not courses. */
  upright: z.boolean().optional(),
  sure: z.number(),
});

const acceptOptions = {
  collections: z
    .object({ level: z.number().int().min(1).max(8), thin: z.number().int().min(1).max(1000) })
    .strict()
    .optional(),
  nameRule: z.string().optional(),
  keepRule: z.boolean().optional(),
};

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

async function readIntake(id: string) {
  const db = database();
  const intake = await findIntake(db, id);
  if (!intake) throw notFound("intake");
  return intakeAnswer(intake, await listCandidates(db, id), await listIgnored(db, id));
}

async function readDelivery(id: string) {
  const delivery = await findDelivery(database(), id);
  if (!delivery) throw notFound("delivery");
  return deliveryAnswer(delivery, await readAccount(database(), id));
}

async function readCollection(id: string) {
  const collection = await findCollection(database(), id);
  if (!collection) throw notFound("collection");
  return collectionAnswer(collection);
}

async function readProject(id: string) {
  const project = await findProject(database(), id);
  if (!project) throw notFound("project");
  return projectAnswer(project);
}

/** Everything that a script can do, in the order of the work. */
export const CALLS: Call[] = [
  {
    method: "post",
    path: "/intakes",
    summary: "Hand in images and zips",
    status: 202,
    takes: {
      "multipart/form-data": {
        schema: {
          type: "object",
          required: ["files"],
          properties: {
            files: { type: "array", items: { type: "string", format: "binary" } },
            onClash: { type: "string", enum: ["skip", "replace", "keep-both"], default: "keep-both" },
            purpose: { type: "string", enum: ["near", "far", "backdrop"], default: "near" },
            itemSeconds: { type: "integer", minimum: 1, maximum: 3600, default: 120 },
            itemMib: { type: "integer", minimum: 16, maximum: 65536, default: 4096 },
            leastMaps: { type: "integer", minimum: 1, maximum: 9, default: 1 },
            leastPixels: { type: "integer", minimum: 1, maximum: 16384, default: 1 },
          },
        },
      },
    },
    gives: {
      "application/json": {
        schema: { type: "object", properties: { id: { type: "string" }, state: { type: "string" } } },
      },
    },
    async raw({ person, request, response }) {
      const { id, state } = await receiveIntake(request, person);
      response.status(202).location(`/api/v1/intakes/${id}`).json({ id, state });
    },
  },
  call({
    method: "post",
    path: "/intakes/begin",
    summary:
      "Begin an intake whose files are sent one by one (tus), each with the metadata intake, position and name",
    status: 201,
    body: intakeOptionsSchema.extend({ files: z.number().int().min(1).max(100_000) }).strict(),
    answer: z.object({ id: z.string(), state: z.enum(INTAKE_STATES) }),
    async handle({ body: { files, ...options }, person, response }) {
      const { id, state } = await beginIntake(files, options, person);
      response.location(`/api/v1/intakes/${id}`);
      return { id, state };
    },
  }),
  call({
    method: "get",
    path: "/intakes/:id/uploads",
    summary: "What has arrived",
    status: 200,
    answer: z.object({
      expected: z.number().nullable(),
      items: z.array(
        z.object({ position: z.number(), name: z.string(), bytes: z.number(), sha256: z.string() }),
      ),
      next: z.string().nullable(),
    }),
    async handle({ params }) {
      const intake = await findIntake(database(), params.id);
      if (!intake) throw notFound("intake");
      return { expected: intake.expected, items: await listUploads(database(), params.id), next: null };
    },
  }),
  call({
    method: "post",
    path: "/intakes/:id/complete",
    summary: "Say that everything was sent",
    status: 202,
    answer: z.object({ id: z.string(), state: z.enum(INTAKE_STATES) }),
    async handle({ params, person }) {
      const { id, state } = await completeIntake(params.id, person);
      return { id, state };
    },
  }),
  call({
    method: "get",
    path: "/intakes/:id",
    summary: "What came in and what it is",
    status: 200,
    answer: intakeShape,
    handle: ({ params }) => readIntake(params.id),
  }),
  call({
    method: "post",
    path: "/intakes/:id/accept",
    summary: "Take candidates into the library",
    status: 200,
    body: z.union([
      z.object({ all: z.literal(true), ...acceptOptions }).strict(),
      z
        .object({
          ...acceptOptions,
          candidates: z
            .array(
              z
                .object({
                  id: idSchema,
                  name: nameSchema.optional(),
                  roles: z.record(z.string(), roleInput).optional(),
                  normalDirection: z.enum(["+Y", "-Y"]).optional(),
                  onClash: z.enum(ON_CLASH).optional(),
                  licence: z.boolean().optional(),
                })
                .strict(),
            )
            .min(1),
        })
        .strict(),
    ]),
    answer: z.object({
      materials: z.array(z.object({ id: z.string(), name: z.string() })),
      skipped: z.array(z.object({ candidate: z.string(), reason: z.string() })),
    }),
    handle: ({ params, body, person }) =>
      acceptCandidates(params.id, "all" in body ? "all" : body.candidates, person, body),
  }),
  call({
    method: "post",
    path: "/intakes/:id/hold",
    summary: "Let a reading wait, go on, stop with what it has, or after a failure begin again",
    status: 200,
    body: z.object({ wish: z.enum(["pause", "go-on", "stop", "read-again"]) }).strict(),
    answer: intakeShape,
    async handle({ params, body: { wish } }) {
      if (wish === "read-again") await readAgain(params.id);
      else await holdIntake(params.id, wish);
      return readIntake(params.id);
    },
  }),
  call({
    method: "get",
    path: "/catalogue",
    summary: "What suppliers offer, as their service says",
    status: 200,
    answer: catalogueSchema,
    async handle() {
      const { catalogue, fault } = await readCatalogue();
      if (!catalogue) throw noCatalogue(fault);
      return catalogue;
    },
  }),
  call({
    method: "post",
    path: "/fetches",
    summary: "Fetch products of a supplier's line into an intake",
    status: 202,
    body: z.strictObject({ ...orderSchema.shape, ...intakeOptionsSchema.shape }),
    answer: z.object({ id: z.string(), state: z.enum(INTAKE_STATES) }),
    async handle({ body: { line, products, pixels, roles, type, ...options }, person, response }) {
      const { id, state } = await startFetch({ line, products, pixels, roles, type }, options, person);
      response.location(`/api/v1/intakes/${id}`);
      return { id, state };
    },
  }),
  call({
    method: "post",
    path: "/intakes/:id/fetch",
    summary: "Break a fetch off, or try a failed one again",
    status: 200,
    body: z.object({ wish: z.enum(["again", "stop"]) }).strict(),
    answer: intakeShape,
    async handle({ params, body, person }) {
      await changeFetch(params.id, body.wish, person);
      return readIntake(params.id);
    },
  }),
  {
    method: "get",
    path: "/intakes/:id/account",
    summary: "What became of each file, as comma-separated values",
    status: 200,
    gives: { "text/csv": { schema: { type: "string" } } },
    async raw({ params, response }) {
      const db = database();
      if (!(await findIntake(db, params.id))) throw notFound("intake");
      const lines = accountOf(await listCandidates(db, params.id), await listIgnored(db, params.id));
      response.type("text/csv").attachment("intake-account.csv").send(accountCsv(lines));
    },
  },
  call({
    method: "get",
    path: "/likenesses",
    summary: "Pairs of materials that show the same picture, the undecided first",
    status: 200,
    answer: z.object({ items: z.array(likenessShape), next: z.string().nullable() }),
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
  call({
    method: "get",
    path: "/materials",
    summary: "Search the library",
    status: 200,
    query: z.object({
      q: z.string().optional(),
      page: z.coerce.number().int().min(1).max(100_000).default(1),
      sizeState: z.enum(["known", "assumed", "unknown"]).optional(),
      collection: idSchema.optional(),
      project: idSchema.optional(),
    }),
    answer: z.object({ items: z.array(sampleShape), next: z.string().nullable(), total: z.number() }),
    async handle({ query }) {
      const { page, ...filter } = query;
      const { items, total } = await listSamples(database(), {
        ...filter,
        offset: (page - 1) * PAGE,
        limit: PAGE,
      });
      return { items: items.map(sampleAnswer), next: page * PAGE < total ? String(page + 1) : null, total };
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
      const material = await findMaterial(database(), params.id, query.revision);
      if (!material) throw notFound("material");
      return materialAnswer(material);
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
    answer: z.object({ items: z.array(flatteningShape), next: z.string().nullable() }),
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
    answer: z.object({ items: z.array(mendShape), next: z.string().nullable() }),
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
    }),
    async handle({ params }) {
      const material = await findMaterial(database(), params.id);
      if (!material) throw notFound("material");
      const found = await askForModules(material);
      if (found === undefined) return { state: "none" as const };
      if (found === null) return { state: "counting" as const };
      const { failed, lattice: _, ...counted } = found;
      return failed ? { state: "failed" as const } : { state: "counted" as const, ...counted };
    },
  }),
  call({
    method: "post",
    path: "/materials/:id/mends",
    summary: "Mend seams, or even out slow light and dark; the result is a new revision",
    status: 202,
    body: mendRecipeSchema,
    answer: mendShape,
    handle: async ({ params, body, person }) => mendAnswer(await startMend(params.id, body, person)),
  }),
  call({
    method: "get",
    path: "/profiles",
    summary: "What each renderer wants",
    status: 200,
    answer: z.object({ items: z.array(profileSchema), next: z.string().nullable() }),
    handle: async () => ({ items: await listProfiles(database()), next: null }),
  }),
  call({
    method: "get",
    path: "/collections",
    summary: "All collections",
    status: 200,
    answer: z.object({ items: z.array(collectionShape), next: z.string().nullable() }),
    handle: async () => ({ items: (await listCollections(database())).map(collectionAnswer), next: null }),
  }),
  call({
    method: "get",
    path: "/collections/:id",
    summary: "One collection",
    status: 200,
    answer: collectionShape,
    handle: ({ params }) => readCollection(params.id),
  }),
  call({
    method: "post",
    path: "/collections",
    summary: "Make a collection",
    status: 201,
    body: z.object({ name: nameSchema, parent: idSchema.nullish() }).strict(),
    answer: collectionShape,
    async handle({ body, person }) {
      return readCollection(
        await insertCollection(database(), {
          name: body.name,
          parent: body.parent ?? null,
          person: person.id,
        }),
      );
    },
  }),
  call({
    method: "put",
    path: "/collections/:id/materials",
    summary: "Add and remove materials",
    status: 200,
    body: changeBody,
    answer: collectionShape,
    async handle({ params, body }) {
      await readCollection(params.id);
      await inTransaction(async (db) => {
        await changeCollection(db, params.id, body);
        await announce(db, { topic: "library", id: params.id });
      });
      return readCollection(params.id);
    },
  }),
  call({
    method: "get",
    path: "/projects",
    summary: "All projects",
    status: 200,
    answer: z.object({ items: z.array(projectShape), next: z.string().nullable() }),
    handle: async () => ({ items: (await listProjects(database())).map(projectAnswer), next: null }),
  }),
  call({
    method: "get",
    path: "/projects/:id",
    summary: "One project with its materials and their revisions",
    status: 200,
    answer: projectShape,
    handle: ({ params }) => readProject(params.id),
  }),
  call({
    method: "put",
    path: "/projects/:id/camera",
    summary: "Say which camera a project's pictures are made with",
    status: 200,
    body: cameraSchema,
    answer: projectShape,
    async handle({ params, body }) {
      if (!(await setCamera(database(), params.id, body))) throw notFound("project");
      await announce(database(), { topic: "library", id: params.id });
      return readProject(params.id);
    },
  }),
  call({
    method: "post",
    path: "/intakes/:id/again",
    summary: "Hand the files that were set aside in again, with other limits",
    status: 202,
    body: intakeOptionsSchema.strict(),
    answer: z.object({ id: z.string(), state: z.enum(INTAKE_STATES) }),
    async handle({ params, body, person, response }) {
      const { id, state } = await tryAgain(params.id, body, person);
      response.location(`/api/v1/intakes/${id}`);
      return { id, state };
    },
  }),
  call({
    method: "post",
    path: "/projects",
    summary: "Make a project",
    status: 201,
    body: z.object({ name: nameSchema, number: z.coerce.string().trim().min(1).max(40).nullish() }).strict(),
    answer: projectShape,
    async handle({ body, person }) {
      return readProject(
        await insertProject(database(), { name: body.name, number: body.number ?? null, person: person.id }),
      );
    },
  }),
  ...(["collections", "materials"] as const).map((what) =>
    call({
      method: "put",
      path: `/projects/:id/${what}`,
      summary: `Give ${what} to a project, or take them from it`,
      status: 200,
      body: changeBody,
      answer: projectShape,
      async handle({ params, body }) {
        await readProject(params.id);
        await inTransaction(async (db) => {
          await changeProject(db, what, params.id, body);
          await announce(db, { topic: "library", id: params.id });
        });
        return readProject(params.id);
      },
    }),
  ),
  call({
    method: "get",
    path: "/destinations",
    summary: "Folders that deliveries can be written into",
    status: 200,
    answer: z.object({ items: z.array(destinationSchema), next: z.string().nullable() }),
    handle: async () => ({ items: await listDestinations(database()), next: null }),
  }),
  call({
    method: "post",
    path: "/destinations",
    summary: "Name a folder that deliveries can be written into",
    status: 201,
    body: z
      .object({
        name: nameSchema,
        folder: z
          .string()
          .regex(/^[A-Za-z0-9][A-Za-z0-9 _-]*$/, "A folder is one name of letters, digits, spaces, _ and -.")
          .max(100),
      })
      .strict(),
    answer: destinationSchema,
    handle: ({ body }) => insertDestination(database(), body),
  }),
  call({
    method: "post",
    path: "/deliveries/plan",
    summary: "What a delivery would make of what, without making it",
    status: 200,
    body: deliveryBody,
    answer: z.object({ materials: z.array(z.record(z.string(), z.unknown())) }),
    async handle({ body }) {
      const plans = await planDelivery(body);
      return {
        materials: plans.map(({ material, profile, files, steps, warnings, settings }) => ({
          id: material.id,
          name: material.name,
          revision: material.revision,
          profile,
          files: files.map(({ path, slot, role, operations, width, height, bitDepth, encoding }) => ({
            path,
            slot,
            role,
            operations,
            width,
            height,
            bitDepth,
            encoding,
          })),
          settings,
          steps,
          warnings,
        })),
      };
    },
  }),
  call({
    method: "get",
    path: "/deliveries",
    summary: "The newest deliveries",
    status: 200,
    answer: z.object({ items: z.array(deliveryShape), next: z.string().nullable() }),
    handle: async () => ({
      items: (await listDeliveries(database())).map((delivery) => deliveryAnswer(delivery, null)),
      next: null,
    }),
  }),
  call({
    method: "post",
    path: "/deliveries",
    summary: "Convert and deliver materials, a collection or a project",
    status: 202,
    body: deliveryBody,
    answer: z.object({ id: z.string(), state: z.string() }),
    async handle({ body, person, response }) {
      const { id, state } = await startDelivery(body, person);
      response.location(`/api/v1/deliveries/${id}`);
      return { id, state };
    },
  }),
  call({
    method: "get",
    path: "/deliveries/:id",
    summary: "How far a delivery is, and its account",
    status: 200,
    answer: deliveryShape,
    handle: ({ params }) => readDelivery(params.id),
  }),
  call({
    method: "post",
    path: "/deliveries/:id/cancel",
    summary: "Ask a delivery to stop",
    status: 200,
    answer: deliveryShape,
    async handle({ params }) {
      const delivery = await readDelivery(params.id);
      if (!(await askToCancel(database(), params.id)))
        throw conflict(`The delivery is ${delivery.state} already.`);
      await announce(database(), { topic: "delivery", id: params.id });
      return readDelivery(params.id);
    },
  }),
  {
    method: "get",
    path: "/deliveries/:id/archive",
    summary: "The delivery as a zip",
    status: 200,
    gives: { "application/zip": {} },
    async raw({ params, response }) {
      const { state, account } = await readDelivery(params.id);
      if (!account) throw conflict(`The delivery is ${state}; there is an archive once it is done.`);
      response
        .attachment(`delivery-${account.made.slice(0, 10)}-${params.id.slice(0, 8)}.zip`)
        .type("application/zip");
      const archive = archiveOf(account as Parameters<typeof archiveOf>[0]);
      archive.on("error", (error) => response.destroy(error));
      archive.pipe(response);
    },
  },
  ...PEOPLE_CALLS,
  ...UPKEEP_CALLS,
  {
    method: "get",
    path: "/events",
    summary: "Progress of intakes and deliveries and changes of the library, as server-sent events",
    status: 200,
    gives: { "text/event-stream": {} },
    async raw({ request, response }) {
      // Listening comes first: whoever has the answer's head misses nothing that happens from then on.
      const early: string[] = [];
      let write = (line: string): unknown => early.push(line);
      const off = await listen((event) => write(`data: ${JSON.stringify(event)}\n\n`));
      response.writeHead(200, {
        "Content-Type": "text/event-stream",
        "Cache-Control": "no-store",
        "X-Accel-Buffering": "no",
      });
      write = (line) => response.write(line);
      ["retry: 2000\n\n", ...early].forEach(write);
      const beat = setInterval(() => response.write(": still here\n\n"), 20_000);
      request.on("close", () => {
        clearInterval(beat);
        off();
      });
    },
  },
];

/** Ids in paths are checked here, so that a wrong one is “not found” and no error of the database. */
export function checkIds(params: Record<string, string>, path: string): void {
  const what = path.split("/")[1].replace(/ies$/, "y").replace(/s$/, "");
  for (const value of Object.values(params)) if (!idSchema.safeParse(value).success) throw notFound(what);
}
