import { z } from "zod";
import { type Db, oneRow, violates } from "#server/db/database";
import type { LicenceRow } from "#server/licence/queries";
import { conflict, badField } from "#server/problem";

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
