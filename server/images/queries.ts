import type { PictureFigures } from "#core/judge/pictureFigures";
import { z } from "zod";
import type { FloatRange } from "#core/candidates/candidate";
import type { ImageReading } from "#core/judge/imageReading";
import type { RepetitionReading } from "#core/judge/repetition";
import { type Db, oneRow, rows } from "#server/db/database";

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

export function findImage(db: Db, sha256: string) {
  return oneRow(
    db,
    imageSchema,
    `SELECT ${Object.keys(imageSchema.shape).join(", ")} FROM images WHERE sha256 = $1`,
    [sha256],
  );
}

export const findImages = (db: Db, hashes: string[]) =>
  rows(
    db,
    imageSchema,
    `SELECT ${Object.keys(imageSchema.shape).join(", ")} FROM images WHERE sha256 = ANY($1)`,
    [hashes],
  );

/** Images whose pixels are to be read anew, since what is read of them has changed: the next ones by hash. */
export async function unreadImages(db: Db, after: string, limit: number): Promise<string[]> {
  const found = await rows(
    db,
    z.object({ sha256: z.string() }),
    `SELECT sha256 FROM images WHERE reading IS NOT NULL AND NOT reading ? 'seams' AND sha256 > $1 ORDER BY sha256 LIMIT $2`,
    [after, limit],
  );
  return found.map(({ sha256 }) => sha256);
}

/** What is known of pictures, by their hash; nothing of those that nobody has read. */
export async function listFigures(db: Db, hashes: string[]): Promise<Map<string, PictureFigures>> {
  const found = await rows(
    db,
    z.object({ sha256: z.string(), figures: z.array(z.number()) }),
    `SELECT sha256, (SELECT array_agg(cube_ll_coord(figures, i) ORDER BY i) FROM generate_series(1, cube_dim(figures)) i) AS figures
       FROM picture_figures WHERE sha256 = ANY ($1)`,
    [hashes],
  );
  return new Map(found.map(({ sha256, figures }) => [sha256, figures]));
}

/** Images that have a fingerprint and no figures yet, which came later: the next ones by hash. */
export async function imagesWithoutFigures(db: Db, after: string, limit: number): Promise<string[]> {
  const found = await rows(
    db,
    z.object({ sha256: z.string() }),
    `SELECT sha256 FROM images i WHERE sha256 > $1 AND EXISTS (SELECT 1 FROM fingerprints f WHERE f.sha256 = i.sha256)
       AND NOT EXISTS (SELECT 1 FROM picture_figures p WHERE p.sha256 = i.sha256) ORDER BY sha256 LIMIT $2`,
    [after, limit],
  );
  return found.map(({ sha256 }) => sha256);
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

/** Images whose colours nobody has read yet, in the order of their hashes. */
export async function imagesWithoutColors(db: Db, after: string, limit: number): Promise<string[]> {
  const found = await rows(
    db,
    z.object({ sha256: z.string() }),
    `SELECT sha256 FROM images i WHERE sha256 > $1 AND reading IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM picture_colors c WHERE c.sha256 = i.sha256) ORDER BY sha256 LIMIT $2`,
    [after, limit],
  );
  return found.map(({ sha256 }) => sha256);
}

/** The colours of a picture in 256 shares of its area, as sRGB; undefined where nobody has read them yet. */
export async function findColors(db: Db, sha256: string): Promise<Uint8Array | undefined> {
  const row = await oneRow(
    db,
    z.object({ colors: z.instanceof(Buffer) }),
    "SELECT colors FROM picture_colors WHERE sha256 = $1",
    [sha256],
  );
  return row?.colors;
}
