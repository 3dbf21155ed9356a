import { type Db, oneRow, violates } from "#server/db/database";
import { type DestinationRow, destinationSchema } from "#server/destination/queries";
import { conflict } from "#server/problem";
import type { SeenPath } from "#core/library/seenPath";

export async function insertDestination(
  db: Db,
  destination: { name: string; folder: string },
): Promise<DestinationRow> {
  try {
    const row = await oneRow(
      db,
      destinationSchema,
      "INSERT INTO destinations (name, folder) VALUES ($1, $2) RETURNING id, name, folder, paths",
      [destination.name, destination.folder],
    );
    return row!;
  } catch (error) {
    if (violates(error, "destinations_name_key"))
      throw conflict(`There is a destination “${destination.name}” already.`, "/name");
    if (violates(error, "destinations_folder_key"))
      throw conflict(`The folder “${destination.folder}” belongs to another destination.`, "/folder");
    throw error;
  }
}

export const updateDestinationPaths = (db: Db, id: string, paths: SeenPath[]) =>
  oneRow(
    db,
    destinationSchema,
    "UPDATE destinations SET paths = $2 WHERE id = $1 RETURNING id, name, folder, paths",
    [id, JSON.stringify(paths)],
  );

export async function keepDestinationFile(
  db: Db,
  file: { destination: string; path: string; sha256: string; delivery: string },
): Promise<void> {
  await db.query(
    `INSERT INTO destination_files (destination, path, sha256, delivery) VALUES ($1, $2, $3, $4)
     ON CONFLICT (destination, path) DO UPDATE SET sha256 = excluded.sha256, delivery = excluded.delivery`,
    [file.destination, file.path, file.sha256, file.delivery],
  );
}
