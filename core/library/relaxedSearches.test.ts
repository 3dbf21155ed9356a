import { expect, test } from "@jest/globals";
import { librarySearchSchema } from "#core/library/librarySearch";
import { relaxedSearches } from "#core/library/relaxedSearches";

test("each part is left out once, with all that belongs to it, and the order stays", () => {
  const relaxed = relaxedSearches({ q: "oak", color: "#aa8866", within: 4, sort: "newest" });
  expect(relaxed).toEqual([
    { words: "the words", search: { color: "#aa8866", within: 4, sort: "newest" } },
    { words: "the colour", search: { q: "oak", sort: "newest" } },
  ]);
});

test("a search that says one thing has nothing to leave out", () => {
  expect(relaxedSearches({ family: "brick", sort: "name" })).toEqual([]);
  expect(relaxedSearches({})).toEqual([]);
});

test("whatever a search can say can be left out", () => {
  for (const key of Object.keys(librarySearchSchema.shape).filter((one) => one !== "sort")) {
    const other = key === "q" ? { family: "brick" as const } : { q: "oak" };
    const relaxed = relaxedSearches({ ...other, [key]: "anything" });
    expect(relaxed.some(({ search }) => !(key in search))).toBe(true);
  }
});
