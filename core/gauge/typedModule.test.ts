import { expect, test } from "@jest/globals";
import { readTypedModule } from "#core/gauge/typedModule";

test.each([
  ["215 x 65", { width: 215, height: 65 }],
  ["21,5cm × 6.5 cm", { width: 215, height: 65 }],
  ["215 by 65, joint 10", { width: 215, height: 65, joint: 10 }],
  ["240 x 71 joint 10 / 12.33", { width: 240, height: 71, joint: 10, jointVertical: 12.33 }],
  ["145 joint 0", { width: 145, joint: 0 }],
  ["2 m", { width: 2000 }],
  ['8 1/2" x 2 1/4"', { width: 215.9, height: 57.15 }],
])("“%s” is read", (typed, expected) => {
  const read = readTypedModule(typed, "mm")!;
  expect(Object.keys(read)).toEqual(Object.keys(expected));
  for (const [key, mm] of Object.entries(expected)) expect(read[key as keyof typeof read]).toBeCloseTo(mm, 9);
});

test("a bare number is in the studio's unit", () => {
  expect(readTypedModule("21.5 x 6.5", "cm")).toEqual({ width: 215, height: 65 });
});

test.each(["", "brick", "x", "215 x", "215 x 65 joint", "-5 x 3", "0 x 65", "215 x 65 x 102", "1.200 x 5"])(
  "“%s” is no size",
  (typed) => expect(readTypedModule(typed, "mm")).toBeUndefined(),
);
