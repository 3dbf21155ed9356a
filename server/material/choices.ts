import { z } from "zod";
import type { LibrarySearch } from "#core/library/librarySearch";
import { oneRow, rows, type Db } from "#server/db/database";

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

const named = z.array(z.object({ id: z.string(), name: z.string() }));
const searchChoicesSchema = z.object({
  ...{ suppliers: z.array(z.string()), lines: z.array(z.string()), tags: z.array(z.string()) },
  ...{ people: named, collections: named, projects: named, intakes: named },
  like: z.object({ id: z.string(), name: z.string() }).nullable(),
});

/** Its folder, or its first file and how many more, and when it came. */
const INTAKE_NAME = `COALESCE(i.root || '/', (SELECT name FROM intake_uploads u WHERE u.intake = i.id ORDER BY position LIMIT 1), 'no file')
  || CASE WHEN i.root IS NULL AND i.files > 1 THEN ' and ' || i.files - 1 || ' more' ELSE '' END
  || to_char(i.created_at AT TIME ZONE 'UTC', ', YYYY-MM-DD HH24:MI')`;

/** What the library can be searched by that the studio has: as many of each as one can choose from. */
export async function listSearchChoices(db: Db, { like, intake }: LibrarySearch) {
  const list = (of: string) => `(SELECT COALESCE(jsonb_agg(one), '[]') FROM (${of} LIMIT 500) AS every(one))`;
  const byId = (table: string, order = "lower(name)") =>
    list(`SELECT jsonb_build_object('id', id, 'name', name) FROM ${table} ORDER BY ${order}`);
  const choices = await oneRow(
    db,
    searchChoicesSchema,
    `SELECT ${list("SELECT name FROM suppliers ORDER BY lower(name)")} AS suppliers,
       ${list("SELECT DISTINCT name FROM lines l WHERE EXISTS (SELECT FROM materials m WHERE m.line = l.id AND m.deleted_at IS NULL) ORDER BY name")} AS lines,
       ${list("SELECT DISTINCT unnest(tags) AS tag FROM materials WHERE tags <> '{}' AND deleted_at IS NULL ORDER BY tag")} AS tags,
       ${byId("people")} AS people, ${byId("collections")} AS collections,
       ${byId("projects", "number NULLS LAST, lower(name)")} AS projects,
       ${list(`SELECT jsonb_build_object('id', i.id, 'name', ${INTAKE_NAME})
         FROM (SELECT * FROM intakes WHERE state IN ('review', 'accepted') ORDER BY id = $2 DESC, created_at DESC LIMIT 40) i`)} AS intakes,
       (SELECT jsonb_build_object('id', id, 'name', name) FROM materials WHERE id = $1 AND deleted_at IS NULL) AS "like"`,
    [like ?? null, intake ?? null],
  );
  return choices!;
}
