import { z } from "zod";
import type { ChangeKind } from "#server/change/asked";
import { saidSchema } from "#server/change/kinds";
import { rows, oneRow, type Db } from "#server/db/database";
import type { Slice } from "#server/db/page";

const CHANGE_STATES = ["running", "done", "undoing", "undone"] as const;
const ITEM_STATES = ["waiting", "changed", "same", "refused", "undone", "kept"] as const;

/** For how many days an act on many materials can be taken back. */
export const UNDO_DAYS = 30;

export const bulkChangeSchema = z.object({
  id: z.string(),
  kind: z.enum(["size", "facts", "name", "grade", "place", "swap", "mend", "delete"] satisfies ChangeKind[]),
  madeBy: z.string(),
  madeAt: z.coerce.date(),
  state: z.enum(CHANGE_STATES),
  failure: z.string().nullable(),
  undoneBy: z.string().nullable(),
  undoneAt: z.coerce.date().nullable(),
  /** Whether it can still be taken back. */
  canUndo: z.boolean(),
  /** How many of its materials are in which state. */
  counts: z.record(z.enum(ITEM_STATES), z.number()),
});
export type BulkChange = z.infer<typeof bulkChangeSchema>;

const COUNTS = ITEM_STATES.map((state) => `'${state}', count(*) FILTER (WHERE i.state = '${state}')`).join(
  ", ",
);

const CHANGE = `
  SELECT c.id, c.kind, p.name AS "madeBy", c.made_at AS "madeAt", c.state, c.failure, u.name AS "undoneBy", c.undone_at AS "undoneAt",
    (c.state = 'done' AND c.made_at > now() - interval '${UNDO_DAYS} days'
      AND EXISTS (SELECT FROM bulk_change_items i WHERE i.change = c.id AND i.state = 'changed')) AS "canUndo",
    (SELECT jsonb_build_object(${COUNTS}) FROM bulk_change_items i WHERE i.change = c.id) AS counts
  FROM bulk_changes c JOIN people p ON p.id = c.made_by LEFT JOIN people u ON u.id = c.undone_by`;

export const findBulkChange = (db: Db, id: string) =>
  oneRow(db, bulkChangeSchema, `${CHANGE} WHERE c.id = $1`, [id]);

export const listBulkChanges = (db: Db, { offset, limit }: Slice) =>
  rows(db, bulkChangeSchema, `${CHANGE} ORDER BY c.made_at DESC, c.id LIMIT $1 OFFSET $2`, [limit, offset]);

export const changedItemSchema = z.object({
  material: z.string(),
  code: z.string(),
  name: z.string(),
  /** Whether the material can be opened. */
  isThere: z.boolean(),
  state: z.enum(ITEM_STATES),
  reason: z.string().nullable(),
  said: z.array(saidSchema).nullable(),
});
export type ChangedItem = z.infer<typeof changedItemSchema>;

/** Its materials: those first that it could not change, or not take back. */
export const listChangedItems = (db: Db, change: string, { offset, limit }: Slice) =>
  rows(
    db,
    changedItemSchema,
    `SELECT i.material, m.code, m.name, m.deleted_at IS NULL AS "isThere", i.state, i.reason, i.said
       FROM bulk_change_items i JOIN materials m ON m.id = i.material WHERE i.change = $1
      ORDER BY i.reason IS NULL, i.place LIMIT $2 OFFSET $3`,
    [change, limit, offset],
  );

const touchedSchema = z.object({ id: z.string(), name: z.string(), materials: z.number() });

/** The projects that hold any of some materials, and how many of them. */
export const listTouchedProjects = (db: Db, materials: string[]) =>
  rows(
    db,
    touchedSchema,
    `SELECT p.id, p.name, count(*)::int AS materials FROM project_revisions t JOIN projects p ON p.id = t.project
      WHERE t.material = ANY ($1) GROUP BY p.id ORDER BY p.number NULLS LAST, lower(p.name)`,
    [materials],
  );

/** What a run needs of an act: what was asked, and of whom. */
const workSchema = z.object({
  kind: bulkChangeSchema.shape.kind,
  asked: z.record(z.string(), z.unknown()),
  state: z.enum(CHANGE_STATES),
  madeBy: z.object({ id: z.string(), name: z.string() }),
  undoneBy: z.object({ id: z.string(), name: z.string() }).nullable(),
});

export const findChangeWork = (db: Db, id: string) =>
  oneRow(
    db,
    workSchema,
    `SELECT c.kind, c.asked, c.state, jsonb_build_object('id', p.id, 'name', p.name) AS "madeBy",
       CASE WHEN u.id IS NULL THEN NULL ELSE jsonb_build_object('id', u.id, 'name', u.name) END AS "undoneBy"
     FROM bulk_changes c JOIN people p ON p.id = c.made_by LEFT JOIN people u ON u.id = c.undone_by WHERE c.id = $1`,
    [id],
  );

const itemSchema = z.object({
  place: z.number(),
  material: z.string(),
  asked: z.record(z.string(), z.unknown()).nullable(),
  before: z.record(z.string(), z.unknown()).nullable(),
  after: z.record(z.string(), z.unknown()).nullable(),
});
export type WorkItem = z.infer<typeof itemSchema>;

/** The next material in a state, which nobody else works on while the transaction lasts; the last first where an act is taken back. */
export const lockNextItem = (db: Db, change: string, state: "waiting" | "changed") =>
  oneRow(
    db,
    itemSchema,
    `SELECT place, material, asked, before, after FROM bulk_change_items WHERE change = $1 AND state = $2
      ORDER BY place ${state === "waiting" ? "ASC" : "DESC"} LIMIT 1 FOR UPDATE SKIP LOCKED`,
    [change, state],
  );
