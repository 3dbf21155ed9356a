import { z } from "zod";
import { database } from "#server/db/database";
import { readPage } from "#server/db/page";
import { call, type Call } from "#server/http/api/call";
import { listOf, pageAnswer, pageQuery } from "#server/http/api/shapes";
import { missingOnOffer } from "#server/line/onOffer";
import { findLineById, listLineMembers, listLines } from "#server/line/queries";
import { notFound } from "#server/problem";

const lineShape = z.object({
  id: z.string(),
  name: z.string(),
  supplier: z.string().nullable(),
  members: z.number(),
});

/** The lines that the library has materials of. */
export const LINE_CALLS: Call[] = [
  call({
    method: "get",
    path: "/lines",
    summary: "The lines that the library has materials of",
    status: 200,
    query: pageQuery,
    answer: listOf(lineShape),
    handle: async ({ query: { page } }) =>
      pageAnswer(
        await readPage(page, (slice) => listLines(database(), slice)),
        ({ strip: _, page: __, ...line }) => line,
      ),
  }),
  call({
    method: "get",
    path: "/lines/:id",
    summary: "A line: its variants with in what they differ, and what its supplier offers of it besides",
    status: 200,
    answer: lineShape.extend({
      variants: z.array(
        z.object({
          id: z.string(),
          name: z.string(),
          productCode: z.string().nullable(),
          variant: z.record(z.string(), z.string()),
          color: z.string().nullable(),
          projects: z.array(z.string()),
          collections: z.array(z.string()),
        }),
      ),
      missing: z.array(z.object({ code: z.string(), name: z.string(), joint: z.string().nullable() })),
    }),
    async handle({ params }) {
      const line = await findLineById(database(), params.id);
      if (!line) throw notFound("line");
      const members = await listLineMembers(database(), line.id);
      const { page: _, ...facts } = line;
      return {
        ...facts,
        variants: members.map(({ id, name, productCode, variant, color, projects, collections }) => ({
          ...{ id, name, productCode, variant, color, projects, collections },
        })),
        missing: ((await missingOnOffer(line, members))?.products ?? []).map(({ code, name, joint }) => ({
          ...{ code, name, joint },
        })),
      };
    },
  }),
];
