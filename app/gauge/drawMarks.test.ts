import { describe, expect, test } from "@jest/globals";
import { heldOf, marksOf, moveMark, nextEnd, residualsOf, startMark, type Marked } from "./drawMarks";
import { EMPTY_GAUGE, linesOf, NO_LINE, type GaugeFields } from "./readGauge";

const IMAGE = { width: 1000, height: 500 };
const LINES: GaugeFields = { ...EMPTY_GAUGE, method: "lines", lines: JSON.stringify([NO_LINE]) };
const RECTANGLE: GaugeFields = { ...EMPTY_GAUGE, method: "rectangle" };
const itself = (point: { x: number; y: number }) => point;

/** A whole stroke. */
function stroke(marked: Marked, [from, ...rest]: [number, number][], pulled = itself): Marked {
  const point = ([x, y]: [number, number]) => ({ x, y });
  const begun = startMark(marked, point(from), 8, IMAGE, pulled);
  const { held } = begun;
  let { fields } = begun;
  for (const place of rest) fields = moveMark({ fields, held }, pulled(point(place)), IMAGE);
  return { fields, held };
}
const FIRST = { line: 0, end: "to" } as const;

describe("marks", () => {
  test("a line is drawn from where the pointer came down to where it went up, and keeps its length", () => {
    const lines = JSON.stringify([{ ...NO_LINE, length: "2 m" }]);
    const { fields } = stroke({ fields: { ...LINES, lines }, held: FIRST }, [
      [10, 20],
      [50, 60],
      [110, 20.04],
    ]);
    expect(linesOf(fields)).toEqual([
      { fromX: "10.0", fromY: "20.0", toX: "110.0", toY: "20.0", length: "2 m" },
    ]);
  });

  test("an end within reach is taken up again, and the other one stays", () => {
    const drawn = stroke({ fields: LINES, held: FIRST }, [
      [10, 20],
      [110, 20],
    ]);
    const { fields, held } = stroke(drawn, [
      [14, 23],
      [30, 40],
    ]);
    expect(held).toEqual({ line: 0, end: "from" });
    expect(marksOf(fields)).toEqual([{ from: { x: 30, y: 40 }, to: { x: 110, y: 20 } }]);
  });

  test("what is drawn past the image ends at its edge, and joints pull", () => {
    const past = stroke({ fields: RECTANGLE, held: FIRST }, [
      [-20, 30],
      [2000, 700],
    ]);
    expect(marksOf(past.fields)).toEqual([{ from: { x: 0, y: 30 }, to: { x: 1000, y: 500 } }]);
    const toTens = ({ x, y }: { x: number; y: number }) => ({ x: Math.round(x / 10) * 10, y });
    const pulled = stroke(
      { fields: RECTANGLE, held: FIRST },
      [
        [13, 30],
        [57, 90],
      ],
      toTens,
    );
    expect(marksOf(pulled.fields)).toEqual([{ from: { x: 10, y: 30 }, to: { x: 60, y: 90 } }]);
  });

  test("keys go from end to end and line to line, and a line that is gone is not held", () => {
    const two = { ...LINES, lines: JSON.stringify([NO_LINE, NO_LINE]) };
    let held = nextEnd(two, { line: 0, end: "from" });
    expect(held).toEqual({ line: 0, end: "to" });
    held = nextEnd(two, held);
    expect(held).toEqual({ line: 1, end: "from" });
    expect(nextEnd(two, { line: 1, end: "to" })).toEqual({ line: 0, end: "from" });
    expect(nextEnd(RECTANGLE, { line: 0, end: "to" })).toEqual({ line: 0, end: "from" });
    expect(heldOf(LINES, { line: 7, end: "to" })).toEqual({ line: 0, end: "to" });
  });

  test("residuals stand in the rows of the lines that have both ends, or nowhere", () => {
    const mark = { from: { x: 0, y: 0 }, to: { x: 1, y: 1 } };
    const result = (residuals: number[]) => ({ residuals }) as Parameters<typeof residualsOf>[1];
    expect(residualsOf([mark, undefined, mark], result([1, 2]))).toEqual([1, undefined, 2]);
    expect(residualsOf([mark, undefined, mark], result([1]))).toEqual([undefined, undefined, undefined]);
  });
});
