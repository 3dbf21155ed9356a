import { readFile, stat } from "node:fs/promises";
import Papa from "papaparse";
import { readColorTable, type ColorTable, type TableWish } from "#core/colorList/readTable";
import type { Cell } from "#core/colorList/columns";
import { plainLine } from "#core/text/plainText";
import { Refusal } from "#core/text/refusal";
import { encodingOf } from "#server/opening/encodingOf";
import { looksLikeArchive, newBudget, readArchive } from "#server/opening/openArchive";

/** More colours than any range has; what comes after would be another mistake. */
const MOST_ROWS = 20_000;
const MOST_COLUMNS = 100;
const LONGEST_CELL = 1000;
const WHAT_WOULD_DO = "Save the table as CSV or as an Excel workbook (.xlsx).";

export interface ReadColorListTask extends TableWish {
  path: string;
}

/** Reads a list of coloured rows: text with separators, or a workbook, whatever it is called. @throws {Refusal} */
export async function readColorList({ path, ...wish }: ReadColorListTask): Promise<ColorTable> {
  const { size } = await stat(path);
  const sheets = (await looksLikeArchive(path)) ? await sheetsOf(path, size) : [await textTable(path)];
  return readColorTable(
    sheets.map(({ name, rows }) => ({ name, rows: rows.map(plainRow) })),
    wish,
  );
}

interface Sheet {
  name: string;
  rows: unknown[][];
}

async function sheetsOf(path: string, size: number): Promise<Sheet[]> {
  let isWorkbook = false;
  await readArchive(
    path,
    ({ name }) => {
      isWorkbook ||= name === "xl/workbook.xml";
      return Promise.resolve();
    },
    (name, reason) => {
      throw new Refusal(`“${name}” in it cannot be read: ${reason}`);
    },
    newBudget(size),
  );
  if (!isWorkbook) throw new Refusal(`It is a zip, and no Excel workbook. ${WHAT_WOULD_DO}`);
  const { default: readWorkbook } = await import("read-excel-file/node");
  const sheets = await readWorkbook(path).catch(() => {
    throw new Refusal(`The workbook is damaged. ${WHAT_WOULD_DO}`);
  });
  return sheets.map(({ sheet, data }) => ({ name: plainLine(sheet, 100), rows: bounded(data) }));
}

/** What Excel wrote before 2007. */
const OLD_WORKBOOK = [0xd0, 0xcf, 0x11, 0xe0];

async function textTable(path: string): Promise<Sheet> {
  const bytes = await readFile(path);
  if (OLD_WORKBOOK.every((byte, i) => bytes[i] === byte))
    throw new Refusal(`It is a workbook in the old format (.xls). ${WHAT_WOULD_DO}`);
  const text = new TextDecoder(await encodingOf(path, WHAT_WOULD_DO)).decode(bytes);
  const { data } = Papa.parse<string[]>(text, {
    preview: MOST_ROWS + 1,
    delimitersToGuess: [";", "\t", ",", "|"],
  });
  return { name: "", rows: bounded(data) };
}

function bounded<R>(rows: R[]): R[] {
  if (rows.length > MOST_ROWS)
    throw new Refusal(
      `It has more than ${MOST_ROWS.toLocaleString("en")} rows; no range of colours has so many. Hand it in in parts, or only the rows that are wanted.`,
    );
  return rows;
}

const plainRow = (row: readonly unknown[]): Cell[] => row.slice(0, MOST_COLUMNS).map(plainCell);

function plainCell(cell: unknown): Cell {
  if (cell === null || cell === undefined) return null;
  if (typeof cell === "number") return Number.isFinite(cell) ? cell : null;
  const text = cell instanceof Date ? cell.toISOString().slice(0, 10) : String(cell as string | boolean);
  return plainLine(text, LONGEST_CELL).trim() || null;
}
