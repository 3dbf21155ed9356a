import { z } from "zod";
import { type Call, call } from "#server/http/api/call";
import { likenessShape } from "#server/likeness/shapes";
import { listOf } from "#server/http/api/shapes";
import { database } from "#server/db/database";
import { DECISIONS, listLikePairs } from "#server/likeness/queries";
import { decideLikeness } from "#server/likeness/commands";
/** Pictures that are alike. */
export const LIKENESS_CALLS: Call[] = [
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
      await decideLikeness(body, body.decision, person);
      return body;
    },
  }),
];
