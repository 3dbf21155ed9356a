import { chmod, mkdir, rename, stat, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { z } from "zod";
import { database, rows, type Db } from "#server/db/database";
import type { FileStore } from "#server/store/fileStore";
import { folderStore } from "#server/store/folderStore";
import { fileStore } from "#server/store/store";
import { settings } from "#server/settings";
import { runPostgresTool } from "#server/upkeep/postgresTools";
import { verifyFiles, type Verified } from "#server/upkeep/verifyFiles";

const DUMP = "database.dump";

/**
 * Copies the database and every kept file to a folder, while people work. The database is dumped first, as one
 * moment: files are kept before rows name them, and never change, so all that the dump names is there to be copied. What
 * the folder has from an earlier time is not copied again. Derived files are left out: they can be made again.
 * An original that is missing holds up nothing: it is named at the end.
 * @throws where something cannot be written; the folder's last whole dump stays until the new one is whole
 */
export async function backUp(folder: string): Promise<{ files: number; copied: number; missing: string[] }> {
  // Password hashes are in it: for nobody else to read.
  await mkdir(folder, { recursive: true, mode: 0o700 });
  await chmod(folder, 0o700);
  const dump = join(folder, DUMP);
  await writeFile(`${dump}.new`, "", { mode: 0o600 });
  await chmod(`${dump}.new`, 0o600);
  await runPostgresTool("pg_dump", ["--format=custom", `--file=${dump}.new`], settings().databaseUrl);
  // Rows that came after the dump are copied as well, which does no harm.
  const files = await rows(database(), z.object({ sha256: z.string() }), "SELECT sha256 FROM files");
  const there = folderStore(folder);
  let copied = 0;
  const missing: string[] = [];
  for (const { sha256 } of files) {
    if (await there.has(sha256)) continue;
    try {
      await copyWhole(fileStore(), sha256, there);
      copied++;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "ENOENT") throw error;
      missing.push(sha256);
    }
  }
  await rename(`${dump}.new`, dump);
  return { files: files.length, copied, missing };
}

/** Where a studio is made anew. */
export interface RestoreTarget {
  db: Db;
  databaseUrl: string;
  store: FileStore;
}

/**
 * Makes a studio anew from a back-up: into an empty database and a store without files.
 * @throws where there is something already, so that nothing is overwritten
 */
export async function restore(folder: string, { db, databaseUrl, store }: RestoreTarget): Promise<Verified> {
  await stat(join(folder, DUMP)).catch(() => {
    throw new Error(`There is no back-up in ${folder}: it has no ${DUMP}.`);
  });
  const { rowCount } = await db.query("SELECT 1 FROM pg_tables WHERE schemaname = 'public' LIMIT 1");
  if (rowCount) throw new Error("The database that DATABASE_URL names is not empty. Restore into a new one.");
  for await (const { path } of store.list("files"))
    throw new Error(`There are files already (${path}). Restore into a new data folder or bucket.`);
  const name = decodeURIComponent(new URL(databaseUrl).pathname.slice(1));
  await runPostgresTool(
    "pg_restore",
    ["--no-owner", "--exit-on-error", "--single-transaction", `--dbname=${name}`, join(folder, DUMP)],
    databaseUrl,
  );
  const files = await rows(db, z.object({ sha256: z.string() }), "SELECT sha256 FROM files");
  const from = folderStore(folder);
  for (const { sha256 } of files)
    // What a back-up lacks is told below, with all that is damaged.
    if (await from.has(sha256)) await copyWhole(from, sha256, store);
  return verifyFiles(db, store);
}

/** The whole file or nothing, even if the power goes. @throws where the file is not there, or is not what its hash says */
async function copyWhole(from: FileStore, sha256: string, to: FileStore): Promise<void> {
  const kept = await to.keep(from.stream(sha256));
  if (kept.sha256 !== sha256) throw Object.assign(new Error(`${sha256} is damaged.`), { code: "ENOENT" });
}
