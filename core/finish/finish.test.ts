import { describe, expect, test } from "@jest/globals";
import {
  DEFAULT_FINISH,
  finishSchema,
  heightAmplitude,
  heightOfRange,
  finishChangeSchema,
} from "#core/finish/finish";
import { missingOf } from "#core/finish/material";

describe("a finish", () => {
  test("has defaults that take the maps as they are", () => {
    expect(DEFAULT_FINISH).toEqual({
      lostRelief: 1,
      roughness: 0.5,
      metalness: 0,
      ior: 1.5,
      normalStrength: 1,
      heightMiddle: 0.5,
      occlusionStrength: 1,
      occlusionGamma: 1,
    });
  });

  test.each([
    [{ color: "red" }],
    [{ color: "#12345" }],
    [{ roughness: 1.01 }],
    [{ metalness: -0.1 }],
    [{ ior: 0.9 }],
    [{ normalStrength: Infinity }],
    [{ heightAmplitudeMm: -1 }],
    [{ occlusionGamma: 0 }],
    [{ roughness: "0.5" }],
    [{ shine: 1 }],
  ])("refuses %j", (finish) => {
    expect(finishSchema.safeParse(finish).success).toBe(false);
  });
});

describe("heightOfRange", () => {
  test("takes a range outside 0..1 for millimetres, with 0 in the surface", () => {
    expect(heightOfRange({ min: -3, max: 1, grey: true })).toEqual({
      heightAmplitudeMm: 4,
      heightMiddle: 0.75,
    });
    expect(heightOfRange({ min: 2, max: 10, grey: true })).toEqual({ heightAmplitudeMm: 8, heightMiddle: 0 });
    for (const range of [
      { min: 0, max: 1, grey: true },
      { min: -900, max: 900, grey: true },
      { min: -3, max: 1, grey: false },
    ])
      expect(heightOfRange(range)).toEqual({});
    expect(finishSchema.safeParse(heightOfRange({ min: -500, max: 500, grey: true })).success).toBe(true);
  });
});

describe("heightAmplitude", () => {
  test("is what somebody said, also where that is nothing at all", () => {
    expect(heightAmplitude(finishSchema.parse({ heightAmplitudeMm: 5.7 }), null)).toEqual({
      mm: 5.7,
      assumed: false,
    });
    expect(heightAmplitude(finishSchema.parse({ heightAmplitudeMm: 0 }), null)).toEqual({
      mm: 0,
      assumed: false,
    });
  });

  test("is otherwise a hundredth of the repeat, up to 10 mm, and said to be assumed", () => {
    expect(heightAmplitude(DEFAULT_FINISH, { width: 812 })).toEqual({ mm: 8.1, assumed: true });
    expect(heightAmplitude(DEFAULT_FINISH, { width: 5000 })).toEqual({ mm: 10, assumed: true });
    expect(heightAmplitude(DEFAULT_FINISH, null).assumed).toBe(true);
  });
});

describe("missingOf", () => {
  const base = { role: "base_color" } as const;
  test.each([
    [{ layout: "repeating", sizeState: "known", maps: [base] }, []],
    [{ layout: "repeating", sizeState: "assumed", maps: [base] }, []],
    [{ layout: "repeating", sizeState: "unknown", maps: [base] }, ["size"]],
    [{ layout: "repeating", sizeState: "unknown", maps: [] }, ["size", "base color"]],
    [{ layout: "plain", sizeState: "unknown", maps: [] }, []],
    [{ kind: "wear", layout: "repeating", sizeState: "known", maps: [{ role: "wear_mask" }] }, []],
    [{ kind: "wear", layout: "repeating", sizeState: "unknown", maps: [base] }, ["size", "wear marks"]],
    [{ kind: "environment", layout: "repeating", sizeState: "unknown", maps: [] }, []],
  ] as const)("%j lacks %j", (material, missing) => {
    expect(missingOf({ kind: "material", ...material, maps: [...material.maps] })).toEqual(missing);
  });
});

describe("a change of a finish", () => {
  test("has what was named and nothing else, so that the rest stays as it is", () => {
    expect(finishChangeSchema.parse({})).toEqual({});
    const change = finishChangeSchema.parse({ roughness: 0.2 });
    const before = { ...DEFAULT_FINISH, ior: 1.4 };
    expect(finishSchema.parse({ ...before, ...change })).toEqual({ ...before, roughness: 0.2 });
  });

  test.each([{ roughness: 1.2 }, { ior: 0.5 }, { color: "red" }, { gloss: 1 }])(
    "is refused: %j",
    (change) => {
      expect(finishChangeSchema.safeParse(change).success).toBe(false);
    },
  );
});
