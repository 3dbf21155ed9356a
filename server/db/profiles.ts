import { z } from "zod";
import { profileSchema, type Profile } from "#core/convert/profile";
import { rows, violates, oneRow, type Db } from "#server/db/database";
import { conflict } from "#server/problem";

export async function listProfiles(db: Db): Promise<Profile[]> {
  const found = await rows(
    db,
    z.object({ data: profileSchema }),
    "SELECT data FROM profiles ORDER BY position, name",
  );
  return found.map((row) => row.data);
}

/** Writes the profiles that ship with the application as they are now. */
export async function keepProfiles(db: Db, profiles: Profile[]): Promise<void> {
  for (const [position, profile] of profiles.entries())
    await db.query(
      `INSERT INTO profiles (id, name, position, data) VALUES ($1, $2, $3, $4)
       ON CONFLICT (id) DO UPDATE SET name = excluded.name, position = excluded.position, data = excluded.data`,
      [profile.id, profile.name, position, JSON.stringify(profile)],
    );
}

export const destinationSchema = z.object({ id: z.string(), name: z.string(), folder: z.string() });
export type DestinationRow = z.infer<typeof destinationSchema>;

export const listDestinations = (db: Db) =>
  rows(db, destinationSchema, "SELECT id, name, folder FROM destinations ORDER BY lower(name)");

/** By id or by name, as a script may know either. */
export const findDestination = (db: Db, idOrName: string) =>
  oneRow(
    db,
    destinationSchema,
    "SELECT id, name, folder FROM destinations WHERE id::text = $1 OR name = $1",
    [idOrName],
  );

export async function insertDestination(
  db: Db,
  destination: { name: string; folder: string },
): Promise<DestinationRow> {
  try {
    const row = await oneRow(
      db,
      destinationSchema,
      "INSERT INTO destinations (name, folder) VALUES ($1, $2) RETURNING id, name, folder",
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
