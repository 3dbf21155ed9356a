import type { Likeness } from "#core/judge/likeness";
import type { Db } from "#server/db/database";
import type { Decision } from "#server/likeness/queries";

/** Keeps what was measured; what was decided of a pair stays. */
export async function insertLikenesses(
  db: Db,
  sha256: string,
  found: { sha256: string; likeness: Likeness }[],
): Promise<void> {
  for (const { sha256: other, likeness } of found) {
    const [first, second] = [sha256, other].sort();
    const { alike, mirrored, turns, shiftX, shiftY, tint, parts } = likeness;
    await db.query(
      `INSERT INTO likenesses (first, second, alike, turns, shift_x, shift_y, tint, mirrored, parts) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)
       ON CONFLICT (first, second) DO UPDATE SET alike = excluded.alike, turns = excluded.turns, shift_x = excluded.shift_x,
         shift_y = excluded.shift_y, tint = excluded.tint, mirrored = excluded.mirrored, parts = excluded.parts`,
      [first, second, alike, turns, shiftX, shiftY, tint, mirrored, parts ? JSON.stringify(parts) : null],
    );
  }
}

/** @returns whether there is such a pair. */
export async function updateDecision(
  db: Db,
  pair: { first: string; second: string },
  decision: Decision | null,
  person: string,
): Promise<boolean> {
  const done = await db.query(
    `UPDATE likenesses SET decision = $3, decided_by = CASE WHEN $3::text IS NULL THEN NULL ELSE $4::uuid END,
       decided_at = CASE WHEN $3::text IS NULL THEN NULL ELSE now() END WHERE first = $1 AND second = $2`,
    [pair.first, pair.second, decision, person],
  );
  return done.rowCount === 1;
}

/** Puts materials into a line, as what follows from a pair. */
export async function joinLine(
  db: Db,
  pair: { first: string; second: string },
  line: string,
  materials: string[],
): Promise<void> {
  await db.query("UPDATE materials SET line = $1 WHERE id = ANY ($2)", [line, materials]);
  await db.query("UPDATE likenesses SET lined = $3 WHERE first = $1 AND second = $2", [
    ...[pair.first, pair.second, materials],
  ]);
}

/** Takes those out of their line again that came into it by a pair. */
export async function leaveLine(db: Db, pair: { first: string; second: string }): Promise<void> {
  await db.query(
    `UPDATE materials SET line = NULL
      WHERE id IN (SELECT unnest(lined) FROM likenesses WHERE first = $1 AND second = $2)`,
    [pair.first, pair.second],
  );
  await db.query("UPDATE likenesses SET lined = '{}' WHERE first = $1 AND second = $2", [
    pair.first,
    pair.second,
  ]);
}
