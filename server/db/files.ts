import { z } from "zod";
import { oneRow, type Db } from "#server/db/database";

const imageSchema = z.object({
  sha256: z.string(),
  format: z.string(),
  width: z.number(),
  height: z.number(),
  channels: z.number(),
  bit_depth: z.union([z.literal(8), z.literal(16)]),
  alpha: z.enum(["none", "constant", "cut-out", "varied"]),
  foreign_profile: z.boolean(),
});
export type ImageRow = z.infer<typeof imageSchema>;

export async function insertFile(
  db: Db,
  file: { sha256: string; bytes: number; mediaType: string },
): Promise<void> {
  await db.query(
    "INSERT INTO files (sha256, bytes, media_type) VALUES ($1, $2, $3) ON CONFLICT (sha256) DO NOTHING",
    [file.sha256, file.bytes, file.mediaType],
  );
}

export function findFile(db: Db, sha256: string) {
  return oneRow(
    db,
    z.object({ sha256: z.string(), bytes: z.number(), media_type: z.string() }),
    "SELECT sha256, bytes, media_type FROM files WHERE sha256 = $1",
    [sha256],
  );
}

export async function insertImage(db: Db, image: ImageRow, mediaType: string): Promise<void> {
  await db.query("UPDATE files SET media_type = $2 WHERE sha256 = $1", [image.sha256, mediaType]);
  await db.query(
    `INSERT INTO images (sha256, format, width, height, channels, bit_depth, alpha, foreign_profile)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8) ON CONFLICT (sha256) DO NOTHING`,
    [
      image.sha256,
      image.format,
      image.width,
      image.height,
      image.channels,
      image.bit_depth,
      image.alpha,
      image.foreign_profile,
    ],
  );
}

export function findImage(db: Db, sha256: string) {
  return oneRow(db, imageSchema, "SELECT * FROM images WHERE sha256 = $1", [sha256]);
}

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
