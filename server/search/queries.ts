import { z } from "zod";
import { librarySearchSchema, readLibrarySearch } from "#core/library/librarySearch";
import { type Db, rows } from "#server/db/database";

const rowSchema = z.object({
  id: z.string(),
  name: z.string(),
  filter: z.record(z.string(), z.string()),
  madeBy: z.string(),
  madeAt: z.coerce.date(),
});

/** A search that was kept for the whole studio, whether or not who kept it is still there. */
export const savedSearchSchema = rowSchema.omit({ filter: true }).extend({ search: librarySearchSchema });
export type SavedSearch = z.infer<typeof savedSearchSchema>;

export async function listSearches(db: Db): Promise<SavedSearch[]> {
  const found = await rows(
    db,
    rowSchema,
    `SELECT s.id, s.name, s.filter, p.name AS "madeBy", s.made_at AS "madeAt"
       FROM searches s JOIN people p ON p.id = s.made_by ORDER BY lower(s.name)`,
  );
  return found.map(({ filter, ...saved }) => ({
    ...saved,
    search: readLibrarySearch(Object.entries(filter)),
  }));
}
