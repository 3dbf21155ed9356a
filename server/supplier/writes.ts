import { z } from "zod";
import { type Db, oneRow } from "#server/db/database";

const idSchema = z.object({ id: z.string() });

export async function findOrInsertSupplier(db: Db, name: string, page: string | null): Promise<string> {
  const row = await oneRow(
    db,
    idSchema,
    `INSERT INTO suppliers (name, page) VALUES ($1, $2)
     ON CONFLICT (name) DO UPDATE SET page = COALESCE(suppliers.page, excluded.page) RETURNING id`,
    [name, page],
  );
  return row!.id;
}

export async function findOrInsertLine(db: Db, supplier: string, name: string): Promise<string> {
  const row = await oneRow(
    db,
    idSchema,
    `INSERT INTO lines (supplier, name) VALUES ($1, $2)
     ON CONFLICT (supplier, name) DO UPDATE SET name = excluded.name RETURNING id`,
    [supplier, name],
  );
  return row!.id;
}

/** A line of which nobody knows who makes it. */
export async function insertLine(db: Db, name: string): Promise<string> {
  const row = await oneRow(db, idSchema, "INSERT INTO lines (name) VALUES ($1) RETURNING id", [name]);
  return row!.id;
}

/** A line that is there, by its names. */
export async function findLine(db: Db, supplier: string, name: string): Promise<string | undefined> {
  const row = await oneRow(
    db,
    idSchema,
    "SELECT l.id FROM lines l JOIN suppliers u ON u.id = l.supplier WHERE u.name = $1 AND l.name = $2",
    [supplier, name],
  );
  return row?.id;
}
