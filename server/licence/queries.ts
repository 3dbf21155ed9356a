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
