import { describe, expect, test } from "@jest/globals";
import { plainJson, plainLine, plainText } from "#core/text/plainText";

describe("the gate for text from outside", () => {
  test.each([
    ["brick\u0000wall", "brickwall"],
    ["a\u001b[31mred", "a[31mred"],
    ["two\r\nlines\tand a tab", "two lines and a tab"],
    ["e\u0301", "é"],
    ["evil\u202Egnp.exe", "evilgnp.exe"],
    ["\uFEFFmark", "mark"],
    ["half \uD83D of a pair", "half  of a pair"],
    ["Ziegel 🧱", "Ziegel 🧱"],
  ])("takes %j as %j", (came, kept) => expect(plainLine(came)).toBe(kept));

  test("cuts to a length and never inside a letter", () => {
    expect(plainLine("x".repeat(9000))).toHaveLength(500);
    expect(plainLine("🧱🧱", 3)).toBe("🧱");
    expect(plainLine("🧱".repeat(2000), 7)).toBe("🧱🧱🧱");
  });

  test("keeps the lines of a text, and what it holds survives JSON and UTF-8", () => {
    expect(plainText("one\u0000\ntwo\r\n\tthree")).toBe("one\ntwo\n\tthree");
    const hostile = String.fromCharCode(...Array.from({ length: 0x2100 }, (_, code) => code), 0xd800, 0xffff);
    expect(Buffer.from(plainText(hostile)).toString("utf8")).toBe(plainText(hostile));
    expect(JSON.stringify(plainText(hostile))).not.toContain("\\u0000");
  });

  test("goes through values of JSON, keys as well", () => {
    expect(plainJson({ "a\u0000": ["b\u0007", { c: "d\u0000" }], n: 3, none: null })).toEqual({
      a: ["b", { c: "d" }],
      n: 3,
      none: null,
    });
  });
});
