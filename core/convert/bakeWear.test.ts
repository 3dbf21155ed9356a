import { describe, expect, it } from "@jest/globals";
import { bakeWear, type ToBake } from "#core/convert/bakeWear";
import { WEAR_FITS } from "#core/finish/finish";
import { seededRandom } from "#core/pattern/random";

const square = (mm: number) => ({ width: mm, height: mm });
const layer = (mm: number, over: Partial<ToBake> = {}): ToBake => ({
  size: square(mm),
  turn: 0,
  repeats: true,
  ...over,
});
const material = (mm: number, px: number, repeats = true) => ({
  repeat: square(mm),
  pixels: square(px),
  repeats,
});

describe("wear baked over repeats of a material", () => {
  it("leaves alone what fits already", () => {
    expect(bakeWear(material(900, 1024), [layer(300), layer(900)], "balance", Infinity)).toMatchObject({
      across: 1,
      down: 1,
      area: square(900),
      pixels: square(1024),
      errors: [
        { width: 0, height: 0 },
        { width: 0, height: 0 },
      ],
      density: 1,
    });
  });

  it("takes the common multiple where the pixels allow it", () => {
    const bake = bakeWear(material(600, 1024), [layer(400)], "wear-size", Infinity);
    expect(bake).toMatchObject({ across: 2, down: 2, area: square(1200), density: 1 });
    expect(bakeWear(material(600, 1024), [layer(1800)], "wear-size", Infinity)).toMatchObject({ across: 3 });
    // Where the renderer takes 2048 px, three repeats of 1024 px cost a third of them.
    const limited = bakeWear(material(600, 1024), [layer(1800)], "wear-size", 2048);
    expect(limited.density).toBeCloseTo(2 / 3, 9);
    expect(limited.pixels).toEqual(square(683));
  });

  it("keeps the pixels where that is asked for, and says how far the wear is off", () => {
    const bake = bakeWear(material(600, 1024), [layer(1000)], "pixels", Infinity);
    expect(bake).toMatchObject({ across: 1, sizes: [square(600)], pixels: square(1024) });
    expect(bake.errors[0].width).toBeCloseTo(-0.4, 9);
  });

  it("turns with the layer", () => {
    const wide: ToBake = { size: { width: 400, height: 1000 }, turn: 90, repeats: true };
    const bake = bakeWear(material(1000, 512), [wide], "wear-size", Infinity);
    // Turned, it is 1000 mm wide and 400 mm high: one repeat beside it, two below.
    expect(bake).toMatchObject({ across: 1, down: 2, sizes: [{ width: 400, height: 1000 }] });
  });

  it("asks nothing of what is placed once, on either side", () => {
    expect(bakeWear(material(600, 1024, false), [layer(1000)], "balance", Infinity)).toMatchObject({
      across: 1,
      sizes: [square(1000)],
    });
    expect(
      bakeWear(material(600, 1024), [layer(1000, { repeats: false })], "balance", Infinity),
    ).toMatchObject({ across: 1, sizes: [square(1000)] });
  });

  it("holds for any sizes: within the limit, whole repeats, and each choice the best at what it is for", () => {
    const random = seededRandom(71);
    const between = (low: number, high: number) => low + random() * (high - low);
    for (let i = 0; i < 300; i++) {
      const given = {
        repeat: { width: between(100, 4000), height: between(100, 4000) },
        pixels: { width: Math.round(between(64, 8192)), height: Math.round(between(64, 8192)) },
        repeats: true,
      };
      const layers = Array.from({ length: 1 + Math.floor(random() * 3) }, () => ({
        size: { width: between(50, 5000), height: between(50, 5000) },
        turn: ([0, 90, 180, 270] as const)[Math.floor(random() * 4)],
        repeats: true,
      }));
      const limit = [512, 1024, 2048, 4096, Infinity][Math.floor(random() * 5)];
      const bakes = WEAR_FITS.map((fit) => bakeWear(given, layers, fit, limit));
      for (const { across, down, area, pixels, sizes } of bakes) {
        expect(Math.max(across * pixels.width, down * pixels.height)).toBeLessThanOrEqual(
          // Rounding each repeat to whole pixels adds half of one each time.
          Math.min(limit, 8192) + Math.max(across, down) / 2,
        );
        for (const [at, size] of sizes.entries()) {
          const { turn } = layers[at];
          const [width, height] = turn % 180 === 0 ? [size.width, size.height] : [size.height, size.width];
          expect((area.width / width) % 1 < 1e-9 || (area.width / width) % 1 > 1 - 1e-9).toBe(true);
          expect((area.height / height) % 1 < 1e-9 || (area.height / height) % 1 > 1 - 1e-9).toBe(true);
        }
      }
      const worst = bakes.map(({ errors }) =>
        Math.max(...errors.flatMap(({ width, height }) => [Math.abs(width), Math.abs(height)])),
      );
      const [balance, wearSize, pixels] = bakes;
      expect(worst[1]).toBeLessThanOrEqual(Math.max(worst[2], 0.005) + 1e-9);
      expect(pixels.density).toBe(1);
      expect(balance.density).toBeGreaterThan(0);
      expect(wearSize.density).toBeLessThanOrEqual(1);
    }
  });
});
