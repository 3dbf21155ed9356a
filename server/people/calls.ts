import { z } from "zod";
import { call, type Call } from "#server/http/api/call";
import { listOf } from "#server/http/api/shapes";
import { database } from "#server/db/database";
import { LEVELS, type Person } from "#server/auth/person";
import { listTokens, listSessions } from "#server/auth/queries";
import { listPeople } from "#server/people/queries";
import {
  addPerson,
  changeLevel,
  giveNewPassword,
  makeToken,
  newPersonSchema,
  retire,
  changePassword,
  endOwnSessions,
  revokeOwnToken,
} from "#server/people/commands";
import { notFound } from "#server/problem";

const personShape = z.object({ id: z.string(), name: z.string(), email: z.string(), level: z.enum(LEVELS) });
const personAnswer = ({ id, name, email, level }: Person) => ({ id, name, email, level });

const tokenShape = z.object({
  id: z.string(),
  name: z.string(),
  madeAt: z.iso.datetime(),
  usedAt: z.iso.datetime().nullable(),
});
const tokenAnswer = ({ id, name, created_at, used_at }: Awaited<ReturnType<typeof listTokens>>[number]) => ({
  id,
  name,
  madeAt: created_at.toISOString(),
  usedAt: used_at?.toISOString() ?? null,
});

const nothing = z.object({}).strict();

/** People, and the tokens of whoever asks. */
export const PEOPLE_CALLS: Call[] = [
  call({
    method: "get",
    path: "/people",
    summary: "Everybody who may sign in",
    status: 200,
    answer: listOf(personShape),
    handle: async () => ({ items: (await listPeople(database())).map(personAnswer), next: null }),
  }),
  call({
    method: "post",
    path: "/people",
    summary: "Add a person",
    status: 201,
    body: newPersonSchema,
    answer: personShape,
    handle: async ({ body }) => personAnswer(await addPerson(body)),
  }),
  call({
    method: "patch",
    path: "/people/:id",
    summary:
      "Change what somebody may do, or give them a new password, which ends their sessions and revokes their tokens",
    status: 200,
    body: z.object({ level: z.enum(LEVELS).optional(), password: z.string().optional() }).strict(),
    answer: personShape,
    async handle({ params, body: { level, password }, person }) {
      if (password !== undefined) await giveNewPassword(params.id, password);
      if (level !== undefined) await changeLevel(params.id, level, person);
      const changed = (await listPeople(database())).find(({ id }) => id === params.id);
      if (!changed) throw notFound("person");
      return personAnswer(changed);
    },
  }),
  call({
    method: "delete",
    path: "/people/:id",
    summary: "Retire somebody: their sessions and tokens end, what they made stays",
    status: 200,
    answer: nothing,
    async handle({ params, person }) {
      await retire(params.id, person);
      return {};
    },
  }),
  call({
    method: "get",
    path: "/me",
    summary: "Whose token this is, and what they may do",
    status: 200,
    answer: personShape,
    handle: async ({ person }) => personAnswer(person),
  }),
  call({
    method: "put",
    path: "/password",
    summary: "Change your password, which ends your sessions and revokes your tokens, unless they are kept",
    status: 200,
    body: z.object({ now: z.string(), next: z.string(), keepTokens: z.boolean().default(false) }).strict(),
    answer: nothing,
    async handle({ body, person }) {
      await changePassword(person, body, undefined);
      return {};
    },
  }),
  call({
    method: "get",
    path: "/sessions",
    summary: "Where you are signed in, the newest first",
    status: 200,
    answer: listOf(z.object({ id: z.string(), agent: z.string(), begunAt: z.iso.datetime() })),
    async handle({ person }) {
      const sessions = await listSessions(database(), person.id, undefined);
      return {
        items: sessions.map(({ id, agent, created_at }) => ({
          id,
          agent,
          begunAt: created_at.toISOString(),
        })),
        next: null,
      };
    },
  }),
  call({
    method: "delete",
    path: "/sessions/:id",
    summary: "Sign out one of your sessions",
    status: 200,
    answer: nothing,
    async handle({ params, person }) {
      await endOwnSessions(person, { id: params.id });
      return {};
    },
  }),
  call({
    method: "get",
    path: "/tokens",
    summary: "Your tokens, without their secrets",
    status: 200,
    answer: listOf(tokenShape),
    handle: async ({ person }) => ({
      items: (await listTokens(database(), person.id)).map(tokenAnswer),
      next: null,
    }),
  }),
  call({
    method: "post",
    path: "/tokens",
    summary: "Make a token; its secret is in this answer alone",
    status: 201,
    body: z.object({ name: z.string() }).strict(),
    answer: tokenShape.extend({ secret: z.string() }),
    async handle({ body, person }) {
      const { secret, ...token } = await makeToken(person, body.name);
      return { ...tokenAnswer(token), secret };
    },
  }),
  call({
    method: "delete",
    path: "/tokens/:id",
    summary: "Revoke one of your tokens",
    status: 200,
    answer: nothing,
    async handle({ params, person }) {
      await revokeOwnToken(person, params.id);
      return {};
    },
  }),
];
