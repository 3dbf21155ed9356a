import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { drawingBoard } from "#core/convert/profiles/drawingBoard";
import { gltf } from "#core/convert/profiles/gltf";
import { materialX } from "#core/convert/profiles/materialX";
import { ifc } from "#core/convert/profiles/ifc";
import { objMtl } from "#core/convert/profiles/objMtl";
import { openUsd } from "#core/convert/profiles/openUsd";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import { ROLES } from "#core/roles/roles";
import { closeDatabase, database, inTransaction } from "#server/db/database";
import { migrate } from "#server/db/migrate";
import { keepRoles } from "#server/material/writes";
import { keepShippedProfiles } from "#server/profile/commands";

/** Brings a database to the newest schema and writes the roles and the profiles that ship with the application. */
export async function prepareDatabase(databaseUrl: string): Promise<void> {
  await migrate(databaseUrl);
  await keepRoles(database(), ROLES);
  await inTransaction((db) =>
    keepShippedProfiles(db, [
      glossPathTracer,
      packedWalkthrough,
      drawingBoard,
      gltf,
      materialX,
      openUsd,
      objMtl,
      ifc,
    ]),
  );
}

if (process.argv[1] === new URL(import.meta.url).pathname) {
  await prepareDatabase(process.env.DATABASE_URL ?? "");
  await closeDatabase();
}
