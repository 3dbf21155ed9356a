import { expect, test } from "@jest/globals";
import { freshAfter } from "./freshAfter";

test("a page is fresh within a second where loading is quick, and rests nine times as long where it is slow", () => {
  expect([0, 1].map((chance) => freshAfter(40, chance))).toEqual([500, 750]);
  expect(freshAfter(1000, 0)).toBe(9000);
  // However slow, it is loaded again some day.
  expect(freshAfter(60_000, 1)).toBe(30_000);
});
