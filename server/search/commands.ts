import { searchParams, type LibrarySearch } from "#core/library/librarySearch";
import type { Person } from "#server/auth/person";
import { database, violates } from "#server/db/database";
import { announce } from "#server/events/events";
import { badField, notFound } from "#server/problem";
import { listSearches, type SavedSearch } from "#server/search/queries";
import { insertSearch } from "#server/search/writes";

/** Keeps a search for the studio under a name of its own. @throws {Problem} */
export async function saveSearch(
  { name, search }: { name: string; search: LibrarySearch },
  person: Pick<Person, "id">,
): Promise<SavedSearch> {
  if (searchParams(search).length === 0)
    throw badField("/search", "This search shows everything. Say first what it is to show.");
  const db = database();
  try {
    const made = await insertSearch(db, { name, search }, person.id);
    await announce(db, { topic: "library", id: made });
    return (await listSearches(db)).find(({ id }) => id === made)!;
  } catch (error) {
    if (violates(error, "searches_name"))
      throw badField("/name", `A search is called “${name}” already. Give this one another name.`);
    throw error;
  }
}

/** @throws {Problem} 404 */
export async function deleteSearch(id: string): Promise<void> {
  const done = await database().query("DELETE FROM searches WHERE id = $1", [id]);
  if (done.rowCount !== 1) throw notFound("search");
  await announce(database(), { topic: "library", id });
}
