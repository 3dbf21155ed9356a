import { fileURLToPath } from "node:url";
import { runMigrations as migrateQueue } from "graphile-worker";
import { runner } from "node-pg-migrate";

/** Brings a database to the newest schema, forward only; safe to run from several processes at once. */
export async function migrate(databaseUrl: string): Promise<void> {
  await runner({
    databaseUrl,
    dir: fileURLToPath(new URL("../../db/migrations", import.meta.url)),
    direction: "up",
    migrationsTable: "migrations",
    log: () => undefined,
  });
  await migrateQueue({ connectionString: databaseUrl });
}
