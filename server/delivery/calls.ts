import { pipeline } from "node:stream/promises";
import { z } from "zod";
import { expectedBytes } from "#core/convert/planSummary";
import { isPortableName } from "#core/library/portableName";
import { type Call, call } from "#server/http/api/call";
import { deliveryAnswer, deliveryBody, deliveryShape } from "#server/delivery/shapes";
import { nameSchema, listOf, pageQuery, pageAnswer, idSchema } from "#server/http/api/shapes";
import { database } from "#server/db/database";
import { findDelivery, listDeliveries, readAccount } from "#server/delivery/queries";
import { readPage } from "#server/db/page";
import { listProofs, proofRowSchema } from "#server/delivery/proof/sql";
import { destinationSchema, listDestinations } from "#server/destination/queries";
import { createDestination, setDestinationPaths } from "#server/destination/commands";
import { startCheck } from "#server/destination/check";
import {
  checkSchema,
  FINDING_STATES,
  findingSchema,
  lastCheck,
  listFindings,
  type CheckRow,
} from "#server/destination/checkSql";
import { keptSchema, listKept, setKept } from "#server/delivery/kept";
import { seenPathSchema } from "#core/library/seenPath";
import { archiveOf } from "#server/delivery/archive";
import { cancelDelivery, startDelivery, deliverAgain } from "#server/delivery/commands";
import { bringUpToDate, broughtUpSchema, listOutOfDate } from "#server/delivery/outOfDate";
import { secondsExpected } from "#server/delivery/timeExpected";
import { planDelivery } from "#server/delivery/plan";
import { log } from "#server/log";
import { conflict, notFound } from "#server/problem";

async function readDelivery(id: string) {
  const delivery = await findDelivery(database(), id);
  if (!delivery) throw notFound("delivery");
  return deliveryAnswer(delivery, await readAccount(database(), id));
}

/** Of one project, destination or profile; of all where nothing is said. */
const outOfDateOf = z.object({
  project: idSchema.optional(),
  destination: idSchema.optional(),
  profile: z.string().max(80).optional(),
});

const checkShape = checkSchema.omit({ askedBy: true, askedAt: true, endedAt: true }).extend({
  /** The first of each state. */
  findings: z.array(findingSchema),
});
const MOST_FINDINGS = 1000;
async function checkAnswer({ askedBy: _by, askedAt: _at, endedAt: _end, ...check }: CheckRow) {
  const findings = FINDING_STATES.map((state) => listFindings(database(), check.id, state, MOST_FINDINGS));
  return { ...check, findings: (await Promise.all(findings)).flat() };
}

/** What was made for renderers. */
export const DELIVERY_CALLS: Call[] = [
  call({
    method: "get",
    path: "/destinations",
    summary: "Folders that deliveries can be written into",
    status: 200,
    answer: listOf(destinationSchema),
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
          .max(100)
          .refine(
            isPortableName,
            "A folder is one name of letters, digits, spaces, _ and -, does not end in a space, and is none that a system keeps for itself (con, nul)",
          ),
      })
      .strict(),
    answer: destinationSchema,
    handle: ({ body }) => createDestination(body),
  }),
  call({
    method: "patch",
    path: "/destinations/:id",
    summary: "Say where a destination lies as people's machines see it: a drive, a share, a mount",
    status: 200,
    body: z.object({ paths: z.array(seenPathSchema).max(10) }).strict(),
    answer: destinationSchema,
    handle: ({ params, body }) => setDestinationPaths(params.id, body.paths),
  }),
  call({
    method: "post",
    path: "/destinations/:id/check",
    summary:
      "Look whether all that was delivered there lies there as it was delivered, and write it again where that is wanted",
    status: 202,
    body: z.object({ mends: z.boolean().default(false) }).strict(),
    answer: checkShape,
    handle: async ({ params, body, person }) => checkAnswer(await startCheck(params.id, body.mends, person)),
  }),
  call({
    method: "get",
    path: "/destinations/:id/check",
    summary:
      "What the last look through a destination found: files that are missing, changed, or somebody else's",
    status: 200,
    answer: checkShape,
    async handle({ params }) {
      const check = await lastCheck(database(), params.id);
      if (!check) throw notFound("check");
      return checkAnswer(check);
    },
  }),
  call({
    method: "get",
    path: "/projects/:id/destinations",
    summary: "Where a project was delivered to, and which of these it keeps up to date by itself",
    status: 200,
    answer: listOf(keptSchema),
    handle: async ({ params }) => ({ items: await listKept(database(), params.id), next: null }),
  }),
  call({
    method: "put",
    path: "/projects/:id/destinations",
    summary: "Say which destinations a project keeps up to date by itself when it, or a profile, goes on",
    status: 200,
    body: z.object({ destinations: z.array(idSchema).max(100) }).strict(),
    answer: listOf(keptSchema),
    async handle({ params, body, person }) {
      await setKept(params.id, body.destinations, person);
      return { items: await listKept(database(), params.id), next: null };
    },
  }),
  call({
    method: "post",
    path: "/deliveries/plan",
    summary: "What a delivery would make of what, without making it",
    status: 200,
    body: deliveryBody,
    answer: z.object({
      /** About so many bytes of all files, and seconds to make those that were not made before. */
      expected: z.object({ bytes: z.number(), seconds: z.number() }),
      materials: z.array(z.record(z.string(), z.unknown())),
    }),
    async handle({ body }) {
      const plan = await planDelivery(body);
      const seconds = await secondsExpected(database(), plan.materials);
      return {
        expected: { bytes: expectedBytes(plan.materials), seconds: Math.ceil(seconds) },
        materials: plan.materials.map(
          ({ material, profile, files, steps, warnings, notCarried, correction, settings }) => ({
            id: material.id,
            name: material.name,
            revision: material.revision,
            profile,
            files: files.map(
              ({ path, slot, role, operations, width, height, bitDepth, quality, encoding, tag }) => ({
                path,
                slot,
                role,
                operations,
                width,
                height,
                bitDepth,
                ...(quality !== undefined && { quality }),
                encoding,
                tag,
              }),
            ),
            settings,
            steps,
            warnings,
            notCarried,
            correction,
          }),
        ),
      };
    },
  }),
  call({
    method: "get",
    path: "/deliveries",
    summary: "All deliveries, the newest first",
    status: 200,
    answer: listOf(deliveryShape),
    query: pageQuery.extend({ project: idSchema.optional() }),
    handle: async ({ query: { page, project } }) =>
      pageAnswer(await readPage(page, (slice) => listDeliveries(database(), slice, project)), (delivery) =>
        deliveryAnswer(delivery, null),
      ),
  }),
  call({
    method: "get",
    path: "/deliveries/out-of-date",
    summary:
      "What lies at destinations and has been overtaken, by its materials, its project or its profiles",
    status: 200,
    answer: listOf(deliveryShape),
    query: outOfDateOf,
    handle: async ({ query }) => ({
      items: (await listOutOfDate(database(), query)).map((delivery) => deliveryAnswer(delivery, null)),
      next: null,
    }),
  }),
  call({
    method: "post",
    path: "/deliveries/bring-up-to-date",
    summary:
      "Deliver all that is out of date again, to where it lies; what did not change is left alone there",
    status: 202,
    answer: z.object({ items: z.array(broughtUpSchema) }),
    query: outOfDateOf,
    handle: async ({ person, query }) => ({ items: await bringUpToDate(person, query) }),
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
    method: "get",
    path: "/deliveries/:id/proofs",
    summary:
      "What pictures made from the delivered files say, under every light; the sheet is a PNG below /files with a row for each",
    status: 200,
    answer: listOf(proofRowSchema),
    async handle({ params }) {
      await readDelivery(params.id);
      return { items: await listProofs(database(), params.id), next: null };
    },
  }),
  call({
    method: "post",
    path: "/deliveries/:id/cancel",
    summary: "Ask a delivery to stop",
    status: 200,
    answer: deliveryShape,
    async handle({ params }) {
      await cancelDelivery(params.id);
      return readDelivery(params.id);
    },
  }),
  call({
    method: "post",
    path: "/deliveries/:id/again",
    summary: "Deliver the same to the same once more, with what has changed since",
    status: 202,
    answer: z.object({ id: z.string(), state: z.string() }),
    async handle({ params, person, response }) {
      const { id, state } = await deliverAgain(params.id, person);
      response.location(`/api/v1/deliveries/${id}`);
      return { id, state };
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
      await pipeline(archive, response).catch((error: Error) => {
        // Whoever fetched it has left, or a file is missing: half a zip must not look whole.
        log.warn({ err: error, delivery: params.id }, "an archive broke off");
        response.destroy();
      });
    },
  },
];
