import { z } from "zod";
import { askedSchema } from "#server/change/asked";
import { planChange, startChange, undoChange } from "#server/change/commands";
import { saidSchema } from "#server/change/kinds";
import {
  bulkChangeSchema,
  changedItemSchema,
  findBulkChange,
  listBulkChanges,
  listChangedItems,
  type BulkChange,
} from "#server/change/queries";
import { database } from "#server/db/database";
import { readPage } from "#server/db/page";
import { type Call, call } from "#server/http/api/call";
import { listOf, pageAnswer, pageQuery } from "#server/http/api/shapes";
import { notFound } from "#server/problem";

const changeShape = bulkChangeSchema.extend({
  madeAt: z.iso.datetime(),
  undoneAt: z.iso.datetime().nullable(),
});

const answerOf = (change: BulkChange): z.input<typeof changeShape> => ({
  ...change,
  madeAt: change.madeAt.toISOString(),
  undoneAt: change.undoneAt?.toISOString() ?? null,
});

/** Acts on many materials at once. */
export const CHANGE_CALLS: Call[] = [
  call({
    method: "get",
    path: "/changes",
    summary: "What was done to many materials at once, the newest first",
    status: 200,
    query: pageQuery,
    answer: listOf(changeShape),
    handle: async ({ query: { page } }) =>
      pageAnswer(await readPage(page, (slice) => listBulkChanges(database(), slice)), answerOf),
  }),
  call({
    method: "post",
    path: "/changes/plan",
    summary:
      "What a change of many materials would do: to the first of them in words, and which projects hold any of them, or would; nothing is changed",
    status: 200,
    body: askedSchema,
    answer: z.object({
      total: z.number(),
      items: z.array(
        z.object({
          material: z.string(),
          name: z.string(),
          said: z.array(saidSchema),
          reason: z.string().nullable(),
        }),
      ),
      projects: z.array(z.object({ id: z.string(), name: z.string(), materials: z.number() })),
    }),
    handle: ({ body, person }) => planChange(body, person),
  }),
  call({
    method: "post",
    path: "/changes",
    summary:
      "Change many materials at once, as a job: their sizes, facts or names, or take them out of the library",
    status: 202,
    body: askedSchema,
    answer: changeShape,
    async handle({ body, person, response }) {
      const id = await startChange(body, person);
      response.location(`/api/v1/changes/${id}`);
      return answerOf((await findBulkChange(database(), id))!);
    },
  }),
  call({
    method: "get",
    path: "/changes/:id",
    summary: "What became of it: of each material, those first that could not be changed",
    status: 200,
    query: pageQuery,
    answer: changeShape.extend({ items: z.array(changedItemSchema), next: z.string().nullable() }),
    async handle({ params, query: { page } }) {
      const change = await findBulkChange(database(), params.id);
      if (!change) throw notFound("change");
      const items = await readPage(page, (slice) => listChangedItems(database(), params.id, slice));
      return { ...answerOf(change), ...pageAnswer(items, (item) => item) };
    },
  }),
  call({
    method: "post",
    path: "/changes/:id/undo",
    summary: "Take it back, within 30 days, as far as nobody has changed its materials since",
    status: 202,
    answer: changeShape,
    handle: async ({ params, person }) => answerOf(await undoChange(params.id, person)),
  }),
];
