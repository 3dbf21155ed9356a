import { describe, expect, test } from "@jest/globals";
import { CONDITIONS } from "#core/picture/condition";
import { conditionOf, FIRST_LIGHT, keptLight, shapeWords, type SetLight } from "./light";

const { name: _, ...grazing } = CONDITIONS.grazing;
const OWN = [{ id: "one", name: "North window", light: { ...grazing, exposureStops: 0.5 } }];
const words = (changed: Partial<SetLight>) => conditionOf({ ...FIRST_LIGHT, ...changed }, OWN).words;

describe("a condition", () => {
  test("is called by its name, and by what is changed of it", () => {
    expect(words({})).toBe("Overcast studio");
    expect(words({ named: "one" })).toBe("North window, +0.5 stops");
    expect(words({ changed: { lampAbove: 5, lampAround: 30, exposureStops: -1, tone: "neutral" } })).toBe(
      "Overcast studio, lamp 5° above, lamp from 30°, −1 stop, neutral curve",
    );
    expect(
      words({ changed: { environment: "a".repeat(64), behind: 2, lampShare: 0.2, ground: "black" } }),
    ).toBe("Overcast studio, another environment, lamp 20 %, 2 × from behind, black ground");
    // What was changed back is not changed.
    expect(words({ changed: { lampAbove: CONDITIONS.studio.lampAbove } })).toBe("Overcast studio");
  });

  test("that somebody deleted meanwhile is the first one again", () => {
    const { chosen, condition, isChanged } = conditionOf({ ...FIRST_LIGHT, named: "gone" }, OWN);
    expect(chosen.id).toBe("studio");
    expect(condition).toEqual(CONDITIONS.studio);
    expect(isChanged).toBe(false);
  });
});

test("a block and a wall are called with their real width", () => {
  expect(shapeWords(FIRST_LIGHT)).toBe("a panel");
  expect(shapeWords({ ...FIRST_LIGHT, shape: "wall", wide: { block: 1, wall: 3600 } })).toBe(
    "a wall 3.6 m wide",
  );
});

test("what was kept is set again; what is broken, or of another time, is not", () => {
  const set: SetLight = { ...FIRST_LIGHT, named: "one", shape: "wall", changed: { lampAbove: 5 } };
  expect(keptLight(JSON.stringify(set))).toEqual(set);
  for (const text of [null, "", "{", '{"named":"one"}', JSON.stringify({ ...set, shape: "sphere" })])
    expect(keptLight(text)).toEqual(FIRST_LIGHT);
});
