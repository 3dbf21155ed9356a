import type { Fingerprint } from "#core/judge/fingerprint";
import type { PictureFigures } from "#core/judge/pictureFigures";
import type { Db } from "#server/db/database";
import type { ImageRow } from "#server/images/queries";

/** Keeps what an image is; an image that was read before its pixels were gets what was missing. */
export async function insertImage(
  db: Db,
  image: ImageRow,
  mediaType: string,
  { fingerprint, figures, colors }: { fingerprint: Fingerprint | null } & SmallRead,
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
  await insertSmallRead(db, image.sha256, { figures, colors });
}

/** What is read of a picture's square reduction. */
export interface SmallRead {
  figures: PictureFigures | null;
  colors: Uint8Array | null;
}

/** Keeps by what a picture's parts are found, and its colours. */
export async function insertSmallRead(db: Db, sha256: string, { figures, colors }: SmallRead): Promise<void> {
  if (figures)
    await db.query(
      "INSERT INTO picture_figures (sha256, figures) VALUES ($1, cube($2::float8[])) ON CONFLICT (sha256) DO UPDATE SET figures = excluded.figures",
      [sha256, figures],
    );
  if (colors)
    await db.query(
      "INSERT INTO picture_colors (sha256, colors) VALUES ($1, $2) ON CONFLICT (sha256) DO UPDATE SET colors = excluded.colors",
      [sha256, Buffer.from(colors)],
    );
}

const jsonOrNull = (value: unknown) => (value === null ? null : JSON.stringify(value));
