import { z } from "zod";
import type { FoundLicence } from "#server/licence/queries";
import { oneRow, type Db } from "#server/db/database";

/** The licence that a person confirmed, made once for each wording. */
export async function keepLicence(db: Db, found: Omit<FoundLicence, "sentence" | "file">): Promise<string> {
  const name = [
    found.name,
    found.nonCommercial && "no paid work",
    found.projects === "one" && "one project",
    found.credit && `credit ${found.credit}`,
  ]
    .filter(Boolean)
    .join(", ");
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO licences (name, price, credit) VALUES ($1, $2, $3)
     ON CONFLICT (name) DO UPDATE SET name = excluded.name RETURNING id`,
    [name, found.price, found.credit],
  );
  return row!.id;
}
