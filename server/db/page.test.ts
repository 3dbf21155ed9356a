import { describe, expect, test } from "@jest/globals";
import { PAGE_ROWS, pageOf, readPage } from "#server/db/page";

describe("pages", () => {
  const list = (length: number) => Array.from({ length }, (_, i) => i);
  const read = (page: number, length: number) =>
    readPage(page, ({ offset, limit }) => Promise.resolve(list(length).slice(offset, offset + limit)));

  test.each([
    [1, 0, [], null],
    [1, PAGE_ROWS, list(PAGE_ROWS), null],
    [1, PAGE_ROWS + 1, list(PAGE_ROWS), 2],
    [2, PAGE_ROWS + 1, [PAGE_ROWS], null],
    [3, PAGE_ROWS + 1, [], null],
  ])("page %i of %i rows", async (page, length, items, next) => {
    expect(await read(page, length)).toEqual({ items, page, next });
  });

  test.each([
    [1, 5, "1–5 of 5", null],
    [1, 61, "1–60 of 61", 2],
    [2, 61, "61–61 of 61", null],
    [3, 61, "nothing more of 61", null],
  ])("page %i of a list of %i says “%s”", (page, total, range, next) => {
    expect(pageOf(page, total)).toEqual({ page, next, range });
  });

  test("from far behind the last one the way back leads to it", () => {
    expect(pageOf(400, 61).page - 1).toBe(2);
    expect(pageOf(400, 0)).toEqual({ page: 1, next: null, range: "nothing more of 0" });
  });
});
