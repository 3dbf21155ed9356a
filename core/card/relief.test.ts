import { describe, expect, test } from "@jest/globals";
import {
  CARD_MM,
  CARD_RELIEF_MM,
  PATCH_SIDE,
  SLOPED_CODES,
  TEETH,
  TILTS,
  tiltId,
  type Side,
  type TeethName,
} from "#core/card/layout";
import { reliefOf } from "#core/card/relief";
import type { SampledCard, Samples } from "#core/card/sampleCard";
import { tiltsOf } from "#core/card/tilts";
import { srgbToLinear } from "#core/raster/srgb";

interface Renderer {
  /** Of a height, less than 0 where white goes in. */
  times: number;
  decodes?: boolean;
  greenDown?: boolean;
  readsNormals?: boolean;
  casts?: boolean;
}

const LAMP = [-0.5, 0.55, 0.67];
const ASKED = { x: -Math.SQRT1_2, y: Math.SQRT1_2 };
const ALBEDO = 0.6;
const MM = PATCH_SIDE * CARD_MM;
const STEPS = 20;

/** A card as a matt surface shows it under one lamp and even light: whatever a patch holds, it is lit by Lambert's law alone. */
function cardOf({ times, decodes, greenDown, readsNormals = true, casts }: Renderer): SampledCard {
  const decode = (code: number) => (decodes ? srgbToLinear(code) : code);
  const leans = ([x, y]: readonly number[]) =>
    readsNormals ? [decode(x) * 2 - 1, (greenDown ? -1 : 1) * (decode(y) * 2 - 1)] : [0, 0];
  const lightOf = (x: number, y: number, isLit = true) => {
    const length = Math.hypot(x, y, 1);
    const facing = Math.max(0, (x * LAMP[0] + y * LAMP[1] + LAMP[2]) / length);
    return ALBEDO * (0.25 * (1 + 1 / length) + (isLit ? 0.75 * facing : 0));
  };
  /** Millimetres over the lowest, at a place along a patch to the side that teeth fall to. */
  const heightAt = (teeth: TeethName, mm: number) => {
    const { count, from, to } = TEETH[teeth];
    const along = (((mm / MM) * count) % 1) + (mm < 0 ? 1 : 0);
    return times * CARD_RELIEF_MM * decode(to - along * (to - from));
  };
  const slopeLight = (teeth: TeethName, side: Side, along: number) => {
    const mm = along * MM;
    const falls = (heightAt(teeth, mm) - heightAt(teeth, mm + 0.01)) / 0.01;
    const [dx, dy] = { left: [-1, 0], right: [1, 0], up: [0, 1], down: [0, -1] }[side];
    const [x, y] = leans([SLOPED_CODES.x, SLOPED_CODES.y]);
    const towards = LAMP[0] * dx + LAMP[1] * dy;
    let isLit = true;
    for (let far = 0.05; casts && far < 60; far += 0.05)
      if (
        heightAt(teeth, mm + Math.sign(towards) * far) >
        heightAt(teeth, mm) + (far * LAMP[2]) / Math.abs(towards)
      )
        isLit = false;
    return lightOf(x + dx * falls, y + dy * falls, isLit);
  };
  const grey = (light: number) => [light, light, light] as const;
  const tilts = new Map(TILTS.map((tilt) => [tiltId(...tilt), tilt]));
  return {
    cutOff: 0,
    read(id, part = { left: 0, right: 1, top: 0, bottom: 1 }): Samples {
      const tilt = id === "level" ? [SLOPED_CODES.x, SLOPED_CODES.y] : tilts.get(id);
      if (tilt) {
        const [x, y] = leans(tilt);
        return [grey(lightOf(x, y))];
      }
      const [, teeth, side] = id.split(" ") as [string, TeethName, Side];
      const [from, to] = {
        left: [1 - part.right, 1 - part.left],
        right: [part.left, part.right],
        up: [1 - part.bottom, 1 - part.top],
        down: [part.top, part.bottom],
      }[side];
      return Array.from({ length: STEPS }, (_, step) =>
        grey(slopeLight(teeth, side, from + ((step + 0.5) / STEPS) * (to - from))),
      );
    },
  };
}

const read = (renderer: Renderer) => {
  const card = cardOf(renderer);
  return reliefOf(card, tiltsOf(card), ASKED);
};

/** The same card, of which some patches are so many times as light. */
const lighter = (card: SampledCard, times: number, isMeant: (id: string) => boolean): SampledCard => ({
  ...card,
  read: (id, part) =>
    card.read(id, part).map((rgb) => {
      const [r, g, b] = rgb.map((light) => light * (isMeant(id) ? times : 1));
      return [r, g, b] as const;
    }),
});

describe("what slopes of a height say", () => {
  test.each<Renderer>([
    { times: 1 },
    { times: -1, greenDown: true },
    { times: 0.2 },
    { times: -0.2, decodes: true },
    { times: 10, greenDown: true },
    { times: -10, decodes: true, greenDown: true },
    { times: 1.6, casts: true },
    { times: -1, casts: true, decodes: true, greenDown: true },
  ])("is found beside normals: %o", (renderer) => {
    const { isThere, out, green, times, decoded, misfit } = read(renderer);
    expect({ isThere, out }).toEqual({ isThere: true, out: Math.sign(renderer.times) });
    expect(green.sign).toBe(renderer.greenDown ? -1 : 1);
    const high = Math.abs(renderer.times);
    expect(times!.least).toBeLessThan(1.1 * high);
    expect(times!.most).toBeGreaterThan(0.9 * high);
    expect(times!.most / times!.least).toBeLessThan(7);
    expect(decoded > 0).toBe(renderer.decodes === true);
    expect(misfit).toBeLessThan(1);
  });

  test.each([1, 10])(
    "without normals is how steep they are, by those that are steeper: %d times",
    (times) => {
      const alone = read({ times, readsNormals: false });
      expect(alone.times!.least).toBeLessThan(times);
      expect(alone.times!.most).toBeGreaterThan(times);
      expect(alone.times!.best / times).toBeGreaterThan(0.4);
      expect(alone.times!.best / times).toBeLessThan(2.5);
      // White stands out where the lamp stands as it was asked for.
      expect(alone.lean.x * ASKED.x + alone.lean.y * ASKED.y).toBeGreaterThan(0.5);
    },
  );

  test.each<Renderer>([{ times: 1 }, { times: -0.6, decodes: true, greenDown: true }])(
    "is found where one side mirrors the lamp, which says nothing of how steep it is: %o",
    (renderer) => {
      const mirrored = ["slope usual left", "slope steep up"];
      const card = lighter(cardOf(renderer), 4, (id) => mirrored.includes(id));
      const { out, times, misfit } = reliefOf(card, tiltsOf(card), ASKED);
      expect(out).toBe(Math.sign(renderer.times));
      expect(times!.least).toBeGreaterThan(Math.abs(renderer.times) / 2.5);
      expect(times!.most).toBeLessThan(Math.abs(renderer.times) * 2.5);
      expect(misfit).toBeLessThan(1);
    },
  );

  test("is nothing where no height is read, though one side of the card is lighter", () => {
    const uneven = lighter(cardOf({ times: 0 }), 1.1, (id) => id.endsWith("left") && id.includes("high"));
    expect(reliefOf(uneven, tiltsOf(uneven), ASKED)).toMatchObject({ isThere: false, out: 0, times: null });
  });
});
