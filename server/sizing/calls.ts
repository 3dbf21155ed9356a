import { z } from "zod";
import { FAMILIES } from "#core/finish/family";
import { librarySearchSchema } from "#core/library/librarySearch";
import { USED_BY } from "#core/gauge/proposeSizes";
import { database } from "#server/db/database";
import { pageOf, sliceOf } from "#server/db/page";
import { type Call, call } from "#server/http/api/call";
import { listOf, pageAnswer, pageQuery, size } from "#server/http/api/shapes";
import { formatShape, repeatBody } from "#server/material/shapes";
import { createFormat, deleteFormat, listFormats, newFormatSchema } from "#server/sizing/formats";
import { readSizeSheet, type Unsized } from "#server/sizing/sheet";

const proposalShape = z.object({
  /** As PUT /materials/:id/repeat takes it. */
  size: repeatBody,
  repeat: size,
  stretchPercent: z.number(),
  reason: z.discriminatedUnion("by", [
    z.object({ by: z.literal("words"), text: z.string() }),
    z.object({ by: z.literal("sibling"), name: z.string() }),
    z.object({ by: z.enum(USED_BY) }),
    z.object({ by: z.literal("format"), name: z.string() }),
  ]),
  isSure: z.boolean(),
});

const unsizedShape = z.object({
  id: z.string(),
  code: z.string(),
  name: z.string(),
  revision: z.number(),
  family: z.enum(FAMILIES).nullable(),
  line: z.string().nullable(),
  /** Whether its modules are still being counted: then more is proposed in a while. */
  isCounting: z.boolean(),
  proposals: z.array(proposalShape),
  /** Others on the same page that show its pattern, in whatever colours. */
  alike: z.array(z.string()),
});

function answerOf({ modules, proposals, image: _, ...material }: Unsized): z.input<typeof unsizedShape> {
  return {
    ...material,
    isCounting: modules === null,
    proposals: proposals.map(({ method, module: _module, ...proposal }) => {
      const { method: way } = method;
      const sized = way === "same-as" ? { method: way, material: method.material } : method;
      return { ...proposal, size: sized };
    }),
  };
}

/** Sizes for many, and the formats that they are chosen from. */
export const SIZING_CALLS: Call[] = [
  call({
    method: "get",
    path: "/sizes",
    summary:
      "Materials without a size (or with an assumed one), found as in GET /materials, and the sizes that are proposed for each, best first",
    status: 200,
    query: pageQuery.extend(librarySearchSchema.shape),
    answer: listOf(unsizedShape).extend({ total: z.number() }),
    async handle({ query: { page, ...search } }) {
      const { items, total } = await readSizeSheet(database(), search, sliceOf(page));
      return { ...pageAnswer({ items, ...pageOf(page, total) }, answerOf), total };
    },
  }),
  call({
    method: "get",
    path: "/formats",
    summary:
      "Formats of modules, with their sizes and joints in millimetres and where they are from: the studio's own, then the standard ones",
    status: 200,
    answer: listOf(formatShape),
    handle: async () => ({ items: await listFormats(database()), next: null }),
  }),
  call({
    method: "post",
    path: "/formats",
    summary: "Keep a format of the studio's own",
    status: 201,
    body: newFormatSchema,
    answer: formatShape,
    handle: ({ body, person }) => createFormat(body, person),
  }),
  call({
    method: "delete",
    path: "/formats/:id",
    summary: "Delete a format of the studio's own; sizes that were found by it stay",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await deleteFormat(params.id);
      return { id: params.id };
    },
  }),
];
