import { z } from "zod";
import { PRICES } from "#core/library/licence";
import { oneRow, rows, violates, type Db } from "#server/db/database";
import { badField, conflict } from "#server/problem";

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

export const listSupplierNames = async (db: Db): Promise<string[]> =>
  (await rows(db, z.object({ name: z.string() }), "SELECT name FROM suppliers ORDER BY lower(name)")).map(
    ({ name }) => name,
  );

export type NewLicence = Omit<LicenceRow, "id" | "projectName">;

/** @throws {Problem} where the name is taken, or the project is not there */
export async function insertLicence(db: Db, licence: NewLicence): Promise<string> {
  try {
    const row = await oneRow(
      db,
      z.object({ id: z.string() }),
      "INSERT INTO licences (name, price, project, ends_on, credit) VALUES ($1, $2, $3, $4, $5) RETURNING id",
      [licence.name, licence.price, licence.project, licence.endsOn, licence.credit],
    );
    return row!.id;
  } catch (error) {
    if (violates(error, "licences_name_key"))
      throw conflict(
        `There is a licence “${licence.name}” already. Choose that one, or another name.`,
        "/licence/name",
      );
    if (violates(error, "licences_project_fkey"))
      throw badField("/licence/project", "There is no such project.");
    throw error;
  }
}

/** Facts of where a material comes from; what is not named stays. */
export interface SourceChange {
  supplier?: string | null;
  product?: string | null;
  productCode?: string | null;
  page?: string | null;
  licence?: string | null;
}

const COLUMNS: Record<keyof SourceChange, string> = {
  supplier: "supplier",
  product: "product",
  productCode: "product_code",
  page: "page",
  licence: "licence",
};

/** @throws {Problem} where there is no such licence. @returns whether there is such a material */
export async function updateSource(db: Db, material: string, change: SourceChange): Promise<boolean> {
  const given = (Object.keys(COLUMNS) as (keyof SourceChange)[]).filter((key) => change[key] !== undefined);
  const set = given.map((key, i) => `${COLUMNS[key]} = $${i + 2}`);
  try {
    const done = await db.query(
      `UPDATE sources SET ${["id = id", ...set].join(", ")}
        WHERE id = (SELECT source FROM materials WHERE id = $1 AND deleted_at IS NULL)`,
      [material, ...given.map((key) => change[key])],
    );
    return done.rowCount === 1;
  } catch (error) {
    if (violates(error, "sources_licence_fkey")) throw badField("/licence/id", "There is no such licence.");
    throw error;
  }
}

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
