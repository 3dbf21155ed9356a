import { describe, expect, test } from "@jest/globals";
import { recogniseColumns, wrongColumns, type Cell } from "#core/colorList/columns";
import { fromHex, fromLab, fromXyY } from "#core/colorList/notation";
import { readList, type ListReading } from "#core/colorList/readList";
import { glossOfSheen } from "#core/colorList/sheen";
import { numberIn, threeIn } from "#core/colorList/readRow";
import { linearToLab } from "#core/raster/lab";
import { hexToLinear } from "#core/raster/srgb";
import { seededRandom } from "#core/pattern/random";

const read = (rows: Cell[][], white?: "D50" | "D65"): ListReading =>
  readList(rows, recogniseColumns(rows), white);
const errorsOf = (rows: Cell[][]) => read(rows).errors.map(({ row, detail }) => `${row}: ${detail}`);

describe("colours in any notation", () => {
  // Published pairs: IEC 61966-2-1's red under D65, and the same adapted to D50 by Bradford's method (ICC's sRGB profile).
  test.each([
    ["red under D65", fromLab(53.24, 80.09, 67.2, "D65"), "#ff0000"],
    ["red under D50", fromLab(54.29, 80.8, 69.89, "D50"), "#ff0000"],
    ["blue under D50", fromLab(29.57, 68.3, -112.03, "D50"), "#0000ff"],
    ["white under either", fromXyY(0.3457, 0.3585, 100, "D50"), "#ffffff"],
    ["the D65 white's chromaticity, half as light", fromXyY(0.3127, 0.329, 21.5861, "D65"), "#808080"],
    ["short hex", fromHex("fa0")!, "#ffaa00"],
  ])("%s", (_, { hex, outsideBy }, expected) => {
    expect(hex).toBe(expected);
    expect(outsideBy).toBe(0);
  });

  test("of any colour of a screen, its own Lab gives it back", () => {
    const random = seededRandom(77);
    for (let i = 0; i < 300; i++) {
      const hex = `#${Math.floor(random() * 0x1000000)
        .toString(16)
        .padStart(6, "0")}`;
      const [l, a, b] = linearToLab(...hexToLinear(hex));
      expect(fromLab(l, a, b, "D65").hex).toBe(hex);
    }
  });

  test("what no screen shows is the nearest it shows, and says how far off", () => {
    const { hex, outsideBy, lab } = fromLab(60, -90, 60, "D65");
    expect(lab).toEqual([60, -90, 60].map((value) => expect.closeTo(value, 4)));
    expect(outsideBy).toBeGreaterThan(2);
    expect(outsideBy).toBeLessThan(15);
    expect(hex).toMatch(/^#[0-9a-f]{6}$/);
  });

  test("numbers as people write them", () => {
    expect(["0,3127", "−4.5", "12 %", "1e-2", "1.234,5", "#12", ""].map(numberIn)).toEqual([
      ...[0.3127, -4.5, 12, 0.01],
      ...[undefined, undefined, undefined],
    ]);
    expect(
      ["12, 34, 56", "12;34;56", "rgb(12 34 56)", "52,3 / 1,5 / -4", "1, 2", "12,34,56"].map(threeIn),
    ).toEqual([[12, 34, 56], [12, 34, 56], [12, 34, 56], [52.3, 1.5, -4], undefined, [12, 34, 56]]);
  });

  test.each([
    ["Seidenmatt", 25],
    ["satiné", 25],
    ["High-Gloss", 85],
    ["matt finish", 4],
    ["blotchy", undefined],
  ])("the sheen %s has %s gloss units", (word, units) => expect(glossOfSheen(word)).toBe(units));
});

describe("columns", () => {
  test.each<[string, Cell[], Record<string, number>]>([
    ["English", ["Code", "Name", "Hex", "Finish"], { code: 0, name: 1, hex: 2, sheen: 3 }],
    [
      "German, under a title",
      ["Farbnummer", "Bezeichnung", "L*", "a*", "b*", "Glanzgrad 60°"],
      { code: 0, name: 1, lightness: 2, a: 3, b: 4, gloss: 5 },
    ],
    [
      "both B's",
      ["No.", "R", "G", "B", "L*", "a*", "b*"],
      { code: 0, red: 1, green: 2, blue: 3, lightness: 4, a: 5, b: 6 },
    ],
    [
      "a large and a small y",
      ["Ref", "x (D50)", "y (D50)", "Y (D50)"],
      { code: 0, chromaX: 1, chromaY: 2, luminance: 3 },
    ],
  ])("%s", (_, headings, expected) => {
    const rows: Cell[][] = [["Our colours 2026"], headings, headings.map((__, i) => (i === 0 ? "A1" : 0.3))];
    expect(recogniseColumns(rows)).toMatchObject({ heading: 1, columns: expected });
    expect(Object.keys(recogniseColumns(rows).columns).length).toBeGreaterThanOrEqual(
      Object.keys(expected).length,
    );
  });

  test("without headings, by what stands in them", () => {
    const rows: Cell[][] = [
      ["Chalk", "#f4f1ea", "K-01", "https://maker.example/k01"],
      ["Slate", "#3d4449", "K-02", "https://maker.example/k02"],
    ];
    expect(recogniseColumns(rows)).toEqual({ columns: { hex: 1, page: 3, code: 2, name: 0 } });
    expect(read(rows).entries.map(({ row, code, name }) => [row, code, name])).toEqual([
      [1, "K-01", "Chalk"],
      [2, "K-02", "Slate"],
    ]);
  });

  test("a column of colours is one also where every second cell is wrong", () => {
    const rows: Cell[][] = [
      ["Code", "Name", "Wert"],
      ["A1", "Moss", "#7fb069"],
      ["A2", "Void", "#12"],
      ["A3", "Chalk", "RGB(240,240,235)"],
      ["A4", "Ochre", "#c79a3b"],
    ];
    expect(recogniseColumns(rows).columns).toEqual({ code: 0, name: 1, hex: 2 });
    expect(read(rows).errors.map(({ row }) => row)).toEqual([3, 4]);
  });

  test("one column says one thing", () => {
    expect(wrongColumns({ code: 0, name: 0 }, 4)).toMatch(/two things/);
    expect(wrongColumns({ code: 9 }, 4)).toMatch(/4 columns/);
    expect(wrongColumns({ code: 0, hex: 1 }, 4)).toBeUndefined();
  });

  test("a list without a code or a colour says which is missing", () => {
    expect(() =>
      read([
        ["Name", "Hex"],
        ["Chalk", "#ffffff"],
        ["Chalk", "#eeeeee"],
      ]),
    ).toThrow(/code/);
    expect(() =>
      read([
        ["Code", "Name"],
        ["1", "Chalk"],
      ]),
    ).toThrow(/No column with a colour/);
  });
});

describe("rows", () => {
  test("what is wrong is said of its row, and the rest is read", () => {
    const rows: Cell[][] = [
      ["Code", "Name", "Hex", "Sheen", "Family"],
      ["1", "Chalk", "#f4f1ea", "matt", "Whites"],
      ["2", "Broken", "#12", "matt", ""],
      ["3", "Sum", "=A1&A2", "", ""],
      ["1", "Other chalk", "#ffffff", "", ""],
      ["1", "Chalk", "#F4F1EA", "matt", "Whites"],
      ["Reds"],
      [],
      ["", "Nameless", "#101010", "", ""],
      ["5", "Glow", "#ff0000", "sparkling", ""],
      ["6", "", "1234", "", ""],
      ["7", "", "#00ff00", 25, "wood"],
    ];
    const { entries, errors, notes } = read(rows);
    expect(entries).toMatchObject([
      {
        row: 2,
        code: "1",
        name: "Chalk",
        hex: "#f4f1ea",
        gloss: 4,
        sheen: "matt",
        group: "Whites",
        family: null,
      },
      { row: 12, code: "7", name: "7", gloss: 25, family: "timber", group: null },
    ]);
    // Of two with one gloss, both are as rough.
    expect(entries[0].roughness!).toBeGreaterThan(entries[1].roughness!);
    expect(errors.map(({ row, detail }) => `${row} ${detail}`)).toEqual([
      expect.stringMatching(/^3 “#12” is not a colour/),
      expect.stringMatching(/^4 “=A1&A2” is a formula/),
      expect.stringMatching(/^5 The code “1” stands in row 2 already, for Chalk/),
      expect.stringMatching(/^9 It has no code/),
      expect.stringMatching(/^10 “sparkling” is no sheen/),
      expect.stringMatching(/^11 .*4 of 6 digits.*drops zeros/),
    ]);
    expect(notes).toEqual(
      expect.arrayContaining([expect.stringMatching(/twice/), expect.stringMatching(/title/)]),
    );
  });

  test("fractions of one, whole percents of Y and cells of three numbers are told over the whole list", () => {
    const unit = read([
      ["Code", "R", "G", "B"],
      ["1", 1, 0.5, 0],
      ["2", 0, 0, 0],
    ]);
    expect(unit.entries.map(({ hex }) => hex)).toEqual(["#ff8000", "#000000"]);
    const bytes = read([
      ["Code", "RGB"],
      ["1", "255, 128, 0"],
      ["2", "0,0,1"],
    ]);
    expect(bytes.entries.map(({ hex }) => hex)).toEqual(["#ff8000", "#000001"]);
    const share = read([
      ["Code", "x", "y", "Y"],
      ["1", "0,3127", "0,329", "0,215861"],
    ]);
    expect(share.entries[0].hex).toBe("#808080");
    expect(
      errorsOf([
        ["Code", "R", "G", "B"],
        ["1", 300, 0, 0],
        ["2", "", 1, 1],
        ["3", "red", 1, 1],
      ]),
    ).toEqual([
      "2: Its RGB has 300, which is not within 0 and 255.",
      "3: The first number of its RGB is missing.",
      "4: “red” is no number of its RGB.",
    ]);
  });

  test("the white is said, or told by a second notation, or assumed and said to be", () => {
    const hexes = ["#c04020", "#2060c0", "#30a050", "#d0b020", "#8030a0"];
    const listed = hexes.map((hex, i): Cell[] => {
      const [x, y, Y] = chromaticityUnderD50(hex);
      return [`C${i}`, x, y, Y, hex];
    });
    const rows = [["Code", "x", "y", "Y", "Hex"] as Cell[], ...listed];
    expect(read(rows)).toMatchObject({ white: "D50", whiteFrom: "told", notation: "xyY" });
    expect(read(rows).entries.map(({ hex }) => hex)).toEqual(hexes);
    expect(read(rows, "D65")).toMatchObject({ white: "D65", whiteFrom: "said" });
    // Under the wrong white they contradict their own codes, and that is said.
    expect(read(rows, "D65").notes.join()).toMatch(/3 rows contradict themselves/);
    const alone = rows.map((row) => row.slice(0, 4));
    expect(read(alone)).toMatchObject({ white: "D65", whiteFrom: "assumed" });
    expect(read(alone).notes.join()).toMatch(/D65 is assumed/);
    expect(recogniseColumns([["Code", "Name", "L* (D50)", "a*", "b*"]]).white).toBe("D50");
  });

  test("20,000 rows, half of them broken, are read to the end", () => {
    const rows: Cell[][] = [["Code", "Hex"]];
    for (let i = 0; i < 20_000; i++) rows.push([`C${i}`, i % 2 ? "#12" : "#102030"]);
    const { entries, errors } = read(rows);
    expect([entries.length, errors.length]).toEqual([10_000, 10_000]);
  });
});

/** By the matrices of IEC 61966-2-1 and of Bradford's adaptation, written down anew. */
function chromaticityUnderD50(hex: string): [number, number, number] {
  const [r, g, b] = hexToLinear(hex);
  const X = 0.4360747 * r + 0.3850649 * g + 0.1430804 * b;
  const Y = 0.2225045 * r + 0.7168786 * g + 0.0606169 * b;
  const Z = 0.0139322 * r + 0.0971045 * g + 0.7141733 * b;
  return [X / (X + Y + Z), Y / (X + Y + Z), Y * 100];
}
