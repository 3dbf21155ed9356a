import { z } from "zod";
import { neutralSchema, placingSchema, type Neutral, type Placing } from "#core/picture/reference";
import { type Db, oneRow, rows } from "#server/db/database";

const REFERENCE_STATES = ["reading", "there", "failed"] as const;

export const referenceSchema = z.object({
  id: z.string(),
  sha256: z.string(),
  name: z.string(),
  profile: z.string().nullable(),
  placing: placingSchema.nullable(),
  neutral: neutralSchema.nullable(),
  /** "reading" until the worker has found it to be a picture. */
  state: z.enum(REFERENCE_STATES),
  failure: z.string().nullable(),
  /** Null while nobody has read it. */
  width: z.number().nullable(),
  height: z.number().nullable(),
  madeBy: z.string(),
  madeAt: z.coerce.date(),
});

/** A picture that a material's finish is judged against. */
export type ReferenceRow = z.infer<typeof referenceSchema>;

const REFERENCE = `SELECT r.id, r.sha256, r.name, r.profile, r.placed_by AS placing, r.neutral, r.state, r.failure, i.width, i.height, p.name AS "madeBy",
    r.made_at AS "madeAt" FROM reference_pictures r LEFT JOIN images i USING (sha256) JOIN people p ON p.id = r.made_by`;

/** More are not kept for one material. */
export const MOST_REFERENCES = 24;

export const listReferences = (db: Db, material: string): Promise<ReferenceRow[]> =>
  rows(db, referenceSchema, `${REFERENCE} WHERE r.material = $1 ORDER BY r.made_at DESC, r.id`, [material]);

export const findReference = (db: Db, material: string, id: string) =>
  oneRow(db, referenceSchema, `${REFERENCE} WHERE r.material = $1 AND r.id = $2`, [material, id]);

/** The same picture handed in twice is kept once; what is said of it the second time holds. @returns its id */
export async function insertReference(
  db: Db,
  reference: {
    material: string;
    sha256: string;
    name: string;
    profile: string | null;
    bytes: number;
    person: string;
  },
): Promise<string> {
  const { material, sha256, name, profile, bytes, person } = reference;
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO reference_pictures (material, sha256, name, profile, bytes, made_by) VALUES ($1, $2, $3, $4, $5, $6)
     ON CONFLICT (material, sha256) DO UPDATE SET name = EXCLUDED.name, profile = EXCLUDED.profile,
       state = CASE reference_pictures.state WHEN 'there' THEN 'there' ELSE 'reading' END, failure = NULL
     RETURNING id`,
    [material, sha256, name, profile, bytes, person],
  );
  return row!.id;
}

/** What the worker is to read. */
export const findUnread = (db: Db, id: string) =>
  oneRow(
    db,
    z.object({ sha256: z.string(), material: z.string() }),
    "SELECT sha256, material FROM reference_pictures WHERE id = $1 AND state = 'reading'",
    [id],
  );

/** @param failure why it is no picture; nothing where it is one. @returns its material */
export async function endReading(db: Db, id: string, failure: string | null): Promise<string | undefined> {
  const row = await oneRow(
    db,
    z.object({ material: z.string() }),
    `UPDATE reference_pictures SET state = CASE WHEN $2::text IS NULL THEN 'there' ELSE 'failed' END, failure = $2
      WHERE id = $1 AND state = 'reading' RETURNING material`,
    [id, failure],
  );
  return row?.material;
}

/** How many a material has. */
export async function countReferences(db: Db, material: string): Promise<number> {
  const row = await oneRow(
    db,
    z.object({ count: z.number() }),
    "SELECT count(*)::int AS count FROM reference_pictures WHERE material = $1",
    [material],
  );
  return row!.count;
}

export interface ReferenceChange {
  name?: string;
  profile?: string | null;
  placing?: Placing | null;
  neutral?: Neutral | null;
}

const COLUMNS: Record<keyof ReferenceChange, string> = {
  name: "name",
  profile: "profile",
  // The word is one of SQL's own.
  placing: "placed_by",
  neutral: "neutral",
};

/** What is not named stays. @returns whether there is such a picture */
export async function updateReference(
  db: Db,
  material: string,
  id: string,
  change: ReferenceChange,
): Promise<boolean> {
  const given = (Object.keys(COLUMNS) as (keyof ReferenceChange)[]).filter(
    (key) => change[key] !== undefined,
  );
  const values = given.map((key) => {
    const value = change[key] ?? null;
    return typeof value === "object" && value !== null ? JSON.stringify(value) : value;
  });
  const set = given.map((key, i) => `${COLUMNS[key]} = $${i + 3}`);
  const done = await db.query(
    `UPDATE reference_pictures SET ${["id = id", ...set].join(", ")} WHERE material = $1 AND id = $2`,
    [material, id, ...values],
  );
  return done.rowCount === 1;
}

export async function deleteReference(db: Db, material: string, id: string): Promise<boolean> {
  const done = await db.query("DELETE FROM reference_pictures WHERE material = $1 AND id = $2", [
    material,
    id,
  ]);
  return done.rowCount === 1;
}
