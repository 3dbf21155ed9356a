import pg from "pg";
import type { z } from "zod";
import { settings } from "#server/settings";
import { log } from "#server/log";
import { isDatabaseAway } from "#server/ownFault";
import { currentActor } from "#server/actor";

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
    // While the database is away nobody waits for long, and a connection that hangs is given up.
    connectionTimeoutMillis: 5_000,
    query_timeout: 120_000,
    keepAlive: true,
    // Compiling a query takes the server most of a second, and ours run for milliseconds; before a table has statistics it
    // takes the nested ones for large.
    options: "-c jit=off",
  });
  // A lost idle connection is replaced by the pool; without a listener it would end the process.
  const say = (error: Error) => log.warn({ err: error }, "a connection to the database was lost");
  made.on("error", say);
  made.on("connect", (client) => void client.on("error", say));
  return made;
}

const WAIT_MS = 1000;

/** Waits until the database answers, however long that takes. */
export async function untilDatabase(): Promise<void> {
  for (let said = false; ; said = true)
    try {
      await database().query("SELECT 1");
      return;
    } catch (error) {
      if (!isDatabaseAway(error)) throw error;
      if (!said) log.warn("The database does not answer; it is waited for.");
      await new Promise((resolve) => setTimeout(resolve, WAIT_MS));
    }
}

/** Does something that needs the database, again and again while that is away. */
export async function onceDatabaseAnswers<T>(work: () => Promise<T>): Promise<T> {
  for (;;) {
    await untilDatabase();
    try {
      return await work();
    } catch (error) {
      if (!isDatabaseAway(error)) throw error;
    }
  }
}

export async function closeDatabase(): Promise<void> {
  await made?.end();
  made = undefined;
}

/** Runs several writes as one: all or none. */
export async function inTransaction<T>(work: (db: Db) => Promise<T>): Promise<T> {
  const client = await database().connect();
  let unusable: Error | undefined;
  try {
    await client.query(begin());
    const result = await work(client);
    await client.query("COMMIT");
    return result;
  } catch (error) {
    await client.query("ROLLBACK").catch((broken: Error) => (unusable = broken));
    throw error;
  } finally {
    // A client that cannot even roll back is no good to anybody else.
    client.release(unusable);
  }
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

/** In one go with who acts, which the database's own notes of changes are made by. */
function begin(): string {
  const person = currentActor();
  return person !== undefined && UUID.test(person)
    ? `BEGIN; SET LOCAL kalonomy.person = '${person}'`
    : "BEGIN";
}

interface Prepared {
  name: string;
  /** What its rows are checked by: the same each time, so that zod compiles it once. */
  schema: z.ZodType;
}

/** Statements that are prepared: planning takes the server longer than carrying most of ours out. */
const prepared = new Map<string, Prepared>();
const MOST_PREPARED = 400;

/** A statement that comes again; undefined, and so planned anew each time, once there are too many different ones. */
function prepare(sql: string, schema: z.ZodType): Prepared | undefined {
  const known = prepared.get(sql);
  if (known || prepared.size >= MOST_PREPARED) return known;
  const made = { name: `s${prepared.size}`, schema };
  prepared.set(sql, made);
  return made;
}

/**
 * Rows, checked as they enter the program.
 * @param plan "each-time" for a search: which way is quick depends on what is looked for, and a prepared statement, once it has come a
 *   few times, is carried out in one way for all values
 */
export async function rows<S extends z.ZodType>(
  db: Db,
  schema: S,
  sql: string,
  values: unknown[] = [],
  plan: "once" | "each-time" = "once",
): Promise<z.infer<S>[]> {
  const known = plan === "once" ? prepare(sql, schema) : undefined;
  const result = await db.query({ name: known?.name, text: sql, values });
  // One statement gives rows of one shape, whoever asks.
  const checked = (known?.schema ?? schema) as S;
  return result.rows.map((row) => checked.parse(row));
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
