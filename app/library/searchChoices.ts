import type { LibrarySearch } from "#core/library/librarySearch";
import type { Db } from "#server/db/database";
import { listSearchChoices } from "#server/material/choices";
import { findSought } from "#server/sought/sql";
import type { ClauseChoices } from "./clauses";

/** What the sentence over a wall offers, and what the search names by its id. */
export async function searchChoices(db: Db, search: LibrarySearch): Promise<ClauseChoices> {
  const [choices, likePicture] = await Promise.all([
    listSearchChoices(db, search),
    search.likePicture === undefined ? undefined : findSought(db, search.likePicture),
  ]);
  return { ...choices, likePicture: likePicture ?? null };
}
