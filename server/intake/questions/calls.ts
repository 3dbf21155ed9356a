import { z } from "zod";
import { ANSWERS, ASKS } from "#core/candidates/questions";
import { MAP_CHANNELS } from "#core/roles/channel";
import { ROLES } from "#core/roles/roles";
import { database } from "#server/db/database";
import { readPage } from "#server/db/page";
import { type Call, call } from "#server/http/api/call";
import { listOf, pageAnswer, pageQuery } from "#server/http/api/shapes";
import { answerQuestion, questionsAbout, takeAnswerBack } from "#server/intake/questions/commands";
import { givenAnswerSchema, listKeptAnswers } from "#server/intake/questions/sql";

const questionShape = z.object({
  key: z.string(),
  asks: z.enum(ASKS),
  channel: z.enum(MAP_CHANNELS),
  mark: z.string(),
  companions: z.array(z.string()),
  likely: z.array(z.enum(ROLES)),
  apart: z
    .enum(["likely", "possible", "no"])
    .describe("whether “apart” may be answered: each channel is a map of its own, and is asked about"),
  files: z.array(z.object({ candidate: z.string(), name: z.string(), file: z.string(), sha256: z.string() })),
});

const keptShape = givenAnswerSchema.extend({ at: z.iso.datetime() });

/** What is asked about the files of an intake, once for all that share it. */
export const QUESTION_CALLS: Call[] = [
  call({
    method: "get",
    path: "/intakes/:id/questions",
    summary: "What is asked about the files of an intake: each question once, with all files that share it",
    status: 200,
    answer: z.object({ items: z.array(questionShape), next: z.string().nullable() }),
    handle: async ({ params }) => ({ items: await questionsAbout(params.id), next: null }),
  }),
  call({
    method: "post",
    path: "/intakes/:id/answers",
    summary:
      "Answer a question, by its key, for all files that share it; kept for later files of their source if wished",
    status: 201,
    body: z
      .object({ question: z.string().max(20_000), answer: z.enum(ANSWERS), keep: z.boolean().default(false) })
      .strict(),
    answer: z.object({
      id: z.string(),
      files: z.number().describe("for how many files it was taken"),
      left: z.number().describe("how many stay open, since their sets have a map of that role"),
    }),
    handle: ({ params, body, person }) => answerQuestion(params.id, body, person),
  }),
  call({
    method: "get",
    path: "/answers",
    summary: "The answers that are kept for later files, with what each did, the newest first",
    status: 200,
    query: pageQuery,
    answer: listOf(keptShape),
    handle: async ({ query: { page } }) =>
      pageAnswer(
        await readPage(page, (slice) => listKeptAnswers(database(), slice)),
        (one): z.input<typeof keptShape> => ({ ...one, at: one.at.toISOString() }),
      ),
  }),
  call({
    method: "delete",
    path: "/answers/:id",
    summary: "Take an answer back: what waits is asked again, what is in the library stays",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await takeAnswerBack(params.id);
      return { id: params.id };
    },
  }),
];
