import { describe, expect, test } from "@jest/globals";
import { differencesOf } from "./differencesOf";

const SAME: Parameters<typeof differencesOf>[0] = {
  mirrored: false,
  turns: 0,
  shiftX: 0,
  shiftY: 0,
  tint: [0, 0, 0],
  parts: null,
  sides: [
    { width: 1024, height: 1024, format: "png" },
    { width: 1024, height: 1024, format: "png" },
  ],
};

describe("what differs between two pictures", () => {
  test("is said when there is nothing", () => {
    expect(differencesOf(SAME)).toEqual(["no difference that could be measured but the encoding"]);
  });

  test("is each thing that was done to it", () => {
    const lines = differencesOf({
      ...SAME,
      mirrored: true,
      turns: 1,
      shiftX: 0.25,
      shiftY: -0.1,
      tint: [0.1, 0, -0.1],
    });
    expect(lines).toEqual([
      "mirrored",
      "turned by 90°",
      "shifted by 25 % across and -10 % down",
      "on average +26 red, 0 green, −25 blue (of 255)",
    ]);
  });

  test("is how much of each is shown by the other, where one is a part", () => {
    const [line] = differencesOf({
      ...SAME,
      parts: {
        first: { left: 0.1, top: 0, width: 0.82, height: 0.9 },
        second: { left: 0, top: 0, width: 1, height: 1 },
      },
    });
    expect(line).toBe("both show the same part: 82 × 90 % of the left one, 100 × 100 % of the right one");
  });
});
