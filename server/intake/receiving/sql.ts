import { z } from "zod";
import { type Db, oneRow, rows } from "#server/db/database";

export async function insertUpload(
  db: Db,
  intake: string,
  position: number,
  upload: { name: string; sha256: string },
) {
  await db.query(
    "INSERT INTO intake_uploads (intake, position, name, sha256) VALUES ($1, $2, $3, $4) ON CONFLICT (intake, position) DO NOTHING",
    [intake, position, upload.name, upload.sha256],
  );
}

/** Bytes that somebody handed in within the last day: the files, what came out of them, and what is announced and on its way. */
export async function bytesOfDay(db: Db, person: string): Promise<number> {
  const row = await oneRow(
    db,
    z.object({ bytes: z.number() }),
    `WITH of_day AS (SELECT id, file_bytes, unpacked_bytes FROM intakes WHERE person = $1 AND created_at > now() - interval '1 day')
     SELECT (COALESCE((SELECT sum(file_bytes + unpacked_bytes) FROM of_day), 0)
           + COALESCE((SELECT sum(bytes) FROM announced_uploads JOIN of_day ON intake = of_day.id), 0)
           + COALESCE((SELECT sum(bytes) FROM reference_pictures
                        WHERE made_by = $1 AND made_at > now() - interval '1 day'), 0)
           + COALESCE((SELECT sum(bytes) FROM sought_pictures WHERE made_by = $1 AND made_at > now() - interval '1 day'), 0)
           + COALESCE((SELECT sum(bytes) FROM link_lists WHERE made_by = $1 AND made_at > now() - interval '1 day'), 0)
           + COALESCE((SELECT sum(picture_bytes) FROM test_cards
                        WHERE picture_by = $1 AND picture_at > now() - interval '1 day'), 0))::bigint AS bytes`,
    [person],
  );
  return row!.bytes;
}

/** Notes an upload that has begun, by its name; its bytes count from now on. */
export async function announceUpload(
  db: Db,
  upload: { id: string; intake: string; bytes: number },
): Promise<void> {
  await db.query("INSERT INTO announced_uploads (id, intake, bytes) VALUES ($1, $2, $3)", [
    upload.id,
    upload.intake,
    upload.bytes,
  ]);
  await db.query("UPDATE intakes SET touched_at = now() WHERE id = $1", [upload.intake]);
}

/** How many intakes somebody has begun, whose files come one by one, and not completed. */
export async function receivingOf(db: Db, person: string): Promise<number> {
  const row = await oneRow(
    db,
    z.object({ count: z.number() }),
    "SELECT count(*)::int AS count FROM intakes WHERE person = $1 AND state = 'receiving' AND ordered IS NULL",
    [person],
  );
  return row!.count;
}

/** Which of some intakes still wait for files. */
export async function stillReceiving(db: Db, intakes: string[]): Promise<Set<string>> {
  const found = await rows(
    db,
    z.object({ id: z.string() }),
    "SELECT id FROM intakes WHERE id = ANY($1::uuid[]) AND state = 'receiving'",
    [intakes],
  );
  return new Set(found.map(({ id }) => id));
}

/** Ends intakes that were begun, and that nothing has come for in hours: of one person, or of everybody. */
export async function endIdle(db: Db, hours: number, person: string | null): Promise<string[]> {
  const ended = await rows(
    db,
    z.object({ id: z.string() }),
    `UPDATE intakes SET state = 'failed', failure = 'It was begun and never completed. Hand the files in again.'
      WHERE state = 'receiving' AND ordered IS NULL AND touched_at < now() - make_interval(hours => $1)
        AND ($2::uuid IS NULL OR person = $2) RETURNING id`,
    [hours, person],
  );
  const ids = ended.map(({ id }) => id);
  await db.query("DELETE FROM announced_uploads WHERE intake = ANY($1::uuid[])", [ids]);
  return ids;
}

/** An upload has arrived, or was given up. */
export async function forgetUpload(db: Db, id: string): Promise<void> {
  await db.query("DELETE FROM announced_uploads WHERE id = $1", [id]);
}

/** The names of all files of some intakes, in their order. */
export async function uploadNames(db: Db, intakes: string[]): Promise<Map<string, string[]>> {
  const found = await rows(
    db,
    z.object({ intake: z.string(), names: z.array(z.string()) }),
    `SELECT intake, array_agg(name ORDER BY position) AS names FROM intake_uploads WHERE intake = ANY($1::uuid[])
      GROUP BY intake`,
    [intakes],
  );
  return new Map(found.map(({ intake, names }) => [intake, names]));
}

export const listUploads = (db: Db, intake: string) =>
  rows(
    db,
    z.object({ position: z.number(), name: z.string(), sha256: z.string(), bytes: z.number() }),
    "SELECT position, name, sha256, bytes FROM intake_uploads JOIN files USING (sha256) WHERE intake = $1 ORDER BY position",
    [intake],
  );
