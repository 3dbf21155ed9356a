import { z } from "zod";
import { seenPathSchema } from "#core/library/seenPath";
import { type Db, rows, oneRow } from "#server/db/database";

export const destinationSchema = z.object({
  id: z.string(),
  name: z.string(),
  folder: z.string(),
  /** Where it lies as people's machines see it. */
  paths: z.array(seenPathSchema),
});

export type DestinationRow = z.infer<typeof destinationSchema>;

export const listDestinations = (db: Db) =>
  rows(db, destinationSchema, "SELECT id, name, folder, paths FROM destinations ORDER BY lower(name)");

/** By id or by name, as a script may know either. */
export const findDestination = (db: Db, idOrName: string) =>
  oneRow(
    db,
    destinationSchema,
    "SELECT id, name, folder, paths FROM destinations WHERE id::text = $1 OR name = $1",
    [idOrName],
  );

export async function findDestinationFile(
  db: Db,
  destination: string,
  path: string,
): Promise<string | undefined> {
  const row = await oneRow(
    db,
    z.object({ sha256: z.string() }),
    "SELECT sha256 FROM destination_files WHERE destination = $1 AND path = $2",
    [destination, path],
  );
  return row?.sha256;
}
