import { expect, test } from "@jest/globals";
import { variantGrid, type LineMember } from "#core/library/variantGrid";

const member = (variant: Record<string, string>, colorOrder: number | null = null): LineMember => ({
  id: JSON.stringify(variant),
  name: Object.values(variant).join(" "),
  ...{ variant, colorOrder },
});
const names = (cells: LineMember[][][]) =>
  cells.map((row) => row.map((cell) => cell.map(({ name }) => name)));

test("colour and joint span a grid, in the order of the colours; what nobody makes is an empty cell", () => {
  const { down, across, cells } = variantGrid([
    member({ colour: "rust", joint: "grey" }, 1.1),
    member({ colour: "rust", joint: "white" }, 1.1),
    member({ colour: "sand", joint: "grey" }, 1.2),
    member({ colour: "coal", joint: "grey" }, 0.9),
    member({ colour: "coal", joint: "white" }, 0.9),
  ]);
  expect(down).toEqual({ axis: "colour", values: ["coal", "rust", "sand"] });
  expect(across).toEqual({ axis: "joint", values: ["grey", "white"] });
  expect(names(cells)).toEqual([
    [["coal grey"], ["coal white"]],
    [["rust grey"], ["rust white"]],
    [["sand grey"], []],
  ]);
});

test("a range in which every colour has but one sheen is no grid of holes: what many share makes groups", () => {
  const colors = Array.from({ length: 30 }, (_, i) =>
    member(
      { colour: `C${i}`, sheen: i % 3 ? "matt" : "gloss", group: i < 18 ? "Reds" : "Blues" },
      1 + i / 30,
    ),
  );
  const { down, across, cells } = variantGrid(colors);
  expect(across).toBeNull();
  expect(down!.values).toHaveLength(2);
  expect(cells.flat(2)).toHaveLength(30);
  for (const [row] of cells)
    expect(row.map(({ colorOrder }) => colorOrder)).toEqual(
      row.map(({ colorOrder }) => colorOrder!).sort((a, b) => a - b),
    );
});

test("one that does not say a way in which others differ keeps its place; of nothing there is one empty row", () => {
  const { across, down, cells } = variantGrid([
    member({ colour: "oak", grade: "brushed" }),
    member({ colour: "oak", grade: "oiled" }),
    member({ colour: "ash", grade: "brushed" }),
    member({ colour: "ash" }),
  ]);
  expect(cells.flat(2)).toHaveLength(4);
  expect([...across!.values, ...down!.values]).toContain("");
  expect(variantGrid([])).toEqual({ across: null, down: null, cells: [[[]]] });
});

test("formats are in the order of their numbers", () => {
  const { down, across } = variantGrid(
    ["1200 mm", "600 mm", "90 mm"].flatMap((format) => [
      member({ format, grade: "A" }),
      member({ format, grade: "B" }),
    ]),
  );
  expect([across!.values, down!.values]).toContainEqual(["90 mm", "600 mm", "1200 mm"]);
});
