import { describe, expect, test } from "@jest/globals";
import { LengthError, parseLength } from "#core/length/parseLength";
import { formatLength, formatSize } from "#core/length/formatLength";

describe("parseLength", () => {
  test.each([
    ["215", 215],
    ["21.5 cm", 215],
    ["21,5cm", 215],
    ["0.9 m", 900],
    [".5 m", 500],
    ["15 in", 381],
    ['8 1/2"', 215.9],
    ["1/2 in", 12.7],
    [`5' 3 1/2"`, 1612.9],
    ["5' 3", 1600.2],
    ["7ft", 2133.6],
    ["7 feet", 2133.6],
    ["  148 MM ", 148],
    ["3′ 6″", 1066.8],
    [`1'-2 1/2"`, 368.3],
    ["8½ in", 215.9],
    ["½ in", 12.7],
    [`1' 2 1/2''`, 368.3],
    ["1,200.5 mm", 1200.5],
    ["1.200,5 mm", 1200.5],
    ["100,000.0 mm", 100_000],
    ["1.000.000 mm", 1_000_000],
    ["1 000 mm", 1000],
    ["1\u00a0000,5 mm", 1000.5],
    ["2 m 50 cm", 2500],
    ["1 m 2 cm 5 mm", 1025],
    // Three decimals that can be nothing else: a kilometre is no length of a module, and inches are written with a point.
    ["1.200 m", 1200],
    ['4.625"', 117.475],
    ["0.125 m", 125],
    ["174.625", 174.625],
    ["4.7630", 4.763],
  ])("reads %s", (typed, mm) => {
    expect(parseLength(typed)).toBeCloseTo(mm, 9);
  });

  test("gives a bare number the studio's unit", () => {
    expect(parseLength("21.5", { unit: "cm" })).toBe(215);
    expect(parseLength("10 mm", { unit: "cm" })).toBe(10);
  });

  test.each([
    "12 q",
    "-3 mm",
    "−3",
    "0",
    "",
    "   ",
    "mm",
    "1 2",
    "1/0 in",
    `3" 5'`,
    "1e9",
    "12 mm 3 cm",
    "2 m 150 cm",
    "2.5 m 50 cm",
    `5' 13"`,
    "1,20,0 mm",
    "1.2.3",
    "1,200 mm",
    "1.200",
    "1,250 mm",
    "2000 m",
    "NaN",
  ])("refuses “%s” and says what was typed", (typed) => {
    expect(() => parseLength(typed)).toThrow(LengthError);
    expect(() => parseLength(typed)).toThrow(`“${typed}”`);
  });

  test("asks where thousands and decimals look the same, with both readings", () => {
    expect(() => parseLength("1.200 mm")).toThrow("may be 1200 mm or 1.2 mm");
    expect(() => parseLength("1,200", { unit: "cm" })).toThrow("may be 1200 cm or 1.2 cm");
  });

  test("allows zero where a joint may be closed", () => {
    expect(parseLength("0", { allowZero: true })).toBe(0);
    expect(() => parseLength("-0", { allowZero: true })).toThrow("negative");
  });
});

describe("formatLength", () => {
  test("writes what can be read back", () => {
    expect(formatLength(812)).toBe("812 mm");
    expect(formatLength(215.04)).toBe("215 mm");
    expect(formatLength(900, "m")).toBe("0.9 m");
    expect(parseLength(formatLength(1612.9, "in"))).toBeCloseTo(1612.9, 1);
  });

  test("writes a size once with its unit", () => {
    expect(formatSize({ width: 812, height: 824 })).toBe("812 × 824 mm");
    expect(formatSize({ width: 812, height: 824 }, "cm")).toBe("81.2 × 82.4 cm");
  });
});
