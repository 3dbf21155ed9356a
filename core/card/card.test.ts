import { describe, expect, test } from "@jest/globals";
import { CARD_QUESTION_NAMES, type CardAnswers } from "#core/card/cardQuestions";
import { MARKS, PATCHES } from "#core/card/layout";
import { bitsOfNumber, MOST_CARD_NUMBER, numberOfBits } from "#core/card/number";
import { paintCard } from "#core/card/paintCard";
import { placeCard } from "#core/card/placeCard";
import { profileOfAnswers } from "#core/card/profileOfAnswers";
import { readCard } from "#core/card/readCard";
import { drawnHidden, truthOf } from "#core/card/testing/hidden";
import { drawnPicture } from "#core/card/testing/drawnPicture";
import { photographed, randomOf } from "#core/card/testing/photographed";
import { profileSchema, type MapOutput } from "#core/convert/profile";
import { project } from "#core/photo/homography";
import { createRaster, type Raster } from "#core/raster/raster";

/** Every other pixel of what is printed on a card, as a picture of it. */
function printed(number: number): Raster {
  const { data, width } = paintCard("color", number);
  const out = createRaster(width / 2, width / 2, 3, 8);
  for (let y = 0, at = 0; y < out.height; y++)
    for (let x = 0; x < out.width; x++, at += 3)
      out.data.set(data.subarray((2 * y * width + 2 * x) * 4, (2 * y * width + 2 * x) * 4 + 3), at);
  return out;
}

/** @param from the pixel that a pixel of the result comes from */
function moved(raster: Raster, from: (x: number, y: number) => [number, number]): Raster {
  const out = createRaster(raster.width, raster.height, 3, 8);
  for (let y = 0; y < out.height; y++)
    for (let x = 0; x < out.width; x++) {
      const [px, py] = from(x, y);
      out.data.set(
        raster.data.subarray((py * raster.width + px) * 3, (py * raster.width + px) * 3 + 3),
        (y * out.width + x) * 3,
      );
    }
  return out;
}

function filled(code: (x: number, y: number) => number): Raster {
  const out = createRaster(400, 400, 3, 8);
  for (let at = 0; at < out.data.length; at++)
    out.data[at] = code(Math.floor(at / 3) % 400, Math.floor(at / 1200));
  return out;
}

describe("the number of a card", () => {
  test("comes back, and what is misread by a bit is none more often than not", () => {
    let caught = 0;
    for (let number = 0; number <= MOST_CARD_NUMBER; number += 13) {
      const bits = bitsOfNumber(number);
      expect(numberOfBits(bits)).toBe(number);
      const wrong = bits.map((bit, at) => (at === number % bits.length ? !bit : bit));
      caught += Number(numberOfBits(wrong) === undefined);
    }
    expect(caught).toBeGreaterThan(0.9 * (MOST_CARD_NUMBER / 13));
    expect(numberOfBits(Array<boolean>(16).fill(false))).toBeUndefined();
    expect(() => bitsOfNumber(MOST_CARD_NUMBER + 1)).toThrow(RangeError);
  });
});

describe("a card", () => {
  test("has no two patches in one place, and none under a mark", () => {
    const places = PATCHES.map(({ column, row }) => `${column} ${row}`);
    expect(new Set(places).size).toBe(PATCHES.length);
    expect(new Set(PATCHES.map(({ id }) => id)).size).toBe(PATCHES.length);
  });

  test("is found where it lies, from a little aside", () => {
    const random = randomOf(5);
    const placed = placeCard(photographed(printed(77), random, 0.08, 4));
    expect(placed).toMatchObject({ number: 77, isMirrored: false, quarters: 0, isRepeated: false });
    // The projection meets the marks of another picture of the same seed.
    const corner = project(placed.toPicture, { x: 0, y: 0 });
    const across = project(placed.toPicture, { x: 1, y: 0 });
    expect(across.x - corner.x).toBeGreaterThan(400);
  });

  const last = 511;
  test.each([
    ["turned to the right", (x: number, y: number) => [y, last - x] as [number, number], false, 1],
    ["upside down", (x: number, y: number) => [last - x, last - y] as [number, number], false, 2],
    ["mirrored", (x: number, y: number) => [last - x, y] as [number, number], true, 0],
  ])("that is %s is found to be", (_, from, isMirrored, quarters) => {
    expect(placeCard(moved(printed(4095), from))).toMatchObject({ number: 4095, isMirrored, quarters });
  });

  test("that lies beside another one is said to repeat", () => {
    const twice = moved(printed(9), (x, y) => [(x * 2) % 512, (y * 2) % 512]);
    expect(placeCard(twice)).toMatchObject({ number: 9, isRepeated: true });
  });

  test.each([
    ["plain white", filled(() => 255), "overexposed"],
    ["black", filled(() => 3), "transparency"],
    ["plain grey", filled(() => 120), "no marks"],
    ["squares", filled((x, y) => (((x >> 4) + (y >> 4)) % 2 ? 220 : 30)), "no marks"],
  ])("is not found in %s, and it is said what would do", (_, picture, says) => {
    expect(() => readCard(picture)).toThrow(
      expect.objectContaining({ name: "Refusal", message: expect.stringContaining(says) }),
    );
  });

  test("of which a corner is hidden is not read", () => {
    const { x, y } = MARKS[3];
    const covered = moved(printed(9), (px, py) =>
      Math.hypot(px / 512 - x, py / 512 - y) < 0.08 ? [256, 480] : [px, py],
    );
    expect(() => placeCard(covered)).toThrow("no whole card");
  });
});

describe("reading a card", () => {
  // Seeds that no threshold was set by. The whole count is in bench/cards.
  const SEEDS = Array.from({ length: 3 }, (_, at) => 7_000 + at);

  test("tells conventions drawn at random, of a renderer that shares nothing with the reader; what it does not know it says", () => {
    const count = { right: 0, unsure: 0, wrong: [] as string[] };
    for (const seed of SEEDS) {
      const { picture, truth } = drawnPicture("other", seed, { side: 500, readers: "all" });
      for (const [question, { value, isSure, why }] of Object.entries(readCard(picture).answers)) {
        expect(why).not.toBe("");
        if (!isSure) count.unsure++;
        else if (value === truth[question]) count.right++;
        else count.wrong.push(`seed ${seed}: ${question} is ${truth[question]}, read as ${value}`);
      }
    }
    expect(count.wrong).toEqual([]);
    expect(count.right).toBeGreaterThan(0.95 * SEEDS.length * CARD_QUESTION_NAMES.length);
  });

  test("and of the application's own shading model", () => {
    const { picture, truth } = drawnPicture("model", 7_004, { side: 420, readers: "all" });
    const { answers } = readCard(picture);
    const sure = Object.entries(answers).filter(([, { isSure }]) => isSure);
    expect(Object.fromEntries(sure.map(([question, { value }]) => [question, value]))).toEqual(
      Object.fromEntries(sure.map(([question]) => [question, truth[question]])),
    );
    expect(sure.length).toBeGreaterThanOrEqual(8);
  });
});

describe("the profile of a card", () => {
  const map = (outputs: readonly { kind: string }[], role: string) =>
    outputs.find((one): one is MapOutput => one.kind === "map" && (one as MapOutput).role === role);

  test("asks for what the card said, whatever that was", () => {
    const random = randomOf(1);
    for (let n = 0; n < 100; n++) {
      const answers = truthOf(drawnHidden(random, "any")) as unknown as CardAnswers;
      const profile = profileSchema.parse(profileOfAnswers({ name: "Own", unit: "in" }, answers));
      const { outputs } = profile;
      const packed = outputs.find((one) => one.kind === "packed");
      expect(packed?.channels.map((role) => role.replace("gloss", "specular_roughness")) ?? null).toEqual(
        answers.packing === "none"
          ? null
          : answers.packing
              .split("-")
              .map(
                (one) =>
                  ({ occlusion: "ambient_occlusion", shine: "specular_roughness", metal: "base_metalness" })[
                    one
                  ],
              ),
      );
      const glossy = packed ? packed.channels.includes("gloss") : map(outputs, "gloss") !== undefined;
      expect(glossy).toBe(answers.shine === "gloss");
      expect(map(outputs, "geometry_normal") !== undefined).toBe(answers.normals !== "none");
      if (answers.normals !== "none")
        expect(profile.normalDirection).toBe(answers.normals === "up" ? "+Y" : "-Y");
      expect(map(outputs, "height")?.inverted).toBe(
        { out: false, in: true, none: undefined }[answers.height],
      );
      expect(map(outputs, "geometry_opacity")?.inverted).toBe(
        { own: false, transparency: true, alpha: undefined, none: undefined }[answers.opacity],
      );
      expect(map(outputs, "base_color")).toMatchObject({
        opacityInAlpha: answers.opacity === "alpha",
        multiplyOcclusion: answers.occlusion === "none",
      });
      expect(profile.steps.some(({ text }) => text.includes("is data"))).toBe(answers.data === "decoded");
    }
  });
});
