import { expect, test } from "@jest/globals";
import { proposeMerge, repeatOnOther, type MergeSide } from "#core/library/merge";

const side = (more: Partial<MergeSide> & { px?: number } = {}): MergeSide => ({
  ...{ name: "Oak", since: 100, repeat: null, sizeState: "unknown", setValues: 0, facts: 0, uses: 0 },
  maps: [{ role: "base_color", width: more.px ?? 1024, height: more.px ?? 1024, bitDepth: 8 }],
  ...more,
});

test("what is the better of each is proposed: pixels, a known size, what is set, a name without a number", () => {
  const old = side({ name: "Oak (2)", uses: 3, sizeState: "known", repeat: { width: 900, height: 900 } });
  const fresh = side({ px: 4096, since: 200, facts: 4, setValues: 2 });
  expect(proposeMerge([old, fresh])).toEqual({ kept: 0, name: 1, maps: 1, size: 0, finish: 1, facts: 1 });
  expect(proposeMerge([fresh, old])).toEqual({ kept: 1, name: 0, maps: 0, size: 1, finish: 0, facts: 0 });
});

test("two that are the same in all are the older one, and more maps or bits win where the pixels are as many", () => {
  expect(proposeMerge([side({ since: 200 }), side()])).toEqual({
    ...{ kept: 1, name: 1, maps: 1, size: 1, finish: 1, facts: 1 },
  });
  const deep = side({ since: 200, maps: [{ role: "base_color", width: 1024, height: 1024, bitDepth: 16 }] });
  const more = side({
    since: 300,
    maps: [...side().maps, { role: "height", width: 64, height: 64, bitDepth: 8 }],
  });
  expect(proposeMerge([side(), deep]).maps).toBe(1);
  expect(proposeMerge([deep, more]).maps).toBe(1);
  expect(proposeMerge([side({ sizeState: "assumed" }), side({ sizeState: "unknown", px: 2048 })]).size).toBe(
    0,
  );
});

test("a size that goes over to a picture of another part, or turned, is that picture's own", () => {
  const repeat = { width: 2000, height: 1000 };
  expect(repeatOnOther(repeat, 0, { turns: 0, parts: null })).toEqual(repeat);
  expect(repeatOnOther(repeat, 0, { turns: 3, parts: null })).toEqual({ width: 1000, height: 2000 });
  // The second is the left half of the first.
  const parts = {
    first: { left: 0, top: 0, width: 0.5, height: 1 },
    second: { left: 0, top: 0, width: 1, height: 1 },
  };
  expect(repeatOnOther(repeat, 0, { turns: 0, parts })).toEqual({ width: 1000, height: 1000 });
  expect(repeatOnOther({ width: 1000, height: 1000 }, 1, { turns: 0, parts })).toEqual(repeat);
});
