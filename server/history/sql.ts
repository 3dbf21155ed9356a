import { z } from "zod";
import { type Db, rows } from "#server/db/database";

/** One act's change of facts: by fields, with ids where the database has ids. */
const factChangeSchema = z.object({
  /** The first of its notes: acts are told apart by it. */
  id: z.coerce.string(),
  madeAt: z.coerce.date(),
  madeBy: z.string().nullable(),
  before: z.record(z.string(), z.unknown()),
  after: z.record(z.string(), z.unknown()),
});
export type FactChange = z.infer<typeof factChangeSchema>;

export type Subject = "material" | "licence";

const MOST = 200;

/** What was changed of a material's facts, or of a licence, the newest first. One act may have written several times. */
export const listFactChanges = (db: Db, of: Subject, id: string): Promise<FactChange[]> =>
  rows(
    db,
    factChangeSchema,
    `SELECT min(f.id) AS id, f.made_at AS "madeAt", p.name AS "madeBy",
       (SELECT jsonb_object_agg(key, value) FROM (SELECT DISTINCT ON (key) key, value FROM fact_changes g, jsonb_each(g.before)
         WHERE g.id = ANY (array_agg(f.id)) ORDER BY key, g.id) firsts) AS before,
       (SELECT jsonb_object_agg(key, value) FROM (SELECT DISTINCT ON (key) key, value FROM fact_changes g, jsonb_each(g.after)
         WHERE g.id = ANY (array_agg(f.id)) ORDER BY key, g.id DESC) lasts) AS after
       FROM fact_changes f LEFT JOIN people p ON p.id = f.made_by WHERE f.${of} = $1
      GROUP BY f.made_at, f.made_by, p.name ORDER BY min(f.id) DESC LIMIT ${MOST}`,
    [id],
  );

/** Whether somebody has changed a material's facts after a moment. */
export async function hasFactChanges(db: Db, material: string, after: Date): Promise<boolean> {
  const { rowCount } = await db.query(
    "SELECT FROM fact_changes WHERE material = $1 AND made_at > $2 LIMIT 1",
    [material, after],
  );
  return rowCount === 1;
}

const namedSchema = z.object({ id: z.string(), name: z.string() });

/** What the ids of suppliers, licences, lines and projects are called. */
export const namesOf = async (db: Db, ids: readonly string[]): Promise<Map<string, string>> =>
  new Map(
    (
      await rows(
        db,
        namedSchema,
        `SELECT id, name FROM suppliers WHERE id = ANY ($1) UNION ALL SELECT id, name FROM licences WHERE id = ANY ($1)
         UNION ALL SELECT id, name FROM lines WHERE id = ANY ($1) UNION ALL SELECT id, name FROM projects WHERE id = ANY ($1)`,
        [ids],
      )
    ).map(({ id, name }) => [id, name]),
  );
