import { z } from "zod";
import { librarySearchSchema } from "#core/library/librarySearch";
import { database } from "#server/db/database";
import { type Call, call } from "#server/http/api/call";
import { listOf, nameSchema } from "#server/http/api/shapes";
import { deleteSearch, saveSearch } from "#server/search/commands";
import { listSearches, savedSearchSchema, type SavedSearch } from "#server/search/queries";

const savedSearchShape = savedSearchSchema.omit({ madeBy: true, madeAt: true });
const answerOf = ({ madeBy: _by, madeAt: _at, ...saved }: SavedSearch) => saved;

/** Searches that are kept for the studio. */
export const SEARCH_CALLS: Call[] = [
  call({
    method: "get",
    path: "/searches",
    summary: "The searches that the studio kept",
    status: 200,
    answer: listOf(savedSearchShape),
    handle: async () => ({ items: (await listSearches(database())).map(answerOf), next: null }),
  }),
  call({
    method: "post",
    path: "/searches",
    summary: "Keep a search of the library under a name",
    status: 201,
    body: z.object({ name: nameSchema, search: librarySearchSchema.strict() }).strict(),
    answer: savedSearchShape,
    handle: async ({ body, person }) => answerOf(await saveSearch(body, person)),
  }),
  call({
    method: "delete",
    path: "/searches/:id",
    summary: "Delete a saved search; nothing that it finds is touched",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await deleteSearch(params.id);
      return { id: params.id };
    },
  }),
];
