import { z } from "zod";
import { call, type Call } from "#server/http/api/call";
import { checkedLinkSchema, checkLinks, MOST_LINKS } from "#server/links/checkLinks";
import { handInLinkList, removeLinkList } from "#server/links/list";
import { findLinkList, linkListSchema, listLinkLists, type LinkListRow } from "#server/links/listSql";
import { database } from "#server/db/database";
import { listOf } from "#server/http/api/shapes";
import { badField, notFound } from "#server/problem";

const listShape = linkListSchema.omit({ madeBy: true, madeAt: true });
const listAnswer = ({ madeBy: _by, madeAt: _at, ...list }: LinkListRow) => list;
const nameQuery = z.object({ name: z.string().max(1000).default("") });

/** Links of scenes to what was delivered. */
export const LINK_CALLS: Call[] = [
  call({
    method: "post",
    path: "/links/check",
    summary:
      "Whether paths lead to what was delivered: there, replaced by a newer revision, moved, or unknown",
    status: 200,
    body: z.object({ paths: z.array(z.string().max(1000)).min(1).max(MOST_LINKS) }).strict(),
    answer: listOf(checkedLinkSchema),
    handle: async ({ body }) => ({ items: await checkLinks(body.paths), next: null }),
  }),
  {
    method: "post",
    path: "/links/lists",
    summary:
      "Hand in a list of up to a million paths, or a scene that names files (text, CSV, MTL, MaterialX, USD, glTF), as the body, with ?name=; the worker looks for each",
    status: 202,
    takes: { "application/octet-stream": { schema: { type: "string", format: "binary" } } },
    gives: { "application/json": { schema: z.toJSONSchema(listShape) } },
    async raw({ person, request, response }) {
      const read = nameQuery.safeParse(request.query);
      if (!read.success) throw badField("/name", read.error.issues[0].message);
      response
        .status(202)
        .json(listShape.parse(listAnswer(await handInLinkList(read.data.name, request, person))));
    },
  },
  call({
    method: "get",
    path: "/links/lists",
    summary: "Lists of paths that were handed in, the newest first",
    status: 200,
    answer: listOf(listShape),
    handle: async () => ({ items: (await listLinkLists(database())).map(listAnswer), next: null }),
  }),
  call({
    method: "get",
    path: "/links/lists/:id",
    summary:
      "What became of the paths of a list: counts, the first of each state, and the hash of the whole table",
    status: 200,
    answer: listShape,
    async handle({ params }) {
      const list = await findLinkList(database(), params.id);
      if (!list) throw notFound("list");
      return listAnswer(list);
    },
  }),
  call({
    method: "delete",
    path: "/links/lists/:id",
    summary: "Delete a list, and what was found for it",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await removeLinkList(params.id);
      return { id: params.id };
    },
  }),
];
