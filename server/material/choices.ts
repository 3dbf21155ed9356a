import { z } from "zod";
import { rows, type Db } from "#server/db/database";

const choiceSchema = z.object({ kind: z.enum(["collection", "project"]), id: z.string(), name: z.string() });

/** The names of all collections and projects, for giving something to one of them. */
export async function listChoices(db: Db) {
  const all = await rows(
    db,
    choiceSchema,
    `SELECT kind, id, name FROM (
       SELECT 'collection' AS kind, id, name, NULL AS number FROM collections
       UNION ALL SELECT 'project', id, name, number FROM projects) AS choices
      ORDER BY kind, number NULLS LAST, lower(name)`,
  );
  const of = (kind: string) => all.filter((one) => one.kind === kind).map(({ id, name }) => ({ id, name }));
  return { collections: of("collection"), projects: of("project") };
}
