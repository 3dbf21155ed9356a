import { z } from "zod";
import { searchParams, type LibrarySearch } from "#core/library/librarySearch";
import { type Db, oneRow } from "#server/db/database";

export async function insertSearch(
  db: Db,
  { name, search }: { name: string; search: LibrarySearch },
  person: string,
): Promise<string> {
  const made = await oneRow(
    db,
    z.object({ id: z.string() }),
    "INSERT INTO searches (name, filter, made_by) VALUES ($1, $2, $3) RETURNING id",
    [name, JSON.stringify(Object.fromEntries(searchParams(search))), person],
  );
  return made!.id;
}
