import { z } from "zod";
import { type Db, oneRow } from "#server/db/database";

/** Bytes of the database, and of what the files' rows say. */
export async function databaseFigures(db: Db) {
  const row = await oneRow(
    db,
    z.object({ database_bytes: z.number(), files: z.number(), file_bytes: z.number() }),
    `SELECT pg_database_size(current_database()) AS database_bytes, count(*)::int AS files,
            COALESCE(sum(bytes), 0)::bigint AS file_bytes FROM files`,
  );
  return { databaseBytes: row!.database_bytes, files: row!.files, fileBytes: row!.file_bytes };
}
