import { beforeAll, describe, expect, test } from "@jest/globals";
import { flipGreen } from "#core/convert/kernels/flipGreen";
import { invert } from "#core/convert/kernels/invert";
import { multiplyOcclusion } from "#core/convert/kernels/multiplyOcclusion";
import { planConversion } from "#core/convert/plan";
import type { Profile } from "#core/convert/profile";
import { drawingBoard } from "#core/convert/profiles/drawingBoard";
import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import type { Finish } from "#core/finish/finish";
import type { MaterialState } from "#core/finish/material";
import { seededRandom } from "#core/pattern/random";
import { likelyCauses } from "#core/proof/causes";
import { imageCause } from "#core/proof/imageCause";
import { prove, PROOF_LIMIT } from "#core/proof/prove";
import { readPackage } from "#core/proof/readPackage";
import { SCENES, type Scene } from "#core/proof/scenes";
import { bricks, imagesOf, materialOf, place, REPEAT, SIDE, truthOf, type Maps } from "#core/proof/testing";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { srgbToLinear } from "#core/raster/srgb";

/** Bricks, some of them of metal, some of them not there. */
let maps: Maps;
let other: Raster;
beforeAll(() => {
  const set = bricks(5, ["#8a4030", "#a05844"]);
  const random = seededRandom(77);
  const blocks = Array.from({ length: 64 }, () => random());
  const spotted = (from: number) => {
    const raster = createRaster(SIDE, SIDE, 1, 8);
    for (let i = 0; i < raster.data.length; i++) {
      const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
      raster.data[i] = blocks[(Math.floor(x / 16) + 8 * Math.floor(y / 16) + from) % 64] > 0.7 ? 255 : 0;
    }
    return raster;
  };
  const { base_color, geometry_normal, height, specular_roughness, ambient_occlusion } = set;
  maps = {
    base_color,
    geometry_normal,
    height,
    specular_roughness,
    ambient_occlusion,
    base_metalness: spotted(0),
    geometry_opacity: invert(spotted(9)),
  };
  other = bricks(99, ["#4f6f5c", "#7d9a84"]).base_color;
});

const material = (finish: Partial<Finish> = {}): MaterialState =>
  materialOf(maps, { opacityMode: "cut-out", ...finish });
const truth = (of: MaterialState) => truthOf(maps, of);

/** As it would be read again from its files. */
async function deliver(of: MaterialState, profile: Profile, maxPixels?: number) {
  const plan = planConversion(of, profile, { maxPixels });
  const images = await imagesOf(maps, plan, ({ slot }) => slot);
  return { plan, pack: { images, settings: { ...plan.settings } } };
}

interface Files {
  images: Map<string, Raster>;
  settings: Record<string, string | number | boolean>;
}
const seen = (profile: Profile, { images, settings }: Files) =>
  readPackage(
    profile,
    { images: new Map([...images].map(([slot, raster]) => [slot, async () => raster])), settings },
    place,
  );
const proofOf = async (of: MaterialState, profile: Profile, pack: Files, scenes?: readonly Scene[]) =>
  prove(truth(of), await seen(profile, pack), REPEAT, scenes).proof;

/** Enough to see any mistake: light from before and from behind, on what is flat. */
const PANELS = SCENES.filter(({ shape }) => shape === "panel");

describe("a faithful delivery", () => {
  test.each([
    ["for the gloss path tracer", glossPathTracer],
    ["for the packed walkthrough", packedWalkthrough],
  ])("%s looks like its material, but for what the renderer has no input for", async (_, profile) => {
    // Neither height nor occlusion that a convention takes elsewhere.
    const of = material({
      occlusionStrength: 0,
      ...(profile === packedWalkthrough && { heightAmplitudeMm: 0 }),
    });
    const { pack } = await deliver(of, profile);
    const { scenes, worst, causes } = await proofOf(of, profile, pack);
    expect(scenes).toHaveLength(SCENES.length);
    expect(scenes[worst].mean).toBeLessThan(0.5);
    expect(causes).toEqual([]);
  });

  test("keeps its corrected finish: colour, roughness, relief", async () => {
    const of = material({
      occlusionStrength: 0,
      tint: "#ffe0b0",
      brightnessStops: 0.4,
      roughnessScale: 0.7,
      normalStrength: 0.6,
    });
    const { pack } = await deliver(of, glossPathTracer);
    const { scenes, worst } = await proofOf(of, glossPathTracer, pack, PANELS);
    expect(scenes[worst].mean).toBeLessThan(PROOF_LIMIT);
  });

  test("says why it looks otherwise where the convention has it so", async () => {
    const of = material();
    const { pack } = await deliver(of, glossPathTracer);
    const { scenes, worst, causes } = await proofOf(of, glossPathTracer, pack, PANELS);
    expect(scenes[worst].mean).toBeGreaterThan(PROOF_LIMIT);
    expect(causes).toContain("Ambient occlusion is multiplied into the colour.");
  });

  test("whose renderer takes little is far from its material, and the causes are what it takes none of", async () => {
    const of = material({ occlusionStrength: 0 });
    const { pack } = await deliver(of, drawingBoard);
    const { scenes, worst, causes } = await proofOf(of, drawingBoard, pack, PANELS);
    expect(scenes[worst].mean).toBeGreaterThan(PROOF_LIMIT);
    expect(causes).toContain("The metalness map is missing.");
    expect(causes.filter((cause) => /colour|opacity|roughness/i.test(cause))).toEqual([]);
  });
});

describe("a mistake in a delivery is found and named", () => {
  type Plant = (pack: Files) => void;
  const change =
    (slot: string, work: (raster: Raster) => Raster): Plant =>
    ({ images }) => {
      const raster = images.get(slot);
      if (!raster) throw new Error(`There is no ${slot} among ${[...images.keys()].join(", ")}.`);
      images.set(slot, work({ ...raster, data: raster.data.slice() }));
    };
  const gamma = (raster: Raster): Raster => {
    const most = maxValue(raster);
    return { ...raster, data: raster.data.map((value) => Math.round(srgbToLinear(value / most) * most)) };
  };
  const exchanged = (raster: Raster): Raster => {
    for (let i = 0; i < raster.data.length; i += 3)
      [raster.data[i + 1], raster.data[i + 2]] = [raster.data[i + 2], raster.data[i + 1]];
    return raster;
  };

  test.each<[string, Profile, Plant, RegExp]>([
    [
      "green not flipped",
      glossPathTracer,
      change("normal", flipGreen),
      /^Green of the normal map is the wrong way/,
    ],
    ["gloss taken for roughness", glossPathTracer, change("gloss", invert), /^Gloss is taken for roughness/],
    [
      "data through a gamma",
      glossPathTracer,
      change("gloss", (raster) => invert(gamma(invert(raster)))),
      /^The roughness went through a gamma/,
    ],
    [
      "a size ten times too large",
      glossPathTracer,
      ({ settings }) => {
        settings.width = Number(settings.width) * 10;
        settings.height = Number(settings.height) * 10;
      },
      /^The size is 10 times what it should be/,
    ],
    [
      "width and height exchanged",
      glossPathTracer,
      ({ settings }) => {
        [settings.width, settings.height] = [settings.height, settings.width];
      },
      /^Width and height are exchanged/,
    ],
    [
      "occlusion in the colour as well",
      packedWalkthrough,
      change("colour", (raster) =>
        multiplyOcclusion(
          raster,
          { ...maps.ambient_occlusion!, data: maps.ambient_occlusion!.data.slice() },
          1,
          1,
          raster,
        ),
      ),
      /^Ambient occlusion is multiplied into the colour/,
    ],
    [
      "channels exchanged",
      packedWalkthrough,
      change("occlusion, roughness, metalness", exchanged),
      /^Channels are exchanged: the roughness gets the metalness/,
    ],
    ["the height inverted", glossPathTracer, change("height", invert), /^The height is inverted/],
    ["the opacity inverted", glossPathTracer, change("opacity", invert), /^The opacity is inverted/],
    [
      "a map of another material",
      glossPathTracer,
      ({ images }) => void images.set("base colour", other),
      /^The colours are not this material’s/,
    ],
  ])("%s", async (_, profile, plant, expected) => {
    const of = material({ occlusionStrength: profile === glossPathTracer ? 0 : 1 });
    const { pack } = await deliver(of, profile);
    const right = likelyCauses(truth(of), await seen(profile, pack), REPEAT);
    plant(pack);
    const { scenes, worst, causes } = await proofOf(of, profile, pack, PANELS);
    expect(scenes[worst].mean).toBeGreaterThan(PROOF_LIMIT);
    const named = causes.filter((cause) => !right.includes(cause));
    expect(named[0]).toMatch(expected);
    // Two channels that are exchanged are both said.
    for (const one of named.slice(1)) expect(one).toMatch(/^Channels are exchanged/);
  });

  test.each<[string, Plant, RegExp]>([
    [
      "8-bit banding of the height",
      change("height", (raster) => ({
        ...raster,
        data: raster.data.map((value) => Math.round(value / 257) * 257),
      })),
      /“height” has 256 steps at most/,
    ],
    ["one file missing", ({ images }) => void images.delete("gloss"), /“gloss” is missing/],
    [
      "one file of another size",
      ({ images }) => void images.set("gloss", createRaster(8, 8, 1, 8)),
      /“gloss” has 8 × 8 px in place of 128 × 128/,
    ],
  ])("%s", async (_, plant, expected) => {
    const { plan, pack } = await deliver(material(), glossPathTracer);
    const wanted = plan.files.map(({ slot, width, height, bitDepth, image }) => ({
      slot,
      width,
      height,
      sourceWidth: width,
      bits: Math.min(bitDepth, image.kind === "map" ? (image.base.source?.bitDepth ?? 8) : 8),
    }));
    const causesOf = () => wanted.flatMap((one) => imageCause(one, pack.images.get(one.slot)) ?? []);
    expect(causesOf()).toEqual([]);
    plant(pack);
    const causes = causesOf();
    expect(causes).toHaveLength(1);
    expect(causes[0]).toMatch(expected);
  });
});

test("what a renderer sees is read by the profile and the files alone: another profile sees something else", async () => {
  const of = material({ occlusionStrength: 0 });
  const { pack } = await deliver(of, glossPathTracer);
  const mistaken: Profile = { ...glossPathTracer, normalDirection: "+Y", unit: "m" };
  const causes = likelyCauses(truth(of), await seen(mistaken, pack), REPEAT);
  expect(causes).toEqual(
    expect.arrayContaining([
      "The size is 100 times what it should be.",
      "Green of the normal map is the wrong way: joints stand out in place of in.",
    ]),
  );
});
