import { describe, expect, test } from "@jest/globals";
import { finishSchema, type Finish } from "#core/finish/finish";
import type { Laid } from "#core/finish/marks";
import { sampleSet } from "#core/judge/testing";
import { CONDITIONS, conditionSchema, type Condition } from "#core/picture/condition";
import { FULLNESS } from "#core/picture/bent";
import { environmentOf, lightGridsOf, whiteIn } from "#core/picture/environment";
import { makePicture } from "#core/picture/picture";
import { roleTexture } from "#core/picture/roleTexture";
import { surfaceReader, type DrawnMaterial, type Textures } from "#core/picture/surfaceReader";
import { sample, textureOf, type Texture } from "#core/raster/texture";
import { toneMapped } from "#core/picture/toneMapping";
import type { View } from "#core/picture/view";
import { createRaster, type Raster } from "#core/raster/raster";
import { srgbToLinear } from "#core/raster/srgb";
import { luminance } from "#core/shade/rgb";

const VIEW: View = {
  shape: "panel",
  width: 48,
  height: 32,
  mmPerPx: 5,
  centre: { x: 0, y: 0 },
  cards: false,
};
const MATT = { roughness: 1, specularWeight: 0 };

function plain(finish: Partial<Finish>, textures: Textures = {}): DrawnMaterial {
  return { textures, finish: finishSchema.parse(finish), repeat: { width: 400, height: 400 }, heightMm: 0 };
}

/** Linear light of a pixel's channels. */
const at = (picture: Raster, x: number, y: number): [number, number, number] => {
  const i = (y * picture.width + x) * 3;
  return [0, 1, 2].map((c) => srgbToLinear(picture.data[i + c] / 255)) as [number, number, number];
};
const mean = (picture: Raster, channel = 1): number => {
  let sum = 0;
  for (let i = channel; i < picture.data.length; i += 3) sum += srgbToLinear(picture.data[i] / 255);
  return sum / (picture.data.length / 3);
};

describe.each(Object.entries(CONDITIONS) as [string, Condition][])(
  "under the condition %s",
  (_, condition) => {
    test("it is one that a studio may keep", () =>
      expect(conditionSchema.parse(condition)).toEqual(condition));

    test("the grey card reads 18 %, the white one all, and a matt wall of 18 % the same", () => {
      const view = { ...VIEW, width: 64, height: 64, cards: true };
      const picture = makePicture(plain({ color: "#767676", ...MATT }), view, condition);
      // 0x76 is 18.1 % of white.
      expect(Math.abs(at(picture, 8, 56)[1] - 0.18)).toBeLessThan(0.0018 + 0.002);
      expect(at(picture, 16, 56)[1]).toBeGreaterThan(0.99);
      expect(Math.abs(at(picture, 40, 20)[1] / 0.181 - 1)).toBeLessThan(0.02);
      const brighter = makePicture(plain({ color: "#767676", ...MATT }), view, {
        ...condition,
        exposureStops: 1,
      });
      expect(at(brighter, 40, 20)[1] / at(picture, 40, 20)[1]).toBeCloseTo(2, 1);
    });
  },
);

describe("a panel", () => {
  const stripes = createRaster(40, 40, 3, 8);
  for (let y = 0; y < 40; y++)
    for (let x = 0; x < 40; x++) stripes.data.fill(x < 20 ? 20 : 220, (y * 40 + x) * 3, (y * 40 + x) * 3 + 3);
  const textures = { base_color: textureOf(stripes, { holds: "color", wraps: true }) };

  test("shows the material to scale: a stripe of 200 mm is 40 pixels wide at 5 mm each", () => {
    const view = { ...VIEW, width: 160, height: 4, centre: { x: 400, y: 200 } };
    const picture = makePicture(plain(MATT, textures), view, CONDITIONS.studio);
    const light = Array.from({ length: 160 }, (_, x) => at(picture, x, 2)[1] > 0.3);
    const edges = light.flatMap((one, x) => (x > 0 && one !== light[x - 1] ? [x] : []));
    expect(edges).toHaveLength(3);
    for (const [i, x] of edges.entries()) expect(Math.abs(x - 40 * (i + 1))).toBeLessThanOrEqual(1);
  });

  test("is the same in bands as it is whole", () => {
    const material = plain({}, textures);
    const whole = makePicture(material, VIEW, CONDITIONS.grazing);
    const upper = makePicture(material, VIEW, CONDITIONS.grazing, [0, 13]);
    const lower = makePicture(material, VIEW, CONDITIONS.grazing, [13, 32]);
    expect(Buffer.from([...upper.data, ...lower.data])).toEqual(Buffer.from(whole.data));
  });

  test("is adjusted as a delivery is: a tint multiplies, and white changes nothing", () => {
    const before = makePicture(plain(MATT, textures), VIEW, CONDITIONS.studio);
    expect(makePicture(plain({ ...MATT, tint: "#ffffff" }, textures), VIEW, CONDITIONS.studio)).toEqual(
      before,
    );
    const tinted = makePicture(plain({ ...MATT, tint: "#ff0000" }, textures), VIEW, CONDITIONS.studio);
    expect(mean(tinted, 0)).toBeCloseTo(mean(before, 0), 2);
    expect(mean(tinted, 1)).toBeLessThan(0.002);
  });

  test("relief throws its shadow away from the lamp", () => {
    const ridge = createRaster(80, 8, 1, 8);
    for (let y = 0; y < 8; y++) for (let x = 38; x < 42; x++) ridge.data[y * 80 + x] = 255;
    const height = textureOf(ridge, { holds: "data", wraps: true });
    const material = { ...plain({ color: "#808080", heightMiddle: 0, ...MATT }, { height }), heightMm: 20 };
    const view = { ...VIEW, width: 80, height: 3, centre: { x: 200, y: 200 } };
    const from = (lampAround: number) => {
      const picture = makePicture(material, view, { ...CONDITIONS.grazing, lampAround, lampAbove: 20 });
      return { left: at(picture, 30, 1)[1], right: at(picture, 49, 1)[1] };
    };
    const fromRight = from(0);
    expect(fromRight.left).toBeLessThan(fromRight.right * 0.5);
    const fromLeft = from(180);
    expect(fromLeft.right).toBeLessThan(fromLeft.left * 0.5);
    const flat = makePicture({ ...material, heightMm: 0 }, view, CONDITIONS.grazing);
    expect(at(flat, 30, 1)[1]).toBeCloseTo(at(flat, 49, 1)[1], 2);
  });

  test("a thin sheet glows with light behind it, a wall does not", () => {
    const dark = { ...CONDITIONS.behind, behind: 0 };
    const sheet = plain({ color: "#ffffff", thinWalled: true, translucencyWeight: 0.5, ...MATT });
    expect(
      mean(makePicture(sheet, VIEW, CONDITIONS.behind)) - mean(makePicture(sheet, VIEW, dark)),
    ).toBeGreaterThan(0.4);
    const wall = plain({ color: "#808080", translucencyWeight: 0.5, ...MATT });
    expect(makePicture(wall, VIEW, CONDITIONS.behind)).toEqual(makePicture(wall, VIEW, dark));
  });

  test("what is cut out or clear shows the chequered ground", () => {
    const view = { ...VIEW, centre: { x: 25, y: 25 } };
    const differs = (material: DrawnMaterial) => {
      const picture = makePicture(material, view, CONDITIONS.studio);
      return Math.abs(at(picture, 24, 16)[1] - at(picture, 34, 16)[1]);
    };
    const half = createRaster(1, 1, 1, 8);
    half.data[0] = 100;
    const geometry_opacity = textureOf(half, { holds: "data", wraps: true });
    expect(differs(plain({ color: "#ff0000", ...MATT }))).toBeLessThan(0.01);
    expect(
      differs(plain({ color: "#ff0000", opacityMode: "cut-out" }, { geometry_opacity })),
    ).toBeGreaterThan(0.2);
    expect(
      differs(
        plain({ color: "#ff0000", opacityMode: "cut-out", opacityThreshold: 0.3 }, { geometry_opacity }),
      ),
    ).toBeLessThan(0.02);
    expect(differs(plain({ color: "#ff0000" }, { geometry_opacity }))).toBeGreaterThan(0.1);
    expect(differs(plain({ transmissionWeight: 1, roughness: 0, thinWalled: true }))).toBeGreaterThan(0.2);
  });

  test("what glows adds its luminance, 100 cd/m² being white", () => {
    const glow = plain({ color: "#000000", emissionNits: 50, emissionColor: "#00ff00", ...MATT });
    const [r, g] = at(makePicture(glow, VIEW, CONDITIONS.studio), 20, 10);
    expect(g).toBeCloseTo(0.5, 1);
    expect(r).toBeLessThan(0.01);
  });

  test("of metal mirrors its environment, and a rough one blurs it", () => {
    const shown = (roughness: number) => {
      const condition = { ...CONDITIONS["low-sun"], lampShare: 0 };
      const view = { ...VIEW, width: 16, height: 64, mmPerPx: 60 };
      const picture = makePicture(plain({ color: "#ffffff", metalness: 1, roughness }), view, condition);
      const column = Array.from({ length: 64 }, (_, y) => at(picture, 8, y)[2]);
      return Math.max(...column) - Math.min(...column);
    };
    expect(shown(0.05)).toBeGreaterThan(shown(0.8) * 1.5);
  });
});

describe("wear", () => {
  /** One footprint: a bar of 280 mm in the middle of a layer of 700 mm. */
  const print: Texture = {
    width: 350,
    height: 350,
    channels: 1,
    wraps: true,
    data: Float32Array.from({ length: 350 * 350 }, (_, i) => {
      const [x, y] = [i % 350, Math.floor(i / 350)];
      return Number(x >= 105 && x < 245 && y >= 150 && y < 200);
    }),
  };
  /** Boards of 137 mm, light and dark by turns. */
  const boards = createRaster(274, 274, 3, 8);
  for (let i = 0; i < boards.data.length; i++) boards.data[i] = Math.floor(i / 3) % 274 < 137 ? 90 : 140;
  const floor = (over: Partial<Laid["layer"]>, size = { width: 700, height: 700 }): DrawnMaterial => ({
    textures: { base_color: textureOf(boards, { holds: "color", wraps: true }) },
    finish: finishSchema.parse({}),
    repeat: { width: 274, height: 274 },
    heightMm: 0,
    wear: [
      {
        layer: { strength: 1, polarity: "light", effect: "tint", tint: "#ffffff", ...over },
        texture: print,
        size,
      },
    ],
  });
  const view: View = { ...VIEW, width: 700, height: 32, mmPerPx: 1, centre: { x: 350, y: 350 } };
  /** Lengths of what is lighter than a board, along the middle. */
  const prints = (picture: Raster) => {
    const lengths: number[] = [];
    for (let x = 0, run = 0; x < picture.width; x++) {
      if (at(picture, x, 16)[0] > 0.6) run++;
      if (run > 0 && (at(picture, x, 16)[0] <= 0.6 || x === picture.width - 1)) {
        lengths.push(run);
        run = 0;
      }
    }
    return lengths;
  };

  test("is true to scale: a footprint of 280 mm beside boards of 137 mm", () => {
    const picture = makePicture(floor({}), view, CONDITIONS.studio);
    expect(prints(picture)).toHaveLength(1);
    expect(Math.abs(prints(picture)[0] - 280)).toBeLessThanOrEqual(2);
    // The boards beside it change at 137 mm, whatever the wear repeats at.
    const edge = Array.from({ length: 60 }, (_, x) => x + 100).find(
      (x) => at(picture, x + 1, 2)[0] - at(picture, x, 2)[0] > 0.02,
    )!;
    expect(Math.abs(edge + 1 - 137)).toBeLessThanOrEqual(1);
    // Half as large where it is said to be, and twice as often.
    const halved = prints(makePicture(floor({}, { width: 350, height: 700 }), view, CONDITIONS.studio));
    expect(halved).toHaveLength(2);
    for (const length of halved) expect(Math.abs(length - 140)).toBeLessThanOrEqual(2);
  });

  test("roughens, tilts and throws shadows by the same rules as a delivery", () => {
    const light = (over: Partial<Laid["layer"]>) =>
      mean(makePicture(floor(over), { ...view, height: 120 }, CONDITIONS.grazing));
    const none = light({ strength: 0 });
    expect(light({ effect: "smoother" })).not.toBeCloseTo(none, 2);
    // What stands out keeps the low lamp off what lies behind it.
    const reader = surfaceReader(floor({ effect: "stand-out", amountMm: 4 }));
    expect([reader.topMm, reader.hasRelief]).toEqual([4, true]);
    expect(reader.heightAt(350 / 274, 350 / 274)).toBeCloseTo(4, 5);
    expect(reader.at((105 * 2) / 274, 350 / 274).normal[0]).toBeLessThan(-0.5);
    expect(surfaceReader(floor({ effect: "cut-in", amountMm: 4 })).topMm).toBe(0);
    expect(light({ effect: "stand-out", amountMm: 12 })).toBeLessThan(none);
  });
});

describe("a block", () => {
  const set = sampleSet("brick");
  const map = (role: "base_color" | "height", raster: Raster) =>
    roleTexture({ role, channel: "color", normalDirection: null, raster }, { reduce: 2, wraps: true });
  const material: DrawnMaterial = {
    textures: Object.fromEntries([map("base_color", set.base_color), map("height", set.height)]),
    finish: finishSchema.parse({}),
    repeat: set.repeat,
    heightMm: set.heightAmplitudeMm,
  };
  const view: View = { ...VIEW, shape: "block", width: 120, height: 90, mmPerPx: 8 };

  test("stands before mid-grey, in the middle of its view, and each of its sides is lit in its own way", () => {
    const picture = makePicture(material, view, CONDITIONS.studio);
    for (const [x, y] of [
      [0, 0],
      [119, 0],
      [0, 89],
      [119, 89],
    ])
      expect(at(picture, x, y)[1]).toBeCloseTo(0.18, 2);
    const isBlock = (x: number, y: number) => Math.abs(at(picture, x, y)[0] - at(picture, x, y)[2]) > 0.01;
    const columns = Array.from({ length: 120 }, (_, x) => x).filter((x) => isBlock(x, 45) || isBlock(x, 52));
    expect(Math.abs((Math.min(...columns) + Math.max(...columns)) / 2 - 60)).toBeLessThan(8);
    expect(columns.length).toBeGreaterThan(50);
  });

  test("is outlined by its relief", () => {
    const flat = makePicture({ ...material, heightMm: 0 }, view, CONDITIONS.studio);
    const deep = makePicture({ ...material, heightMm: 60 }, view, CONDITIONS.studio);
    const covered = ({ data }: Raster) => {
      let count = 0;
      for (let i = 0; i < data.length; i += 3) count += Number(Math.abs(data[i] - data[i + 2]) > 4);
      return count;
    };
    expect(Math.abs(covered(deep) - covered(flat))).toBeGreaterThan(50);
  });
});

describe("a drape", () => {
  /** Upright stripes of 10 mm. */
  const stripes = createRaster(40, 1, 3, 8);
  for (let i = 0; i < stripes.data.length; i++) stripes.data[i] = Math.floor(i / 3) % 40 < 20 ? 40 : 220;
  const cloth = (finish: Partial<Finish>): DrawnMaterial => ({
    textures: { base_color: textureOf(stripes, { holds: "color", wraps: true }) },
    finish: finishSchema.parse({ ...MATT, ...finish }),
    repeat: { width: 20, height: 20 },
    heightMm: 0,
  });
  const view: View = { ...VIEW, shape: "drape", width: 700, height: 4, mmPerPx: 1 };
  const row = (material: DrawnMaterial, condition: Condition) =>
    [makePicture(material, view, condition)].flatMap((picture) =>
      Array.from({ length: 700 }, (_, x) => at(picture, x, 2)[1]),
    );

  test("has more cloth than it is wide, at its real size, and its folds are lit from one side", () => {
    const picture = makePicture(cloth({}), view, { ...CONDITIONS.studio, lampShare: 0 });
    const light = Array.from({ length: 700 }, (_, x) => at(picture, x, 2)[1]);
    const middle = (Math.max(...light) + Math.min(...light)) / 2;
    // Where folds face away, a stripe is narrower than a pixel: the flanks are left out on both sides of the sum.
    const edges = light.filter((value, x) => x > 0 && value > middle !== light[x - 1] > middle).length;
    expect(edges / 70).toBeGreaterThan(1.1);
    expect(edges / 70).toBeLessThan(FULLNESS * 1.05);
    expect(FULLNESS).toBeGreaterThan(1.4);

    const grey: DrawnMaterial = { ...cloth({ color: "#bbbbbb" }), textures: {} };
    const side = { ...CONDITIONS.studio, lampShare: 1, lampAround: 0, lampAbove: 30 };
    const lit = makePicture(grey, view, side);
    // The lamp stands at the right: of a fold whose top lies at 70 mm the right flank is light, and the left one dark.
    expect(at(lit, 350 + 70 + 35, 2)[1]).toBeGreaterThan(3 * at(lit, 350 + 70 - 35, 2)[1]);
  });

  test("that is thin glows where light falls on its back", () => {
    const curtain = cloth({ thinWalled: true, translucencyWeight: 0.5 });
    const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
    const dark = { ...CONDITIONS.behind, behind: 0 };
    expect(mean(row(curtain, CONDITIONS.behind))).toBeGreaterThan(1.5 * mean(row(curtain, dark)));
    expect(mean(row(cloth({}), CONDITIONS.behind))).toBeCloseTo(mean(row(cloth({}), dark)), 6);
  });
});

describe("an environment", () => {
  test("turns about what is upright, and lights a side by where it is bright", () => {
    const still = environmentOf("low-sun", 0);
    const turned = environmentOf("low-sun", 90);
    const [fromRight] = still.irradiance([1, 0, 0]);
    const [fromLeft] = still.irradiance([-1, 0, 0]);
    expect(fromRight).toBeGreaterThan(fromLeft * 1.5);
    // What was at the right has come to where the eye is.
    for (const i of [0, 1, 2] as const)
      expect(turned.irradiance([0, 0, -1])[i] + turned.irradiance([0, 0, 1])[i]).toBeCloseTo(
        still.irradiance([1, 0, 0])[i] + still.irradiance([-1, 0, 0])[i],
        1,
      );
    expect(turned.irradiance([0, 1, 0])[1]).toBeCloseTo(still.irradiance([0, 1, 0])[1], 2);
    // What lights a panel's white is what falls on it.
    const { irradiance } = lightGridsOf("low-sun");
    expect(whiteIn(irradiance, 90)).toBeCloseTo(luminance(turned.irradiance([0, 0, 1])) / Math.PI, 6);
  });

  test("that is rough to the mirror shows about what falls on the surface", () => {
    const { blurred, irradiance } = environmentOf("overcast", 0);
    const [wide] = blurred([0, 1, 0], 1);
    expect(wide / (irradiance([0, 1, 0])[0] / Math.PI)).toBeGreaterThan(0.9);
    expect(blurred([0, 1, 0], 0)[1]).toBeCloseTo(1, 2);
    expect(blurred([0, -1, 0], 0)[1]).toBeLessThan(0.25);
  });
});

test("the neutral curve takes off what a surface mirrors, keeps what is dark, and never passes white", () => {
  expect(toneMapped([0.5, 0.4, 0.3], "none")).toEqual([0.5, 0.4, 0.3]);
  const [r, g, b] = toneMapped([0.5, 0.4, 0.3], "neutral");
  expect([r, g, b].map((value) => Number(value.toFixed(6)))).toEqual([0.46, 0.36, 0.26]);
  for (const value of toneMapped([40, 3, 1], "neutral")) {
    expect(value).toBeLessThanOrEqual(1);
    expect(value).toBeGreaterThan(0.5);
  }
});

describe("a texture", () => {
  const ramp = createRaster(8, 2, 1, 16);
  for (let i = 0; i < 16; i++) ramp.data[i] = (i % 8) * 8192;

  test("is read between its pixels, and over its edge where it wraps", () => {
    const wrapped = textureOf(ramp, { holds: "data", wraps: true });
    const still = textureOf(ramp, { holds: "data", wraps: false });
    expect(sample(wrapped, 2 / 8, 0.5)).toBeCloseTo((8192 * 1.5) / 65535, 5);
    expect(sample(wrapped, 0, 0.5)).toBeCloseTo((8192 * 3.5) / 65535, 5);
    expect(sample(wrapped, 3.0625, 0.5)).toBeCloseTo(sample(wrapped, 0.0625, 0.5), 6);
    expect(sample(still, -1, 0.5)).toBe(0);
  });

  test("is reduced by averaging in linear light", () => {
    const black = createRaster(2, 1, 3, 8);
    black.data.fill(255, 3);
    const [one] = textureOf(black, { holds: "color", wraps: true, reduce: 2 }).data;
    expect(one).toBeCloseTo(0.5, 3);
    expect(textureOf(ramp, { holds: "data", wraps: true, reduce: 3 })).toMatchObject({ width: 2, height: 1 });
  });

  test("reads data that came in colour by its luminance", () => {
    const red = createRaster(1, 1, 3, 8);
    red.data[0] = 255;
    expect(textureOf(red, { holds: "data", wraps: true }).data[0]).toBeCloseTo(0.2126, 4);
  });

  test("gloss becomes roughness, and green points up", () => {
    const grey = createRaster(1, 1, 3, 8);
    grey.data.set([51, 51, 51]);
    const [role, gloss] = roleTexture(
      { role: "gloss", channel: "color", normalDirection: null, raster: grey },
      { reduce: 1, wraps: true },
    );
    expect([role, gloss.data[0]]).toEqual(["specular_roughness", expect.closeTo(0.8, 3)]);
    const [, down] = roleTexture(
      { role: "geometry_normal", channel: "color", normalDirection: "-Y", raster: grey },
      { reduce: 1, wraps: true },
    );
    expect([...down.data].map((value) => Number(value.toFixed(2)))).toEqual([0.2, 0.8, 0.2]);
    expect([...grey.data]).toEqual([51, 51, 51]);
  });
});
