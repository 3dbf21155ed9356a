import { describe, expect, test } from "@jest/globals";
import { findModules, SURE } from "#core/gauge/findModules";
import { lumaOf, type Plane } from "#core/raster/plane";
import { holds, type Held } from "../../bench/holdouts/holds";
import { drawOther, OTHER_KINDS } from "../../bench/holdouts/otherPatterns";
import { makePattern } from "../../bench/makePatterns";

describe("patterns whose seeds nothing was fitted to", () => {
  /** Of each kind of picture: right and sure, and wrong and sure. */
  async function scored(count: number, draw: (index: number) => Promise<{ plane: Plane; truths: Held[] }>) {
    const score = { rightAndSure: 0, wrongAndSure: 0 };
    for (let index = 0; index < count; index++) {
      const { plane, truths } = await draw(index);
      const found = findModules([plane]);
      if (found.sure < SURE) continue;
      if (truths.some((truth) => holds(found, truth))) score.rightAndSure++;
      else score.wrongAndSure++;
    }
    return score;
  }

  test("worn by noise, blur, JPEG and uneven light are mostly right and sure, and hardly one is wrong and sure", async () => {
    const score = await scored(6, async (index) => {
      const made = await makePattern(31_000 + index, 512);
      return { plane: lumaOf(made.raster), truths: [made] };
    });
    expect(score.rightAndSure).toBeGreaterThanOrEqual(4);
    expect(score.wrongAndSure).toBeLessThanOrEqual(1);
  }, 180_000);

  test("of another hand, with surfaces that hold no modules among them, are hardly ever wrong and sure", async () => {
    const kinds = OTHER_KINDS.filter((_, index) => index % 6 === 0);
    const score = await scored(kinds.length, async (index) => {
      const made = await drawOther(611_000 + index, kinds[index], index % 2 === 1);
      return { plane: lumaOf(made.raster), truths: made.truths };
    });
    expect(score.rightAndSure).toBeGreaterThanOrEqual(2);
    expect(score.wrongAndSure).toBeLessThanOrEqual(1);
  }, 180_000);
});
