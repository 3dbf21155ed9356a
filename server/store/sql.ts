import { z } from "zod";
import { type Db, rows, oneRow } from "#server/db/database";

export async function insertFile(
  db: Db,
  file: { sha256: string; bytes: number; mediaType: string },
): Promise<void> {
  await db.query(
    "INSERT INTO files (sha256, bytes, media_type) VALUES ($1, $2, $3) ON CONFLICT (sha256) DO NOTHING",
    [file.sha256, file.bytes, file.mediaType],
  );
}

/** Several at once. */
export async function insertFiles(
  db: Db,
  files: { sha256: string; bytes: number }[],
  mediaType: string,
): Promise<void> {
  await db.query(
    `INSERT INTO files (sha256, bytes, media_type)
     SELECT sha256, bytes, $3 FROM unnest($1::text[], $2::bigint[]) AS f(sha256, bytes) ON CONFLICT (sha256) DO NOTHING`,
    [files.map(({ sha256 }) => sha256), files.map(({ bytes }) => bytes), mediaType],
  );
}

/** Those of some hashes that the database knows. */
export async function knownHashes(db: Db, hashes: string[]): Promise<Set<string>> {
  const found = await rows(
    db,
    z.object({ sha256: z.string() }),
    "SELECT sha256 FROM files WHERE sha256 = ANY($1)",
    [hashes],
  );
  return new Set(found.map(({ sha256 }) => sha256));
}

export function findFile(db: Db, sha256: string) {
  return oneRow(
    db,
    z.object({ sha256: z.string(), bytes: z.number(), media_type: z.string() }),
    "SELECT sha256, bytes, media_type FROM files WHERE sha256 = $1",
    [sha256],
  );
}

/** Which of some files are kept. */
export const listKept = (db: Db, hashes: string[]) =>
  rows(
    db,
    z.object({ sha256: z.string(), bytes: z.number() }),
    "SELECT sha256, bytes FROM files WHERE sha256 = ANY($1)",
    [hashes],
  );

/** The file that a recipe made before, if it was not thrown away. */
export function findDerived(db: Db, recipe: string) {
  return oneRow(
    db,
    z.object({ sha256: z.string(), bytes: z.number() }),
    "SELECT sha256, bytes FROM derived_files JOIN files USING (sha256) WHERE recipe = $1",
    [recipe],
  );
}

export async function insertDerived(db: Db, recipe: string, sha256: string): Promise<void> {
  await db.query(
    "INSERT INTO derived_files (recipe, sha256) VALUES ($1, $2) ON CONFLICT (recipe) DO UPDATE SET sha256 = excluded.sha256",
    [recipe, sha256],
  );
}
