import { z } from "zod";
import { type Profile, profileSchema } from "#core/convert/profile";
import { type Db, rows } from "#server/db/database";

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
