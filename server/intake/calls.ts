import { z } from "zod";
import { catalogueSchema, orderSchema } from "#core/supply/catalogue";
import { type Call, call } from "#server/http/api/call";
import {
  intakeAnswer,
  intakeShape,
  roleInput,
  intakeSummary,
  intakeSummaryShape,
} from "#server/intake/shapes";
import { idSchema, nameSchema, listOf, pageAnswer, pageQuery } from "#server/http/api/shapes";
import { database } from "#server/db/database";
import {
  INTAKE_STATES,
  ON_CLASH,
  findIntake,
  listCandidates,
  listIgnored,
  listIntakes,
} from "#server/intake/queries";
import { listUploads, uploadNames } from "#server/intake/receiving/sql";
import { readPage } from "#server/db/page";
import { accept } from "#server/intake/acceptance";
import { accountCsv, accountOf } from "#server/intake/account";
import { beginIntake, completeIntake } from "#server/intake/commands";
import { holdIntake, readAgain } from "#server/intake/commands";
import { intakeOptionsSchema } from "#server/intake/intakeOptions";
import { receiveIntake } from "#server/intake/receiving/receive";
import { tryAgain } from "#server/intake/commands";
import { notFound } from "#server/problem";
import { readCatalogue } from "#server/supplier/catalogue";
import { changeFetch, noCatalogue, startFetch } from "#server/intake/fetching";

const acceptOptions = {
  collections: z
    .object({ level: z.number().int().min(1).max(8), thin: z.number().int().min(1).max(1000) })
    .strict()
    .optional(),
  /** The name of a collection for all of it, found or made. */
  into: nameSchema.optional(),
  onClash: z
    .enum(ON_CLASH)
    .optional()
    .describe("what the library has whole is passed over unless this, or a choice, says otherwise"),
  nameRule: z.string().optional(),
  keepRule: z.boolean().optional(),
};

async function readIntake(id: string) {
  const db = database();
  const intake = await findIntake(db, id);
  if (!intake) throw notFound("intake");
  return intakeAnswer(intake, await listCandidates(db, id), await listIgnored(db, id));
}

/** From what is handed in to what is accepted. */
export const INTAKE_CALLS: Call[] = [
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
    path: "/intakes",
    summary: "All intakes, the newest first",
    status: 200,
    query: pageQuery,
    answer: listOf(intakeSummaryShape),
    async handle({ query: { page } }) {
      const found = await readPage(page, (slice) => listIntakes(database(), slice));
      const names = await uploadNames(
        database(),
        found.items.map(({ id }) => id),
      );
      return pageAnswer(found, (intake) => intakeSummary(intake, names.get(intake.id) ?? []));
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
      accept(params.id, "all" in body ? "all" : body.candidates, person, body),
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
];
