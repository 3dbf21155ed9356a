import type { IncomingMessage } from "node:http";
import { z } from "zod";
import { MEANINGS } from "#core/colorList/meaning";
import type { TableWish } from "#core/colorList/readTable";
import { WHITES } from "#core/colorList/white";
import { FAMILIES } from "#core/finish/family";
import { plainLine } from "#core/text/plainText";
import type { Person } from "#server/auth/person";
import {
  beginUndo,
  deleteColorList,
  fileOfColorList,
  findColorList,
  insertColorList,
  lockColorList,
  setColorListState,
  setRead,
  updateColorList,
  type ColorListRow,
} from "#server/colorList/sql";
import { database, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { MOST_COLOR_LIST_BYTES } from "#server/http/bodies";
import { jsonField } from "#server/http/cleanForm";
import { receiveForm } from "#server/http/receiveForm";
import { bytesLeftToday, checkDayLimit } from "#server/intake/receiving/dayLimit";
import { addJob } from "#server/jobs/queue";
import { pool } from "#server/pool/pool";
import { badField, conflict, notFound } from "#server/problem";
import { insertFile } from "#server/store/sql";
import { fileStore } from "#server/store/store";

/** What reading a table may cost: a workbook's numbers stand in long text. */
const LIMITS = { seconds: 60, mebibytes: 1024 };

const named = (what: string) =>
  z.string().trim().min(1, `Say ${what}.`).max(200, "At most 200 characters are kept.");

const place = z.number().int().min(0).max(99);
export const wishSchema = z
  .strictObject({
    sheet: z.string().max(100),
    columns: z.partialRecord(z.enum(MEANINGS), place),
    white: z.enum(WHITES),
  })
  .partial();

/** What is said of a list when it is handed in or looked at. */
export const listFactsSchema = z.object({
  supplier: named("whose colours they are"),
  lineName: named("what the line is called"),
  family: z.enum(FAMILIES).default("paint"),
  wish: wishSchema.default({}),
});
export type ListFacts = z.infer<typeof listFactsSchema>;

/**
 * Keeps a list of colours that is sent as a form, in the field “file”. The worker reads it.
 * @throws {Problem} by the field that does not fit
 */
export async function handInColorList(request: IncomingMessage, person: Person): Promise<ColorListRow> {
  await checkDayLimit(person.id, Number(request.headers["content-length"] ?? 0));
  const { uploads, fields } = await receiveForm(request, {
    field: "file",
    mostFiles: 1,
    mostOfOne: MOST_COLOR_LIST_BYTES,
    most: Math.min(MOST_COLOR_LIST_BYTES + 2 ** 20, await bytesLeftToday(person.id)),
  });
  const [file] = uploads;
  if (!file) throw badField("/file", "No file came. Send a CSV or an Excel workbook in the field “file”.");
  const { look, ...facts } = readFacts(fields, file.name);
  return inTransaction(async (db) => {
    await insertFile(db, { sha256: file.sha256, bytes: file.bytes, mediaType: "application/octet-stream" });
    const id = await insertColorList(db, {
      ...{ ...file, ...facts, person: person.id, goesOn: !look },
      name: plainLine(file.name, 200),
    });
    await addJob(db, "read-colors", { list: id });
    await announce(db, { topic: "library", id });
    return (await findColorList(db, id))!;
  });
}

const fieldsSchema = z.object({
  supplier: named("whose colours they are: the field “supplier”"),
  line: named("what the line is called"),
  family: z.enum(FAMILIES).default("paint"),
  columns: z.string().optional(),
  white: z.enum(WHITES).optional(),
  sheet: z.string().max(100).optional(),
  /** Whether somebody looks at what was read before anything is made. */
  look: z.stringbool().default(false),
});

function readFacts(fields: Record<string, string>, fileName: string): ListFacts & { look: boolean } {
  // A list is called as its file is, unless somebody says otherwise.
  const line = fields.line?.trim() || fileName.replace(/\.[^.]*$/, "");
  const filled = Object.fromEntries(Object.entries(fields).filter(([, value]) => value.trim() !== ""));
  const { columns, white, sheet, ...facts } = mustFit(fieldsSchema, { ...filled, line }, "");
  const wish: TableWish = {
    ...(columns !== undefined && {
      columns: mustFit(wishSchema.shape.columns.unwrap(), jsonField(columns), "/columns"),
    }),
    ...(white && { white }),
    ...(sheet && { sheet }),
  };
  return { supplier: facts.supplier, lineName: facts.line, family: facts.family, look: facts.look, wish };
}

function mustFit<S extends z.ZodType>(schema: S, value: unknown, at: string): z.infer<S> {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  const [{ path, message }] = read.error.issues;
  throw badField(`${at}/${path.join("/")}`, message);
}

/** Reads a list, and goes on if that was asked for. Run by the worker, and may be run again. @throws {Refusal} */
export async function readColors(id: string): Promise<void> {
  const [list, file] = [await findColorList(database(), id), await fileOfColorList(database(), id)];
  if (list?.state !== "reading" || file === undefined) return;
  const table = await fileStore().withLocal([file], (pathOf) =>
    pool.readColorList({ ...list.wish, path: pathOf(file) }, LIMITS),
  );
  await inTransaction(async (db) => {
    const now = await lockColorList(db, id);
    // Somebody may have said something else meanwhile, and a job of its own reads that.
    if (now?.state !== "reading" || JSON.stringify(now.wish) !== JSON.stringify(list.wish)) return;
    await setRead(db, id, table, now.family);
    if (now.goesOn && table.reading) await beginMaking(db, now);
    else if (now.goesOn) await setColorListState(db, id, "failed", table.lacking);
    await announce(db, { topic: "library", id });
  });
}

/** Says something else of a list that has made nothing yet. @throws {Problem} */
export async function changeColorList(id: string, facts: Partial<ListFacts>): Promise<ColorListRow> {
  return inTransaction(async (db) => {
    const list = await lockColorList(db, id);
    if (!list) throw notFound("list");
    if (!["reading", "read", "failed"].includes(list.state) || list.doneAt !== null)
      throw conflict("Its colours are in the library. Hand the list in again to change what it said.");
    await updateColorList(db, id, { ...list, ...facts });
    await addJob(db, "read-colors", { list: id });
    await announce(db, { topic: "library", id });
    return (await findColorList(db, id))!;
  });
}

/** Has the colours of a list made, or brought up to what it says. @throws {Problem} */
export async function makeColors(id: string): Promise<ColorListRow> {
  return inTransaction(async (db) => {
    const list = await lockColorList(db, id);
    if (!list) throw notFound("list");
    // What was broken off goes on where it was.
    const isBrokenOff = list.state === "done" && (list.counts.waiting ?? 0) > 0;
    if (!isBrokenOff && (list.state !== "read" || !list.table?.reading))
      throw conflict(
        list.state === "read" ? list.table!.lacking! : `It is “${list.state}”; only what was read is made.`,
      );
    await beginMaking(db, list);
    await announce(db, { topic: "library", id });
    return (await findColorList(db, id))!;
  });
}

async function beginMaking(db: Parameters<typeof setColorListState>[0], { id }: ColorListRow): Promise<void> {
  await setColorListState(db, id, "making");
  await addJob(db, "make-colors", { list: id });
}

/** For so long what a list made can be taken back. */
const UNDO_DAYS = 30;

/** Whether what it made can be taken back today. */
export const canUndo = ({ state, doneAt, counts }: ColorListRow): boolean =>
  state === "done" &&
  (counts.made ?? 0) + (counts.changed ?? 0) > 0 &&
  doneAt !== null &&
  Date.now() - doneAt.getTime() < UNDO_DAYS * 86_400_000;

/** Takes back what a list made, as far as nobody has changed it since. @throws {Problem} */
export async function undoColors(id: string, person: Person): Promise<ColorListRow> {
  return inTransaction(async (db) => {
    const list = await lockColorList(db, id);
    if (!list) throw notFound("list");
    if (!canUndo(list))
      throw conflict(
        list.state === "done"
          ? `It has made nothing, or is older than ${UNDO_DAYS} days.`
          : `It is “${list.state}”; only what is done can be taken back.`,
      );
    await beginUndo(db, id, person.id);
    await addJob(db, "make-colors", { list: id });
    await announce(db, { topic: "library", id });
    return (await findColorList(db, id))!;
  });
}

/** Deletes a list that has made nothing. @throws {Problem} */
export async function removeColorList(id: string): Promise<void> {
  await inTransaction(async (db) => {
    const list = await lockColorList(db, id);
    if (!list) throw notFound("list");
    if (list.doneAt !== null || list.state === "making")
      throw conflict(
        "What it made is in the library, and it says where that came from. Take it back instead.",
      );
    await deleteColorList(db, id);
    await announce(db, { topic: "library", id });
  });
}

export async function failColorList(id: string, reason: string): Promise<void> {
  await inTransaction(async (db) => {
    const list = await lockColorList(db, id);
    if (!list) return;
    // What is made stays, and can be taken back.
    const isMade = list.state === "making" || list.state === "undoing";
    await setColorListState(db, id, isMade ? "done" : "failed", reason);
    await announce(db, { topic: "library", id });
  });
}
