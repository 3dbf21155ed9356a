import { z } from "zod";
import { CONDITIONS, conditionSchema, lightSchema } from "#core/picture/condition";
import { changeCondition, createCondition, removeCondition } from "#server/condition/commands";
import {
  conditionRowSchema,
  environmentSchema,
  listConditions,
  listEnvironments,
} from "#server/condition/sql";
import { database } from "#server/db/database";
import { call, type Call } from "#server/http/api/call";
import { listOf } from "#server/http/api/shapes";

const answerSchema = conditionRowSchema.extend({
  /** Whether it is the studio's, and may be changed. */
  own: z.boolean(),
});

const draftSchema = z.object({ name: conditionSchema.shape.name, light: lightSchema }).strict();

/** What finishes are judged under. */
export const CONDITION_CALLS: Call[] = [
  call({
    method: "get",
    path: "/conditions",
    summary: "The conditions that finishes are judged under: those that everybody has, then the studio's own",
    status: 200,
    answer: listOf(answerSchema),
    async handle() {
      const shipped = Object.entries(CONDITIONS).map(([id, { name, ...light }]) => ({
        id,
        name,
        light,
        own: false,
      }));
      const own = (await listConditions(database())).map((one) => ({ ...one, own: true }));
      return { items: [...shipped, ...own], next: null };
    },
  }),
  call({
    method: "post",
    path: "/conditions",
    summary:
      "Keep a condition; its environment is overcast, low-sun, or the hash of a panorama of the library",
    status: 201,
    body: draftSchema,
    answer: conditionRowSchema,
    handle: ({ body, person }) => createCondition(body, person),
  }),
  call({
    method: "patch",
    path: "/conditions/:id",
    summary: "Change or rename a condition of the studio's own",
    status: 200,
    body: draftSchema.partial(),
    answer: conditionRowSchema,
    handle: ({ params, body }) => changeCondition(params.id, body),
  }),
  call({
    method: "delete",
    path: "/conditions/:id",
    summary: "Delete a condition of the studio's own",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await removeCondition(params.id);
      return { id: params.id };
    },
  }),
  call({
    method: "get",
    path: "/environments",
    summary: "The panoramas of the library that can light a condition",
    status: 200,
    answer: listOf(environmentSchema),
    handle: async () => ({ items: await listEnvironments(database()), next: null }),
  }),
];
