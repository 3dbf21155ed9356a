import { pipeline } from "node:stream/promises";
import { z } from "zod";
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
import { seenPathSchema } from "#core/library/seenPath";
import { archiveOf } from "#server/delivery/archive";
import { cancelDelivery, startDelivery, deliverAgain } from "#server/delivery/commands";
import { bringUpToDate, broughtUpSchema, listOutOfDate } from "#server/delivery/outOfDate";
import { planDelivery } from "#server/delivery/plan";
import { log } from "#server/log";
import { conflict, notFound } from "#server/problem";

async function readDelivery(id: string) {
  const delivery = await findDelivery(database(), id);
  if (!delivery) throw notFound("delivery");
  return deliveryAnswer(delivery, await readAccount(database(), id));
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
    path: "/deliveries/plan",
    summary: "What a delivery would make of what, without making it",
    status: 200,
    body: deliveryBody,
    answer: z.object({ materials: z.array(z.record(z.string(), z.unknown())) }),
    async handle({ body }) {
      const plan = await planDelivery(body);
      return {
        materials: plan.materials.map(
          ({ material, profile, files, steps, warnings, notCarried, correction, settings }) => ({
            id: material.id,
            name: material.name,
            revision: material.revision,
            profile,
            files: files.map(({ path, slot, role, operations, width, height, bitDepth, encoding, tag }) => ({
              path,
              slot,
              role,
              operations,
              width,
              height,
              bitDepth,
              encoding,
              tag,
            })),
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
    handle: async () => ({
      items: (await listOutOfDate(database())).map((delivery) => deliveryAnswer(delivery, null)),
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
    handle: async ({ person }) => ({ items: await bringUpToDate(person) }),
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
