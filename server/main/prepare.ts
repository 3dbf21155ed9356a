import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { gltf } from "#core/convert/profiles/gltf";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import { ROLES } from "#core/roles/roles";
import { closeDatabase, database } from "#server/db/database";
import { migrate } from "#server/db/migrate";
import { keepRoles } from "#server/material/writes";
import { keepProfiles } from "#server/profile/sql";

/** Brings a database to the newest schema and writes the roles and the profiles that ship with the application. */
export async function prepareDatabase(databaseUrl: string): Promise<void> {
  await migrate(databaseUrl);
  await keepRoles(database(), ROLES);
  await keepProfiles(database(), [glossPathTracer, packedWalkthrough, gltf]);
}

if (process.argv[1] === new URL(import.meta.url).pathname) {
  await prepareDatabase(process.env.DATABASE_URL ?? "");
  await closeDatabase();
}
