import { z } from "zod";
import { database } from "#server/db/database";
import { type Call, call } from "#server/http/api/call";
import { listOf } from "#server/http/api/shapes";
import { merge, mergeInput, planMerge, undoMerge } from "#server/merge/commands";
import { listMerges, mergeRowSchema } from "#server/merge/sql";

/** Most merges that are listed. */
const MOST = 200;

const mergeShape = mergeRowSchema.extend({ at: z.iso.datetime() });

/** Two materials that are one. */
export const MERGE_CALLS: Call[] = [
  call({
    method: "get",
    path: "/merges",
    summary: "What was merged, the newest first",
    status: 200,
    answer: listOf(mergeShape),
    handle: async () => ({
      items: (await listMerges(database(), { limit: MOST })).map((one): z.input<typeof mergeShape> => ({
        ...one,
        at: one.at.toISOString(),
      })),
      next: null,
    }),
  }),
  call({
    method: "post",
    path: "/merges/plan",
    summary: "What is proposed to be taken of each of two materials; nothing is changed",
    status: 200,
    body: z.object({ first: z.uuid(), second: z.uuid() }).strict(),
    answer: mergeInput,
    async handle({ body: { first, second } }) {
      const { sides, choice } = await planMerge(first, second);
      const seen: [number, number] = [sides[0].material.revision, sides[1].material.revision];
      return { first, second, seen, choice };
    },
  }),
  call({
    method: "post",
    path: "/merges",
    summary:
      "Make one material of two: collections have the one that stays, projects keep what they took until they move on",
    status: 201,
    body: mergeInput,
    answer: z.object({ id: z.string(), kept: z.string(), lost: z.string() }),
    handle: ({ body, person }) => merge(body, person),
  }),
  call({
    method: "post",
    path: "/merges/:id/undo",
    summary: "Make two of what was merged, as they were, unless the one that stayed was saved since",
    status: 200,
    answer: z.object({ kept: z.string(), lost: z.string() }),
    handle: ({ params, person }) => undoMerge(params.id, person),
  }),
];
