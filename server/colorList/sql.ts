import { z } from "zod";
import type { ListedEntry } from "#core/colorList/readList";
import type { ColorTable, TableWish } from "#core/colorList/readTable";
import { FAMILIES, type Family } from "#core/finish/family";
import { LAYOUTS } from "#core/finish/material";
import { type Db, oneRow, rows } from "#server/db/database";

export const COLOR_LIST_STATES = [
  "reading",
  "read",
  "making",
  "done",
  "undoing",
  "undone",
  "failed",
] as const;
export const ITEM_STATES = ["waiting", "made", "changed", "same", "kept", "undone"] as const;
export type ItemState = (typeof ITEM_STATES)[number];

/** The table without its rows: those are the items. Written by ourselves. */
export type TableRead = Omit<ColorTable, "reading"> & {
  reading: (Omit<NonNullable<ColorTable["reading"]>, "entries"> & { errorCount: number }) | null;
};

export const colorListSchema = z.object({
  id: z.string(),
  name: z.string(),
  supplier: z.string(),
  lineName: z.string(),
  family: z.enum(FAMILIES),
  wish: z.custom<TableWish>(),
  goesOn: z.boolean(),
  state: z.enum(COLOR_LIST_STATES),
  failure: z.string().nullable(),
  table: z.custom<TableRead | null>(),
  line: z.string().nullable(),
  counts: z.partialRecord(z.enum(ITEM_STATES), z.number().int()),
  madeBy: z.string(),
  madeById: z.string(),
  undoneById: z.string().nullable(),
  madeAt: z.coerce.date(),
  doneAt: z.coerce.date().nullable(),
});
export type ColorListRow = z.infer<typeof colorListSchema>;

const LIST = `SELECT l.id, l.name, l.supplier, l.line_name AS "lineName", l.family, l.wish, l.goes_on AS "goesOn", l.state, l.failure,
    l.table_read AS "table", l.line, l.made_at AS "madeAt", l.done_at AS "doneAt", p.name AS "madeBy", p.id AS "madeById", l.undone_by AS "undoneById",
    (SELECT COALESCE(jsonb_object_agg(state, n), '{}') FROM (SELECT i.state, count(*) AS n FROM color_list_items i WHERE i.list = l.id GROUP BY i.state) c) AS counts
  FROM color_lists l JOIN people p ON p.id = l.made_by`;

export const findColorList = (db: Db, id: string): Promise<ColorListRow | undefined> =>
  oneRow(db, colorListSchema, `${LIST} WHERE l.id = $1`, [id]);

export const listColorLists = (db: Db, most = 20): Promise<ColorListRow[]> =>
  rows(db, colorListSchema, `${LIST} ORDER BY l.made_at DESC, l.id LIMIT $1`, [most]);

/** Of one that nobody else may change meanwhile. */
export async function lockColorList(db: Db, id: string): Promise<ColorListRow | undefined> {
  await db.query("SELECT FROM color_lists WHERE id = $1 FOR UPDATE", [id]);
  return findColorList(db, id);
}

export async function fileOfColorList(db: Db, id: string): Promise<string | undefined> {
  return (
    await oneRow(db, z.object({ file: z.string() }), "SELECT file FROM color_lists WHERE id = $1", [id])
  )?.file;
}

export async function insertColorList(
  db: Db,
  list: {
    name: string;
    sha256: string;
    bytes: number;
    supplier: string;
    lineName: string;
    family: Family;
    wish: TableWish;
    goesOn: boolean;
    person: string;
  },
): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO color_lists (name, file, bytes, supplier, line_name, family, wish, goes_on, made_by)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9) RETURNING id`,
    [
      ...[list.name, list.sha256, list.bytes, list.supplier, list.lineName],
      ...[list.family, JSON.stringify(list.wish), list.goesOn, list.person],
    ],
  );
  return row!.id;
}

/** What a person says of it; it is read again, and then looked at. */
export async function updateColorList(
  db: Db,
  id: string,
  { supplier, lineName, family, wish }: Pick<ColorListRow, "supplier" | "lineName" | "family" | "wish">,
): Promise<void> {
  await db.query(
    `UPDATE color_lists SET supplier = $2, line_name = $3, family = $4, wish = $5, state = 'reading', goes_on = false, failure = NULL WHERE id = $1`,
    [id, supplier, lineName, family, JSON.stringify(wish)],
  );
}

/** Keeps what was read, in place of what was read before. @param family of those whose row says none */
export async function setRead(
  db: Db,
  id: string,
  { reading, ...table }: ColorTable,
  family: Family,
): Promise<void> {
  const entries = (reading?.entries ?? []).map((entry) => ({ ...entry, family: entry.family ?? family }));
  await db.query("DELETE FROM color_list_items WHERE list = $1", [id]);
  await db.query(
    `INSERT INTO color_list_items (list, place, code, listed)
     SELECT $1, place, listed->>'code', listed FROM jsonb_array_elements($2) WITH ORDINALITY AS each(listed, place)`,
    [id, JSON.stringify(entries)],
  );
  const read: TableRead = { ...table, reading: reading && withoutEntries(reading) };
  await db.query("UPDATE color_lists SET table_read = $2, state = 'read' WHERE id = $1", [
    id,
    JSON.stringify(read),
  ]);
}

/** More are not kept: who has so many looks at the columns first. */
const MOST_ERRORS = 500;

function withoutEntries({ entries: _, errors, ...reading }: NonNullable<ColorTable["reading"]>) {
  return { ...reading, errors: errors.slice(0, MOST_ERRORS), errorCount: errors.length };
}

export async function setColorListState(
  db: Db,
  id: string,
  state: ColorListRow["state"],
  failure: string | null = null,
): Promise<void> {
  await db.query(
    `UPDATE color_lists SET state = $2, failure = $3, done_at = CASE WHEN $2 = 'done' THEN COALESCE(done_at, now()) ELSE done_at END WHERE id = $1`,
    [id, state, failure],
  );
}

/** Has it taken back, in somebody's name. */
export async function beginUndo(db: Db, id: string, person: string): Promise<void> {
  await db.query("UPDATE color_lists SET state = 'undoing', failure = NULL, undone_by = $2 WHERE id = $1", [
    id,
    person,
  ]);
}

export async function setLineOf(db: Db, id: string, line: string): Promise<void> {
  await db.query("UPDATE color_lists SET line = $2 WHERE id = $1", [id, line]);
}

export async function deleteColorList(db: Db, id: string): Promise<void> {
  await db.query("DELETE FROM color_lists WHERE id = $1", [id]);
}

export const itemSchema = z.object({
  place: z.number().int(),
  code: z.string(),
  listed: z.custom<ListedEntry>(),
  state: z.enum(ITEM_STATES),
  material: z.string().nullable(),
  before: z.record(z.string(), z.unknown()).nullable(),
  after: z.record(z.string(), z.unknown()).nullable(),
  said: z.string(),
});
export type ColorListItem = z.infer<typeof itemSchema>;

const ITEM = "SELECT place, code, listed, state, material, before, after, said FROM color_list_items";

export const listItems = (
  db: Db,
  list: string,
  states: readonly ItemState[],
  most: number,
): Promise<ColorListItem[]> =>
  rows(db, itemSchema, `${ITEM} WHERE list = $1 AND state = ANY ($2) ORDER BY place LIMIT $3`, [
    list,
    states,
    most,
  ]);

/** Those of one state that something is said of, the first of them. */
export const listSaid = (db: Db, list: string, state: ItemState): Promise<ColorListItem[]> =>
  rows(
    db,
    itemSchema,
    `${ITEM} WHERE list = $1 AND state = $2 AND said <> '' ORDER BY place LIMIT ${MOST_ERRORS}`,
    [list, state],
  );

export async function noteListItem(
  db: Db,
  list: string,
  place: number,
  item: Partial<Pick<ColorListItem, "material" | "before" | "after">> & Pick<ColorListItem, "state" | "said">,
): Promise<void> {
  await db.query(
    `UPDATE color_list_items SET state = $3, said = $4, material = COALESCE($5, material), before = COALESCE($6, before), after = COALESCE($7, after)
      WHERE list = $1 AND place = $2`,
    [
      ...[list, place, item.state, item.said, item.material ?? null],
      item.before ? JSON.stringify(item.before) : null,
      item.after ? JSON.stringify(item.after) : null,
    ],
  );
}

/** A material of a line under a code, and how a list said it the last time. */
const knownSchema = z.object({
  code: z.string(),
  id: z.string(),
  layout: z.enum(LAYOUTS),
  now: z.object({
    name: z.string(),
    color: z.string().nullable(),
    roughness: z.number(),
    page: z.string().nullable(),
    family: z.enum(FAMILIES).nullable(),
    variant: z.record(z.string(), z.string()),
  }),
  listed: z.custom<ListedEntry | null>(),
});
export type KnownColor = z.infer<typeof knownSchema>;

/** Which of a line's materials there are under some codes; of several under one code, the first. */
export const listKnown = (db: Db, line: string, codes: readonly string[]): Promise<KnownColor[]> =>
  rows(
    db,
    knownSchema,
    `SELECT DISTINCT ON (lower(s.product_code)) lower(s.product_code) AS code, m.id, m.layout,
       jsonb_build_object('name', m.name, 'color', r.finish->'color', 'roughness', r.finish->'roughness', 'page', s.page,
         'family', m.family, 'variant', m.variant) AS now,
       (SELECT i.listed FROM color_list_items i JOIN color_lists l ON l.id = i.list
         WHERE i.material = m.id AND i.state IN ('made', 'changed', 'same') ORDER BY l.made_at DESC LIMIT 1) AS listed
       FROM materials m JOIN sources s ON s.id = m.source JOIN revisions r ON r.material = m.id AND r.number = m.revision
      WHERE m.line = $1 AND lower(s.product_code) = ANY ($2) AND m.deleted_at IS NULL AND m.merged_into IS NULL
      ORDER BY lower(s.product_code), m.created_at, m.id`,
    [line, codes.map((code) => code.toLowerCase())],
  );

/** Materials of a line that came from a list, and stand in this one no more. */
export async function countGone(db: Db, line: string, list: string): Promise<number> {
  const row = await oneRow(
    db,
    z.object({ n: z.coerce.number() }),
    `SELECT count(*) AS n FROM materials m JOIN sources s ON s.id = m.source
      WHERE m.line = $1 AND m.deleted_at IS NULL AND m.merged_into IS NULL
        AND EXISTS (SELECT FROM color_list_items o WHERE o.material = m.id AND o.list <> $2)
        AND NOT EXISTS (SELECT FROM color_list_items i WHERE i.list = $2 AND lower(i.code) = lower(s.product_code))`,
    [line, list],
  );
  return row!.n;
}
