import { z } from "zod";
import { database } from "#server/db/database";
import { putBack, readHistory } from "#server/history/history";
import { putBackBody, toldChangeAnswer, toldChangeShape } from "#server/history/shapes";
import { call, type Call } from "#server/http/api/call";
import { listOf } from "#server/http/api/shapes";
import { changeLicence } from "#server/licence/changeLicence";
import { findLicence, licenceSchema, listCovered } from "#server/licence/queries";
import { termsSchema } from "#server/licence/terms";
import { mustFindMaterial } from "#server/material/queries";
import { notFound } from "#server/problem";

async function answerOf(id: string) {
  const licence = await findLicence(database(), id);
  if (!licence) throw notFound("licence");
  return {
    ...licence,
    materials: (await listCovered(database(), id)).map(({ id, name, code, projects }) => ({
      ...{ id, name, code, projects },
    })),
    changes: (await readHistory("licence", id)).map(toldChangeAnswer),
  };
}

/** What was changed of the facts of a material, and licences with what was changed of them. */
export const HISTORY_CALLS: Call[] = [
  call({
    method: "get",
    path: "/materials/:id/facts/history",
    summary: "What was changed of a material's facts, by whom, the newest first",
    status: 200,
    answer: listOf(toldChangeShape),
    async handle({ params }) {
      await mustFindMaterial(database(), params.id);
      return { items: (await readHistory("material", params.id)).map(toldChangeAnswer), next: null };
    },
  }),
  call({
    method: "post",
    path: "/materials/:id/facts/restore",
    summary: "Put the fields of a change back to what they were before it",
    status: 200,
    body: putBackBody,
    answer: z.object({ id: z.string() }),
    async handle({ params, body }) {
      await putBack("material", params.id, body.change);
      return { id: params.id };
    },
  }),
  call({
    method: "get",
    path: "/licences/:id",
    summary: "A licence with the materials that it covers and what was changed of it",
    status: 200,
    answer: licenceSchema.extend({
      materials: z.array(
        z.object({ id: z.string(), name: z.string(), code: z.string(), projects: z.array(z.string()) }),
      ),
      changes: z.array(toldChangeShape),
    }),
    handle: ({ params }) => answerOf(params.id),
  }),
  call({
    method: "patch",
    path: "/licences/:id",
    summary: "Change the terms of a licence, for all materials that it covers",
    status: 200,
    body: termsSchema,
    answer: licenceSchema,
    async handle({ params, body }) {
      await changeLicence(params.id, body);
      return (await findLicence(database(), params.id))!;
    },
  }),
  call({
    method: "post",
    path: "/licences/:id/restore",
    summary: "Put the terms of a change back to what they were before it",
    status: 200,
    body: putBackBody,
    answer: z.object({ id: z.string() }),
    async handle({ params, body }) {
      await putBack("licence", params.id, body.change);
      return { id: params.id };
    },
  }),
];
