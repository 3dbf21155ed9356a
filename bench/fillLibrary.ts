import type { Pool } from "pg";

/** In one statement, which has to end before a connection gives it up. */
const AT_ONCE = 10_000;

/** Copies of the one material that there is, under names of their own, until there are so many. */
export async function fillLibrary(db: Pool, count: number): Promise<void> {
  const there = (await db.query<{ n: number }>("SELECT count(*)::int AS n FROM materials")).rows[0].n;
  for (let from = there; from < count; from += AT_ONCE)
    await fill(db, from + 1, Math.min(count, from + AT_ONCE));
  await db.query("ANALYZE");
}

async function fill(db: Pool, from: number, to: number): Promise<void> {
  const client = await db.connect();
  try {
    await client.query("BEGIN");
    await client.query(
      `INSERT INTO materials (code, file_name, name, kind, layout, source, created_by)
       SELECT 'B' || n, 'b-' || n, (ARRAY['Brick', 'Slate', 'Oak', 'Plaster', 'Terrazzo'])[1 + n % 5] || ' ' || md5(n::text),
              'material', 'repeating', m.source, m.created_by
         FROM generate_series($1::int, $2::int) AS n, (SELECT * FROM materials ORDER BY created_at LIMIT 1) AS m`,
      [from, to],
    );
    await client.query(
      `INSERT INTO revisions (material, number, repeat_width_mm, repeat_height_mm, size_state, finish, made_by)
       SELECT new.id, 1, new.size, new.size, CASE WHEN new.size IS NULL THEN 'unknown' ELSE 'known' END, r.finish, r.made_by
         FROM (SELECT id, CASE WHEN code LIKE '%7' THEN NULL ELSE 900 END AS size FROM materials) AS new,
              (SELECT * FROM revisions ORDER BY made_at LIMIT 1) AS r
        WHERE NOT EXISTS (SELECT 1 FROM revisions WHERE material = new.id)`,
    );
    await client.query(
      `INSERT INTO maps (material, revision, role, sha256, channel, file_name)
       SELECT new.id, 1, m.role, m.sha256, m.channel, m.file_name
         FROM materials AS new, (SELECT * FROM maps LIMIT 1) AS m
        WHERE NOT EXISTS (SELECT 1 FROM maps WHERE material = new.id)`,
    );
    await client.query("COMMIT");
  } finally {
    client.release();
  }
}
