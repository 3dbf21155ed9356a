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
    "NaN",
  ])("refuses “%s” and says what was typed", (typed) => {
    expect(() => parseLength(typed)).toThrow(LengthError);
    expect(() => parseLength(typed)).toThrow(`“${typed}”`);
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
