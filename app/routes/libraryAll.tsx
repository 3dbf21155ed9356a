import { readLibrarySearch } from "#core/library/librarySearch";
import { database } from "#server/db/database";
import { listSampleIds } from "#server/material/samples";
import { look } from "../guard";
import type { Route } from "./+types/libraryAll";

/** As many as one act may change. */
const MOST = 5000;

/** The ids of all that a search of the library finds, for selecting them. */
export const loader = look(async ({ request }: Route.LoaderArgs) => ({
  ids: await listSampleIds(database(), readLibrarySearch(new URL(request.url).searchParams), MOST),
}));
