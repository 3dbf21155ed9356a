import { z } from "zod";
import { mendRecipeSchema } from "#core/mend/recipe";
import { type Call, call } from "#server/http/api/call";
import { mendAnswer, mendShape } from "#server/mending/shapes";
import { listOpenMends, MOST_MENDS, openMendShape, startMends, manyRecipe } from "#server/mending/many";
import { idSchema, listOf } from "#server/http/api/shapes";
import { database } from "#server/db/database";
import { listMends } from "#server/mending/queries";
import { dropMend, keepMend, startMend } from "#server/mending/commands";

/** Maps that are mended or made. */
export const MENDING_CALLS: Call[] = [
  call({
    method: "get",
    path: "/mends",
    summary:
      "Mends that run, or wait to be kept by a change of kind mend, or failed within a day; the newest first",
    status: 200,
    answer: listOf(openMendShape),
    handle: async () => ({ items: await listOpenMends(database()), next: null }),
  }),
  call({
    method: "post",
    path: "/mends",
    summary: "Mend the seams of many materials, or even out slow light and dark; each waits to be looked at",
    status: 202,
    body: z
      .object({ materials: z.array(idSchema).min(1).max(MOST_MENDS), kind: z.enum(["seams", "even-out"]) })
      .strict(),
    answer: z.object({
      started: z.number(),
      fine: z.number(),
      refused: z.array(z.object({ id: z.string(), name: z.string(), reason: z.string() })),
    }),
    handle: ({ body, person }) => startMends(body.materials, manyRecipe(body.kind), person),
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
];
