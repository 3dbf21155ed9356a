import { describe, expect, test } from "@jest/globals";
import { judgeDensity } from "#core/candidates/judgeDensity";
import { say } from "#core/findings/say";

describe("pixels enough for a purpose, once a size is told", () => {
  const map = { file: "a.png", width: 1024, height: 512 };

  test("counts from the distance at which a texel is a pixel", () => {
    // 1024 px over 1024 mm are 1000 px/m; 3840 px at 60° are 3325 px for each metre at 1 m.
    const size = { width: 1024, height: 1024 };
    expect(judgeDensity(map, size, "near")).toMatchObject({ level: "look", file: "a.png" });
    expect(say([judgeDensity(map, size, "near")!])[0].message).toContain(
      "With 1000 px/m it holds up from 3.3 m on",
    );
    expect(judgeDensity(map, size, "far")).toBeUndefined();
    expect(judgeDensity(map, { width: 500, height: 500 }, "near")).toMatchObject({ level: "note" });
    expect(judgeDensity(map, { width: 400, height: 400 }, "near")).toBeUndefined();
  });
});
