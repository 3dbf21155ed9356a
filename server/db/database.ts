import pg from "pg";
import type { z } from "zod";
import { settings } from "#server/settings";
import { log } from "#server/log";

/** The pool, or a client inside a transaction: what every query function takes first. */
export type Db = Pick<pg.ClientBase, "query">;

// bigint counts bytes here and stays far below 2^53.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

let made: pg.Pool | undefined;

/** The process's connection pool. */
export function database(): pg.Pool {
  if (made) return made;
  made = new pg.Pool({
    connectionString: settings().databaseUrl,
    max: 12,
    // Compiling a query takes the server most of a second, and ours run for milliseconds; before a table has statistics it
    // takes the nested ones for large.
    options: "-c jit=off",
  });
  // A lost idle connection is replaced by the pool; without a listener it would end the process.
  const say = (error: Error) => log.error(error, "database");
  made.on("error", say);
  made.on("connect", (client) => void client.on("error", say));
  return made;
}

export async function closeDatabase(): Promise<void> {
  await made?.end();
  made = undefined;
}

/** Runs several writes as one: all or none. */
export async function inTransaction<T>(work: (db: Db) => Promise<T>): Promise<T> {
  const client = await database().connect();
  try {
    await client.query("BEGIN");
    const result = await work(client);
    await client.query("COMMIT");
    return result;
  } catch (error) {
    await client.query("ROLLBACK").catch(() => undefined);
    throw error;
  } finally {
    client.release();
  }
}

/** Rows, checked as they enter the program. */
export async function rows<S extends z.ZodType>(
  db: Db,
  schema: S,
  sql: string,
  values: unknown[] = [],
): Promise<z.infer<S>[]> {
  const result = await db.query(sql, values);
  return result.rows.map((row) => schema.parse(row));
}

export async function oneRow<S extends z.ZodType>(
  db: Db,
  schema: S,
  sql: string,
  values: unknown[] = [],
): Promise<z.infer<S> | undefined> {
  return (await rows(db, schema, sql, values))[0];
}

/** Whether a statement failed because a constraint of this name says so. */
export function violates(error: unknown, constraint: string): boolean {
  return (
    error instanceof pg.DatabaseError &&
    ["23503", "23505", "23514"].includes(error.code ?? "") &&
    error.constraint === constraint
  );
}
