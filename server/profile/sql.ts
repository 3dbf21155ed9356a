import { z } from "zod";
import { type Profile, profileSchema } from "#core/convert/profile";
import { type Db, oneRow, rows } from "#server/db/database";

/** A profile as the studio has it. */
export const profileRowSchema = z.object({
  profile: profileSchema,
  revision: z.number(),
  /** Whether it ships with the application, and is only copied. */
  shipped: z.boolean(),
  retired: z.boolean(),
});
export type ProfileRow = z.infer<typeof profileRowSchema>;

const COLUMNS = `data AS profile, revision, shipped, retired_at IS NOT NULL AS retired`;

/** In the studio's order, those that are retired at the end. */
export const listProfileRows = (db: Db): Promise<ProfileRow[]> =>
  rows(
    db,
    profileRowSchema,
    `SELECT ${COLUMNS} FROM profiles ORDER BY retired_at IS NOT NULL, position, lower(name)`,
  );

/** What can be delivered for. */
export const listProfiles = async (db: Db): Promise<Profile[]> =>
  (await listProfileRows(db)).filter(({ retired }) => !retired).map(({ profile }) => profile);

export const findProfile = async (db: Db, id: string): Promise<ProfileRow | undefined> =>
  // An address may hold anything, also what is no text to the database.
  isProfileId(id)
    ? oneRow(db, profileRowSchema, `SELECT ${COLUMNS} FROM profiles WHERE id = $1`, [id])
    : undefined;

const isProfileId = (id: string) => profileSchema.shape.id.safeParse(id).success;

/** The same, and nobody else changes it before the transaction ends. */
export const lockProfile = (db: Db, id: string): Promise<ProfileRow | undefined> =>
  oneRow(db, profileRowSchema, `SELECT ${COLUMNS} FROM profiles WHERE id = $1 FOR UPDATE`, [id]);

export const findProfileRevision = async (db: Db, id: string, number: number): Promise<Profile | undefined> =>
  (
    await oneRow(
      db,
      z.object({ data: profileSchema }),
      "SELECT data FROM profile_revisions WHERE profile = $1 AND number = $2",
      [id, number],
    )
  )?.data;

/** Puts a new one behind all others. @param person nobody, where it ships */
export async function insertProfile(db: Db, profile: Profile, person: string | null): Promise<void> {
  await db.query(
    `INSERT INTO profiles (id, name, position, data, shipped)
     VALUES ($1, $2, (SELECT COALESCE(max(position) + 1, 0) FROM profiles), $3, $4)`,
    [profile.id, profile.name, JSON.stringify(profile), person === null],
  );
  await insertRevision(db, profile, 1, person);
}

/** Writes what it says from now on, as its next revision. */
export async function updateProfile(
  db: Db,
  profile: Profile,
  number: number,
  person: string | null,
): Promise<void> {
  await insertRevision(db, profile, number, person);
  await db.query("UPDATE profiles SET name = $2, data = $3, revision = $4 WHERE id = $1", [
    profile.id,
    profile.name,
    JSON.stringify(profile),
    number,
  ]);
}

const insertRevision = (db: Db, profile: Profile, number: number, person: string | null) =>
  db.query("INSERT INTO profile_revisions (profile, number, data, made_by) VALUES ($1, $2, $3, $4)", [
    profile.id,
    number,
    JSON.stringify(profile),
    person,
  ]);

export async function setRetired(db: Db, id: string, retired: boolean): Promise<void> {
  await db.query(
    "UPDATE profiles SET retired_at = CASE WHEN $2 THEN COALESCE(retired_at, now()) END WHERE id = $1",
    [id, retired],
  );
}

/** @param ids of all that are named, in their order; others come after them */
export async function orderProfiles(db: Db, ids: string[]): Promise<void> {
  await db.query(
    `UPDATE profiles SET position = wanted.place
       FROM (SELECT p.id, row_number() OVER (ORDER BY array_position($1::text[], p.id), p.position, lower(p.name)) AS place
               FROM profiles p) wanted
      WHERE wanted.id = profiles.id`,
    [ids],
  );
}

export const profilesCalled = (db: Db, { id, name }: Pick<Profile, "id" | "name">) =>
  rows(
    db,
    z.object({ id: z.string(), shipped: z.boolean() }),
    "SELECT id, shipped FROM profiles WHERE id = $1 OR lower(name) = lower($2)",
    [id, name],
  );
