import { z } from "zod";
import { type Call, call } from "#server/http/api/call";
import { moveFiles, moveInput, undoMove } from "#server/intake/arrange/commands";

/** Which files of an intake belong together, where its reading did not see it. */
export const MOVE_CALLS: Call[] = [
  call({
    method: "post",
    path: "/intakes/:id/moves",
    summary:
      "Put files of candidates into another candidate, into one of their own, or into a material of the library as its newest revision",
    status: 201,
    body: moveInput,
    answer: z.object({
      id: z.string(),
      said: z.string(),
      candidate: z.string().nullable().describe("the candidate that they are in now"),
      material: z.string().nullable().describe("the material that they were given to"),
    }),
    handle: ({ params, body, person }) => moveFiles(params.id, body, person),
  }),
  call({
    method: "post",
    path: "/moves/:id/undo",
    summary: "Put everything back as it was before a move, unless any of it was changed since",
    status: 200,
    answer: z.object({ intake: z.string() }),
    handle: ({ params, person }) => undoMove(params.id, person),
  }),
];
