import { z } from "zod";
import { PRICES } from "#core/library/licence";
import { type Db, rows, oneRow } from "#server/db/database";

/** A licence, with the name of the one project that it is for. */
export const licenceSchema = z.object({
  id: z.string(),
  name: z.string(),
  price: z.enum(PRICES),
  project: z.string().nullable(),
  projectName: z.string().nullable(),
  endsOn: z.string().nullable(),
  credit: z.string().nullable(),
});

export type LicenceRow = z.infer<typeof licenceSchema>;

export const listLicences = (db: Db): Promise<LicenceRow[]> =>
  rows(
    db,
    licenceSchema,
    `SELECT l.id, l.name, l.price, l.project, p.name AS "projectName", to_char(l.ends_on, 'YYYY-MM-DD') AS "endsOn", l.credit
     FROM licences l LEFT JOIN projects p ON p.id = l.project ORDER BY lower(l.name)`,
  );

export const findLicence = (db: Db, id: string): Promise<LicenceRow | undefined> =>
  oneRow(
    db,
    licenceSchema,
    `SELECT l.id, l.name, l.price, l.project, p.name AS "projectName", to_char(l.ends_on, 'YYYY-MM-DD') AS "endsOn", l.credit
     FROM licences l LEFT JOIN projects p ON p.id = l.project WHERE l.id = $1`,
    [id],
  );

const coveredSchema = z.object({
  id: z.string(),
  name: z.string(),
  code: z.string(),
  color: z.string().nullable(),
  preview: z.string().nullable(),
  projects: z.array(z.string()),
});

/** More are counted, and not listed. */
export const MOST_COVERED = 500;

/** The materials that a licence covers, with the projects that have each. */
export const listCovered = (db: Db, licence: string) =>
  rows(
    db,
    coveredSchema,
    `SELECT m.id, m.name, m.code, r.finish->>'color' AS color, b.sha256 AS preview,
       ARRAY(SELECT p.name FROM project_revisions t JOIN projects p ON p.id = t.project WHERE t.material = m.id ORDER BY lower(p.name)) AS projects
       FROM sources s JOIN materials m ON m.source = s.id JOIN revisions r ON r.material = m.id AND r.number = m.revision
       LEFT JOIN maps b ON b.material = m.id AND b.revision = m.revision AND b.role = 'base_color'
      WHERE s.licence = $1 AND m.deleted_at IS NULL AND m.merged_into IS NULL ORDER BY lower(m.name), m.id LIMIT ${MOST_COVERED}`,
    [licence],
  );

const countedLicenceSchema = licenceSchema.extend({ materials: z.number().int() });

/** All licences with how many living materials each covers. */
export const listCountedLicences = (db: Db) =>
  rows(
    db,
    countedLicenceSchema,
    `SELECT l.id, l.name, l.price, l.project, p.name AS "projectName", to_char(l.ends_on, 'YYYY-MM-DD') AS "endsOn", l.credit,
       (SELECT count(*)::int FROM sources s JOIN materials m ON m.source = s.id WHERE s.licence = l.id AND m.deleted_at IS NULL AND m.merged_into IS NULL) AS materials
     FROM licences l LEFT JOIN projects p ON p.id = l.project ORDER BY lower(l.name)`,
  );

/** The licence of a material, for what is made of it. */
export async function licenceOf(db: Db, material: string): Promise<string | null> {
  const row = await oneRow(
    db,
    z.object({ licence: z.string().nullable() }),
    "SELECT s.licence FROM materials m JOIN sources s ON s.id = m.source WHERE m.id = $1",
    [material],
  );
  return row?.licence ?? null;
}

export const foundLicenceSchema = z.object({
  name: z.string(),
  price: z.enum(["free", "bought", "unknown"]),
  projects: z.enum(["one", "all"]).nullable(),
  credit: z.string().nullable(),
  nonCommercial: z.boolean(),
  sentence: z.string(),
  /** The text that it was read from. */
  file: z.string(),
});

export type FoundLicence = z.infer<typeof foundLicenceSchema>;
