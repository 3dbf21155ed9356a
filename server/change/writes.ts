import { z } from "zod";
import type { Asked } from "#server/change/asked";
import type { Changed } from "#server/change/kinds";
import { oneRow, violates, type Db } from "#server/db/database";
import { badField } from "#server/problem";

/** @returns its id. @throws {Problem} where one of its materials is not there */
export async function insertChange(db: Db, asked: Asked, person: string): Promise<string> {
  const { kind, ...rest } = asked;
  const items =
    "items" in asked
      ? asked.items.map(({ material, ...own }) => ({ material, asked: own }))
      : asked.materials.map((material) => ({ material, asked: null }));
  const { materials: _, items: __, ...forAll } = rest as Record<string, unknown>;
  const made = await oneRow(
    db,
    z.object({ id: z.string() }),
    "INSERT INTO bulk_changes (kind, asked, made_by) VALUES ($1, $2, $3) RETURNING id",
    [kind, JSON.stringify(forAll), person],
  );
  try {
    await db.query(
      `INSERT INTO bulk_change_items (change, place, material, asked)
       SELECT $1, place, (item->>'material')::uuid, NULLIF(item->'asked', 'null')
         FROM jsonb_array_elements($2) WITH ORDINALITY AS each(item, place)`,
      [made!.id, JSON.stringify(items)],
    );
  } catch (error) {
    if (violates(error, "bulk_change_items_material_fkey"))
      throw badField("/materials", "One of these materials is not there. Load the page again.");
    throw error;
  }
  return made!.id;
}

/** What became of one of its materials. */
export async function noteChanged(
  db: Db,
  change: string,
  place: number,
  changed: Changed | undefined,
): Promise<void> {
  await db.query(
    `UPDATE bulk_change_items SET state = $3, before = $4, after = $5, said = $6 WHERE change = $1 AND place = $2`,
    [
      ...[change, place, changed ? "changed" : "same"],
      ...(changed
        ? [changed.before, changed.after, changed.said].map((value) => JSON.stringify(value))
        : [null, null, null]),
    ],
  );
}

export async function noteItem(
  db: Db,
  change: string,
  place: number,
  state: "refused" | "undone" | "kept",
  reason: string | null,
): Promise<void> {
  await db.query("UPDATE bulk_change_items SET state = $3, reason = $4 WHERE change = $1 AND place = $2", [
    change,
    place,
    state,
    reason,
  ]);
}

/** What is left to do while an act goes on, by what it is about. */
const OPEN = { running: "waiting", undoing: "changed" } as const;
export type GoingOn = keyof typeof OPEN;

/** It is over, if nothing is left to do: done, or undone. Whoever works on the last of it says so, and nobody before. */
export async function endChange(db: Db, id: string, from: GoingOn): Promise<void> {
  await db.query(
    `UPDATE bulk_changes SET state = $3 WHERE id = $1 AND state = $2
       AND NOT EXISTS (SELECT FROM bulk_change_items WHERE change = $1 AND state = $4)`,
    [id, from, from === "running" ? "done" : "undone", OPEN[from]],
  );
}

/** It was given up: what was done can be taken back, and taking back can be asked for again. */
export async function breakOffChange(db: Db, id: string, failure: string): Promise<void> {
  await db.query(
    `UPDATE bulk_changes SET failure = $2, state = 'done', undone_by = NULL, undone_at = NULL
      WHERE id = $1 AND state IN ('running', 'undoing')`,
    [id, failure],
  );
}

/** @returns whether it was done, and nobody had asked for that yet */
export async function beginUndo(db: Db, id: string, person: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "UPDATE bulk_changes SET state = 'undoing', undone_by = $2, undone_at = now(), failure = NULL WHERE id = $1 AND state = 'done'",
    [id, person],
  );
  return rowCount === 1;
}
