import { readLibrarySearch, searchParams } from "#core/library/librarySearch";
import { database } from "#server/db/database";
import { pageNumber, sliceOf } from "#server/db/page";
import { listSamples } from "#server/material/samples";
import { look } from "../guard";
import type { Route } from "./+types/libraryPart";

/** One page of what a search of the library finds, for a wall that goes on as it is scrolled. */
export const loader = look(async ({ request }: Route.LoaderArgs) => {
  const params = new URL(request.url).searchParams;
  const search = readLibrarySearch(params);
  const page = pageNumber.catch(1).parse(params.get("page") ?? undefined);
  const { items } = await listSamples(database(), { ...search, ...sliceOf(page) });
  return { key: new URLSearchParams(searchParams(search)).toString(), page, samples: items };
});
