import { z } from "zod";
import { profileSchema } from "#core/convert/profile";
import { database } from "#server/db/database";
import { call, type Call } from "#server/http/api/call";
import { listOf } from "#server/http/api/shapes";
import { notFound } from "#server/problem";
import {
  arrangeProfiles,
  changeProfile,
  copyProfile,
  createProfile,
  readProfile,
  retireProfile,
} from "#server/profile/commands";
import { findProfile, listProfileRows, type ProfileRow } from "#server/profile/sql";

const answerSchema = z.intersection(
  profileSchema,
  z.object({ revision: z.number(), shipped: z.boolean(), retired: z.boolean() }),
);

const answerOf = ({ profile, ...row }: ProfileRow) => ({ ...profile, ...row });

/** What renderers want. */
export const PROFILE_CALLS: Call[] = [
  call({
    method: "get",
    path: "/profiles",
    summary: "What each renderer wants, in the order in which profiles are offered",
    status: 200,
    answer: listOf(answerSchema),
    handle: async () => ({ items: (await listProfileRows(database())).map(answerOf), next: null }),
  }),
  call({
    method: "get",
    path: "/profiles/:profile",
    summary: "One profile",
    status: 200,
    answer: answerSchema,
    async handle({ params }) {
      const row = await findProfile(database(), params.profile);
      if (!row) throw notFound("profile");
      return answerOf(row);
    },
  }),
  call({
    method: "post",
    path: "/profiles",
    summary: "Begin a profile of the studio's own: a copy of another one, or one that was exported",
    status: 201,
    body: z.union([
      z.object({ from: z.string(), name: z.string().min(1).max(80) }).strict(),
      z.object({ profile: z.record(z.string(), z.unknown()) }).strict(),
    ]),
    answer: answerSchema,
    async handle({ body, person }) {
      return answerOf(
        "from" in body
          ? await copyProfile(body.from, body.name, person)
          : await createProfile(readProfile(body.profile), person),
      );
    },
  }),
  call({
    method: "put",
    path: "/profiles/:profile",
    summary: "Change a profile of the studio's own; what was delivered for it is out of date then",
    status: 200,
    body: z.object({ revision: z.number().int(), profile: z.record(z.string(), z.unknown()) }).strict(),
    answer: answerSchema,
    handle: async ({ params, body, person }) =>
      answerOf(
        await changeProfile(readProfile({ ...body.profile, id: params.profile }), body.revision, person),
      ),
  }),
  call({
    method: "delete",
    path: "/profiles/:profile",
    summary: "Retire a profile: it is not offered any more, and what was delivered for it stays",
    status: 200,
    answer: answerSchema,
    handle: async ({ params }) => answerOf(await retireProfile(params.profile, true)),
  }),
  call({
    method: "post",
    path: "/profiles/:profile/offer",
    summary: "Offer a retired profile again",
    status: 200,
    answer: answerSchema,
    handle: async ({ params }) => answerOf(await retireProfile(params.profile, false)),
  }),
  call({
    method: "put",
    path: "/profiles",
    summary: "Put the profiles in order; those that are not named come after the others",
    status: 200,
    body: z.object({ ids: z.array(z.string()).min(1).max(200) }).strict(),
    answer: listOf(answerSchema),
    handle: async ({ body }) => ({ items: (await arrangeProfiles(body.ids)).map(answerOf), next: null }),
  }),
];
