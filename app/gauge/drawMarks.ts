import type { GaugeResult, PixelSize, Point } from "#core/gauge/repeat";
import type { Ends } from "./Marks";
import { linesOf, NO_LINE, type GaugeFields } from "./readGauge";

export type End = keyof Ends;

/** The end of a mark that is held: of which line, or of the rectangle, which is the only one. */
export interface Held {
  line: number;
  end: End;
}

export interface Marked {
  fields: GaugeFields;
  held: Held;
}

/** The marks that are drawn: the rectangle, or each of the lines. */
export const marksOf = (fields: GaugeFields): (Ends | undefined)[] =>
  fields.method === "rectangle" ? [endsOf(fields)] : linesOf(fields).map(endsOf);

/** What is held as it is there: a line that was taken out holds nothing. */
export const heldOf = (fields: GaugeFields, { line, end }: Held): Held => ({
  end,
  line: fields.method === "rectangle" ? 0 : Math.min(line, Math.max(0, linesOf(fields).length - 1)),
});

/** The pointer comes down: takes hold of an end within reach, or draws the held mark anew from there. */
export function startMark(
  { fields, held }: Marked,
  point: Point,
  reach: number,
  image: PixelSize,
  pulled: (point: Point) => Point,
): Marked {
  const near = nearest(marksOf(fields), point, reach);
  if (near) return { fields, held: near };
  const { line } = heldOf(fields, held);
  const at = pulled(point);
  return { fields: putMark(fields, line, { from: at, to: at }, image), held: { line, end: "to" } };
}

/** Moves the end that is held. */
export const moveMark = ({ fields, held }: Marked, to: Point, image: PixelSize): GaugeFields =>
  putMark(fields, heldOf(fields, held).line, { [held.end]: to }, image);

/** The next end: of the same mark, then of the next line. */
export function nextEnd(fields: GaugeFields, held: Held): Held {
  const { line } = heldOf(fields, held);
  if (held.end === "from") return { line, end: "to" };
  const lines = fields.method === "rectangle" ? 1 : linesOf(fields).length;
  return { line: (line + 1) % Math.max(1, lines), end: "from" };
}

/** The fields say where a mark is, in pixels with a tenth. */
function putMark(
  fields: GaugeFields,
  which: number,
  moved: Partial<Record<End, Point>>,
  image: PixelSize,
): GaugeFields {
  const texts: Record<string, string> = {};
  for (const [end, point] of Object.entries(moved)) {
    texts[`${end}X`] = clamp(point.x, image.width).toFixed(1);
    texts[`${end}Y`] = clamp(point.y, image.height).toFixed(1);
  }
  if (fields.method === "rectangle") return { ...fields, ...texts };
  const lines = linesOf(fields);
  const rows = lines.length > which ? lines : [...lines, NO_LINE];
  return {
    ...fields,
    lines: JSON.stringify(rows.map((row, i) => (i === which ? { ...row, ...texts } : row))),
  };
}

const clamp = (value: number, most: number) => Math.min(most, Math.max(0, value));

/** Where a mark lies, as soon as both of its ends are there. */
function endsOf(fields: Record<"fromX" | "fromY" | "toX" | "toY", string>): Ends | undefined {
  const texts = [fields.fromX, fields.fromY, fields.toX, fields.toY];
  const [x1, y1, x2, y2] = texts.map((text) => (text.trim() === "" ? NaN : Number(text.replace(",", "."))));
  if ([x1, y1, x2, y2].some((value) => !Number.isFinite(value))) return undefined;
  return { from: { x: x1, y: y1 }, to: { x: x2, y: y2 } };
}

/** The end of a mark that lies within reach of a point. */
function nearest(ends: (Ends | undefined)[], point: Point, reach: number): Held | undefined {
  const all = ends.flatMap((mark, line) =>
    mark
      ? (["from", "to"] as const).map((end) => ({
          line,
          end,
          distance: Math.hypot(mark[end].x - point.x, mark[end].y - point.y),
        }))
      : [],
  );
  const [first] = all.filter(({ distance }) => distance <= reach).sort((a, b) => a.distance - b.distance);
  return first && { line: first.line, end: first.end };
}

/** The residuals of the finished lines, in the places of their rows. */
export function residualsOf(
  ends: (Ends | undefined)[],
  result: GaugeResult | undefined,
): (number | undefined)[] {
  const finished = [...(result?.residuals ?? [])];
  // A row without a real length is not among them; then it is not told which is which.
  if (finished.length !== ends.filter(Boolean).length) return ends.map(() => undefined);
  return ends.map((mark) => (mark ? finished.shift() : undefined));
}
