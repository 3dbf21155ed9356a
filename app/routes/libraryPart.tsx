import { readLibrarySearch, searchParams, type LibrarySearch } from "#core/library/librarySearch";
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
  return { key: keyOf(search), page, samples: items };
});

const keyOf = (search: LibrarySearch) => new URLSearchParams(searchParams(search)).toString();

/** Far down a wall a connection that fails is no reason to take away what has come: it is said there, and asked for again. */
export async function clientLoader({ request, serverLoader }: Route.ClientLoaderArgs) {
  try {
    return await serverLoader();
  } catch (error) {
    // The way to another page, as to sign in again.
    if (error instanceof Response) throw error;
    return { key: keyOf(readLibrarySearch(new URL(request.url).searchParams)), failed: true as const };
  }
}
