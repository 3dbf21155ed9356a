import { expect, test } from "@jest/globals";
import type { Unsized } from "#server/sizing/sheet";
import { heldItems } from "./heldItems";

const item = (id: string, revision = 1): Unsized => ({
  ...{
    id,
    code: id,
    name: id,
    revision,
    family: null,
    line: null,
    modules: undefined,
    proposals: [],
    alike: [],
  },
  image: { sha256: id, width: 1, height: 1 },
});
const ids = (items: Unsized[]) => items.map(({ id, revision }) => `${id}${revision}`).join(" ");
const [a, b, c, d] = ["a", "b", "c", "d"].map((id) => item(id));

test("what was taken here keeps its place, what is new comes last, what somebody else took goes", () => {
  expect(ids(heldItems([a, b, c], [c, d], (id) => id === "a"))).toBe("a1 c1 d1");
});

test("what is put back stands where it was, as it is now", () => {
  expect(ids(heldItems([a, b], [b, item("a", 3)], () => true))).toBe("a3 b1");
});

test("once nothing is left, nothing is held", () => {
  expect(heldItems([a, b], [], () => true)).toEqual([]);
});
