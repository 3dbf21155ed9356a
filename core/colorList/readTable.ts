import { recogniseColumns, wrongColumns, type Cell } from "#core/colorList/columns";
import { notationsOf, type Columns } from "#core/colorList/meaning";
import { readList, type ListReading } from "#core/colorList/readList";
import type { White } from "#core/colorList/white";
import { Refusal } from "#core/text/refusal";

/** What a person says of a table; what is not said is recognised. */
export interface TableWish {
  sheet?: string;
  columns?: Columns;
  white?: White;
}

/** A table with colours, and what was read in it. */
export interface ColorTable {
  /** All sheets of a workbook; a text has none. */
  sheets: string[];
  sheet: string;
  rows: number;
  /** What stands over each column; empty where nothing does. */
  headings: string[];
  /** The first rows below the headings, as they are written. */
  sample: string[][];
  columns: Columns;
  /** Nothing where columns are lacking. */
  reading: ListReading | null;
  /** What has to be said before it can be read. */
  lacking: string | null;
}

const SAMPLE = 5;

/** @throws {Refusal} where there is nothing in it, or a person's columns cannot be */
export function readColorTable(
  sheets: readonly { name: string; rows: Cell[][] }[],
  wish: TableWish,
): ColorTable {
  const filled = sheets.filter(({ rows }) => rows.some((row) => row.some((cell) => cell !== null)));
  if (filled.length === 0) throw new Refusal("There is nothing in it.");
  const asked = wish.sheet === undefined ? undefined : filled.find(({ name }) => name === wish.sheet);
  if (wish.sheet !== undefined && !asked)
    throw new Refusal(
      `There is no sheet “${wish.sheet}” with anything in it: ${filled.map(({ name }) => name).join(", ")}.`,
    );
  const { name, rows } = asked ?? fullest(filled);
  const recognised = recogniseColumns(rows);
  const columns = wish.columns ?? recognised.columns;
  const width = Math.max(...rows.map((row) => row.length));
  const wrong = wrongColumns(columns, width);
  if (wrong !== undefined) throw new Refusal(wrong);
  const heading = recognised.heading;
  const table = {
    sheets: filled.map(({ name }) => name).filter((name) => name !== ""),
    ...{ sheet: name, rows: rows.length, columns },
    headings: texts(heading === undefined ? [] : rows[heading], width),
    sample: rows
      .slice((heading ?? -1) + 1)
      .filter((row) => row.some((cell) => cell !== null))
      .slice(0, SAMPLE)
      .map((row) => texts(row, width)),
  };
  try {
    const reading = readList(rows, { columns, heading }, wish.white ?? recognised.white);
    if (reading.entries.length === 0 && reading.errors.length === 0)
      throw new Refusal("There is no row with a colour in it.");
    return { ...table, reading, lacking: null };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { ...table, reading: null, lacking: error.message };
  }
}

const texts = (row: readonly Cell[], width: number) =>
  Array.from({ length: width }, (_, place) => String(row[place] ?? ""));

/** The sheet in which most rows can be told to be colours: others hold notes and covers. */
function fullest<S extends { rows: Cell[][] }>(sheets: readonly S[]): S {
  const score = ({ rows }: S) => {
    const { columns } = recogniseColumns(rows);
    const isList = columns.code !== undefined && notationsOf(columns).length > 0;
    return (isList ? 1e6 : 0) + rows.length;
  };
  return sheets.reduce((best, sheet) => (score(sheet) > score(best) ? sheet : best));
}
