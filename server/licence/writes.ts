import { z } from "zod";
import { type Db, oneRow, violates } from "#server/db/database";
import type { LicenceRow } from "#server/licence/queries";
import { conflict, badField } from "#server/problem";

export type NewLicence = Omit<LicenceRow, "id" | "projectName">;

/** @throws {Problem} where the name is taken, or the project is not there */
export async function insertLicence(db: Db, licence: NewLicence): Promise<string> {
  const row = await unlessRefused("/licence", licence, () =>
    oneRow(
      db,
      z.object({ id: z.string() }),
      "INSERT INTO licences (name, price, project, ends_on, credit) VALUES ($1, $2, $3, $4, $5) RETURNING id",
      [licence.name, licence.price, licence.project, licence.endsOn, licence.credit],
    ),
  );
  return row!.id;
}

const COLUMNS: Record<keyof NewLicence, string> = {
  ...{ name: "name", price: "price", project: "project", endsOn: "ends_on", credit: "credit" },
};

/** Changes the terms that are named. @returns whether there is such a licence. @throws {Problem} as a new one */
export async function updateLicence(db: Db, id: string, change: Partial<NewLicence>): Promise<boolean> {
  const given = (Object.keys(COLUMNS) as (keyof NewLicence)[]).filter((key) => change[key] !== undefined);
  const set = given.map((key, i) => `${COLUMNS[key]} = $${i + 2}`);
  const done = await unlessRefused("", change, () =>
    db.query(`UPDATE licences SET ${["id = id", ...set].join(", ")} WHERE id = $1`, [
      id,
      ...given.map((key) => change[key]),
    ]),
  );
  return done.rowCount === 1;
}

/** @param at where the terms stand in what was sent */
async function unlessRefused<T>(
  at: string,
  { name }: Partial<NewLicence>,
  write: () => Promise<T>,
): Promise<T> {
  try {
    return await write();
  } catch (error) {
    if (violates(error, "licences_name_key"))
      throw conflict(`There is a licence “${name}” already. Choose that one, or another name.`, `${at}/name`);
    if (violates(error, "licences_project_fkey"))
      throw badField(`${at}/project`, "There is no such project.");
    throw error;
  }
}
