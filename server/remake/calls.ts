import { z } from "zod";
import { say } from "#core/findings/say";
import { database } from "#server/db/database";
import { call, type Call } from "#server/http/api/call";
import { findingShape, idSchema } from "#server/http/api/shapes";
import { notFound } from "#server/problem";
import { startRemake, stopRemake, undoRemake } from "#server/remake/remake";
import { findRemake, remakeSchema, type Remake } from "#server/remake/sql";

const remakeShape = remakeSchema.extend({
  madeAt: z.iso.datetime(),
  doneAt: z.iso.datetime().nullable(),
  undoneAt: z.iso.datetime().nullable(),
  otherwise: z.array(
    z.object({
      material: z.object({ id: z.string(), name: z.string() }),
      came: z.array(findingShape),
      went: z.array(findingShape),
    }),
  ),
});
const answerOf = ({
  madeAt,
  doneAt,
  undoneAt,
  otherwise,
  ...remake
}: Remake): z.input<typeof remakeShape> => ({
  ...remake,
  otherwise: otherwise.map(({ material, came, went }) => ({ material, came: say(came), went: say(went) })),
  ...{ madeAt: madeAt.toISOString(), doneAt: doneAt?.toISOString() ?? null },
  undoneAt: undoneAt?.toISOString() ?? null,
});

/** Pictures of maps that are made again. */
export const REMAKE_CALLS: Call[] = [
  call({
    method: "post",
    path: "/remakes",
    summary:
      "Make the small pictures of some materials again, or of all, as a job; and read their files and judge them again, if wished",
    status: 202,
    body: z
      .object({ materials: z.array(idSchema).min(1).max(5000).optional(), judge: z.boolean().default(false) })
      .strict(),
    answer: remakeShape,
    async handle({ body, person, response }) {
      const remake = await startRemake(body.materials, person, body.judge);
      response.location(`/api/v1/remakes/${remake.id}`);
      return answerOf(remake);
    },
  }),
  call({
    method: "get",
    path: "/remakes/:id",
    summary: "How far it is, and which pictures could not be made",
    status: 200,
    answer: remakeShape,
    async handle({ params }) {
      const remake = await findRemake(database(), params.id);
      if (!remake) throw notFound("run");
      return answerOf(remake);
    },
  }),
  call({
    method: "post",
    path: "/remakes/:id/stop",
    summary: "End it where it is",
    status: 200,
    answer: remakeShape,
    handle: async ({ params, person }) => answerOf(await stopRemake(params.id, person)),
  }),
  call({
    method: "post",
    path: "/remakes/:id/undo",
    summary: "Say of its materials again what was said before it judged them, within 30 days",
    status: 200,
    answer: remakeShape,
    handle: async ({ params }) => answerOf(await undoRemake(params.id)),
  }),
];
