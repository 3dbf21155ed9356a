import { readLibrarySearch } from "#core/library/librarySearch";
import { database } from "#server/db/database";
import { findSureSizes } from "#server/sizing/sheet";
import { look } from "../guard";
import type { Route } from "./+types/sizesSure";

/** Whoever wants to know again asks again: all of a sheet is too much for every change of the library. */
export const shouldRevalidate = () => false;

/** The sizes that nobody has to look at, on all pages of a sheet. */
export const loader = look(async ({ request }: Route.LoaderArgs) =>
  findSureSizes(database(), readLibrarySearch(new URL(request.url).searchParams)),
);
