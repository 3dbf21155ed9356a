import { z } from "zod";
import type { Fingerprint } from "#core/judge/fingerprint";
import type { ImageReading } from "#core/judge/imageReading";
import type { RepetitionReading } from "#core/judge/repetition";
import type { FloatRange } from "#core/maps/candidate";
import { oneRow, rows, type Db } from "#server/db/database";

const imageSchema = z.object({
  sha256: z.string(),
  format: z.string(),
  width: z.number(),
  height: z.number(),
  channels: z.number(),
  bit_depth: z.union([z.literal(8), z.literal(16), z.literal(32)]),
  alpha: z.enum(["none", "constant", "cut-out", "varied"]),
  color_space: z.enum(["grey", "rgb", "cmyk"]),
  profile: z.string().nullable(),
  profile_unreadable: z.boolean(),
  orientation: z.number(),
  pages: z.number(),
  // Written by ourselves and read by nobody else: its shape is checked where it is made.
  float_range: z.custom<FloatRange>().nullable(),
  reading: z.custom<ImageReading>().nullable(),
  repetition: z.custom<RepetitionReading>().nullable(),
  shown_as: z.enum(["color", "data"]).nullable(),
  /** Readable, but damaged in places. */
  damaged: z.boolean(),
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

/** Keeps what an image is; an image that was read before its pixels were gets what was missing. */
export async function insertImage(
  db: Db,
  image: ImageRow,
  mediaType: string,
  fingerprint: Fingerprint | null,
): Promise<void> {
  await db.query("UPDATE files SET media_type = $2 WHERE sha256 = $1", [image.sha256, mediaType]);
  await db.query(
    `INSERT INTO images (sha256, format, width, height, channels, bit_depth, alpha, color_space, profile, profile_unreadable, orientation, pages,
       float_range, reading, repetition, shown_as, damaged)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17)
     ON CONFLICT (sha256) DO UPDATE SET reading = excluded.reading, repetition = excluded.repetition,
       float_range = excluded.float_range, pages = excluded.pages, shown_as = excluded.shown_as, damaged = excluded.damaged`,
    [
      image.sha256,
      image.format,
      image.width,
      image.height,
      image.channels,
      image.bit_depth,
      image.alpha,
      image.color_space,
      image.profile,
      image.profile_unreadable,
      image.orientation,
      image.pages,
      jsonOrNull(image.float_range),
      jsonOrNull(image.reading),
      jsonOrNull(image.repetition),
      image.shown_as,
      image.damaged,
    ],
  );
  if (fingerprint)
    await db.query(
      "INSERT INTO fingerprints (band, value, sha256) SELECT at - 1, value, $1 FROM unnest($2::smallint[]) WITH ORDINALITY AS b(value, at) ON CONFLICT DO NOTHING",
      [image.sha256, fingerprint],
    );
}

const jsonOrNull = (value: unknown) => (value === null ? null : JSON.stringify(value));

export function findImage(db: Db, sha256: string) {
  return oneRow(
    db,
    imageSchema,
    `SELECT ${Object.keys(imageSchema.shape).join(", ")} FROM images WHERE sha256 = $1`,
    [sha256],
  );
}

/** What the pixels of several images say. */
export function listReadings(db: Db, hashes: string[]) {
  return rows(
    db,
    imageSchema.pick({ sha256: true, width: true, height: true, reading: true, repetition: true }),
    "SELECT sha256, width, height, reading, repetition FROM images WHERE sha256 = ANY($1)",
    [hashes],
  );
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
