import { beforeAll, describe, expect, test } from "@jest/globals";
import { containerImage } from "#core/convert/materialPlan";
import { planConversion } from "#core/convert/plan";
import { profileSchema, type Profile } from "#core/convert/profile";
import { ifc } from "#core/convert/profiles/ifc";
import { materialX } from "#core/convert/profiles/materialX";
import { objMtl } from "#core/convert/profiles/objMtl";
import { openUsd } from "#core/convert/profiles/openUsd";
import { heightAmplitude } from "#core/finish/finish";
import { containerKind } from "#core/formats/containers";
import type { ModelReading } from "#core/formats/modelMaterial";
import { readIfc } from "#core/formats/readIfc";
import { readMaterialX } from "#core/formats/readMaterialX";
import { readObj } from "#core/formats/readObj";
import { readUsd } from "#core/formats/readUsd";
import type { DrawnMaterial } from "#core/picture/surfaceReader";
import { likelyCauses } from "#core/proof/causes";
import { prove, PROOF_LIMIT } from "#core/proof/prove";
import { readDocument } from "#core/proof/readDocument";
import { SCENES } from "#core/proof/scenes";
import { bricks, imagesOf, materialOf, place, REPEAT, SIDE, truthOf, type Maps } from "#core/proof/testing";
import { createRaster } from "#core/raster/raster";

/** Bricks whose every third course is of metal. */
let maps: Maps;
beforeAll(() => {
  const set = bricks(15, ["#8a4030", "#a05844"]);
  const metal = createRaster(SIDE, SIDE, 1, 8);
  metal.data.forEach((_, i) => (metal.data[i] = Math.floor(i / SIDE / 16) % 3 === 0 ? 255 : 0));
  const { base_color, geometry_normal, height, specular_roughness } = set;
  maps = { base_color, geometry_normal, height, specular_roughness, base_metalness: metal };
});

const material = () => materialOf(maps, { coatWeight: 0.6, coatRoughness: 0.1 });
const truth = () => truthOf(maps, material());
const nameIn = (path: string) => path.replace(/^.*\//, "");

type Texts = Record<string, string>;
const READ: Record<string, (texts: Texts) => ModelReading | Promise<ModelReading>> = {
  materialx: ({ mtlx }) => readMaterialX("a.mtlx", mtlx),
  usda: ({ usda }) => readUsd("a.usda", usda),
  mtl: ({ mtl, obj }) => readObj("a.obj", obj, async () => mtl),
  ifc: ({ ifc: text }) => readIfc("a.ifc", text),
};

/** Delivered, with a mistake in the document, and read as who opens it sees it. */
async function opened(
  profile: Profile,
  mistake: (text: string) => string,
  given = material(),
  from: Maps = maps,
): Promise<DrawnMaterial> {
  const plan = planConversion(given, profile);
  const kind = containerKind(plan.container!.kind);
  const images = await imagesOf(from, plan, ({ path }) => nameIn(path));
  const { name, fileName, repeat, finish } = plan.material;
  const files = await kind.write(
    { name, fileName, repeat, finish, heightMm: heightAmplitude(finish, repeat).mm },
    plan.files
      .map((file) => ({
        ...containerImage(file),
        fileName: nameIn(file.path),
        format: "png",
        read: async () => new Uint8Array(),
      }))
      .filter((image) => kind.takes(image)),
  );
  const texts = Object.fromEntries(
    files.map(({ extension, bytes }) => [extension, new TextDecoder().decode(bytes)]),
  );
  texts[kind.extension] = mistake(texts[kind.extension]);
  const { materials } = await READ[plan.container!.kind](texts);
  return readDocument(profile, materials[0], async (file) => images.get(file), place);
}

const PANELS = SCENES.filter(({ shape, name }) => shape === "panel" && !name.includes("behind"));
const asItIs = (text: string) => text;
const PROFILES: [string, Profile][] = [
  ["MaterialX", materialX],
  ["OpenUSD", openUsd],
  ["OBJ with MTL", objMtl],
  ["IFC 4", ifc],
];

describe("a material file is read as who opens it sees it", () => {
  test.each(PROFILES)("%s: a faithful one has its images, values and size", async (_, profile) => {
    const seen = await opened(profile, asItIs);
    expect(seen.repeat.width).toBeCloseTo(REPEAT.width, 3);
    expect(seen.repeat.height).toBeCloseTo(REPEAT.height, 3);
    const causes = likelyCauses(truth(), seen, REPEAT);
    // Of a height in MTL and IFC nobody knows how many millimetres it has.
    expect(causes.filter((cause) => !/height/i.test(cause))).toEqual([]);
    if (profile !== materialX && profile !== openUsd) return;
    expect(causes).toEqual([]);
    expect(seen.finish).toMatchObject({ coatWeight: 0.6, coatRoughness: 0.1, heightMiddle: 0.5 });
    const { proof } = prove(truth(), seen, REPEAT, PANELS);
    expect(proof.scenes[proof.worst].mean).toBeLessThan(0.3);
  });

  test("MaterialX with a finish and wear that are left to nodes, as if they were worked in", async () => {
    const finish = { tint: "#d8c0a0", warmth: 25, saturation: 0.8, roughnessScale: 0.7, roughnessShift: 0.1 };
    const stains = createRaster(SIDE, SIDE, 1, 8);
    stains.data.forEach((_, i) => (stains.data[i] = (i % SIDE) * (i < (SIDE * SIDE) / 2 ? 2 : 0)));
    const layer = {
      material: "00000000-0000-4000-8000-000000000001",
      revision: 1,
      strength: 0.7,
      polarity: "light" as const,
      on: true,
    };
    const worn = (effect: "tint" | "rougher", more: object) => ({
      layer: { ...layer, effect, ...more },
      code: "W-1",
      name: "Stains",
      layout: "repeating" as const,
      repeat: { width: 500, height: 400 },
      sizeState: "known" as const,
      mask: { ...materialOf({ wear_mask: stains }, {}).maps[0] },
    });
    const wear = [
      worn("tint", { tint: "#402810", start: { x: 70, y: 30 } }),
      worn("rougher", { turn: 90 as const }),
    ];
    const given = { ...materialOf({ ...maps, wear_mask: stains }, finish), wear };
    given.maps = given.maps.filter(({ role }) => role !== "wear_mask");
    const layers = { effects: ["tint", "rougher"], slot: "wear", suffix: "wear", format: "png" };
    const profile = profileSchema.parse({ ...materialX, finishIn: "nodes", layers });
    const seen = await opened(profile, asItIs, given, { ...maps, wear_mask: stains });
    expect(seen.wear?.map((one) => one.layer.effect)).toEqual(["tint", "rougher"]);
    expect(seen.finish).toMatchObject({ tint: "#d8c0a0", saturation: 0.8, roughnessScale: 0.7 });
    const laid = wear.map(({ layer: one, repeat }) => ({
      layer: one,
      texture: seen.wear![0].texture,
      size: repeat,
    }));
    const worked = { ...truthOf(maps, given), wear: laid };
    const { proof } = prove(worked, seen, REPEAT, PANELS);
    expect(proof.scenes[proof.worst].mean).toBeLessThan(0.3);
    // Without its nodes it would be another one.
    const bare = prove(worked, { ...seen, wear: [], finish: truth().finish }, REPEAT, PANELS).proof;
    expect(bare.scenes[bare.worst].mean).toBeGreaterThan(3);
  });

  const swap = (a: string, b: string) => (text: string) =>
    text.replaceAll(a, "\0").replaceAll(b, a).replaceAll("\0", b);

  test.each<[string, Profile, (text: string) => string, RegExp]>([
    [
      "MaterialX, ten times too large",
      materialX,
      (text) => text.replaceAll('value="0.9, 0.6"', 'value="9, 6"'),
      /^The size is 10 times/,
    ],
    [
      "MaterialX, colours that are said to be linear",
      materialX,
      (text) => text.replace(' colorspace="srgb_texture"', ""),
      /^Colours are read as linear numbers/,
    ],
    [
      "MaterialX, roughness and metalness exchanged",
      materialX,
      swap("bricks_roughness", "bricks_metalness"),
      /^Channels are exchanged: the roughness gets the metalness/,
    ],
    [
      "MaterialX, relief that is wired to nothing",
      materialX,
      (text) =>
        text
          .replace('name="geometry_normal" type="vector3" nodename="to_normal"', 'name="x" type="vector3"')
          .replace('name="displacementshader"', 'name="y"'),
      /^The normal map is missing/,
    ],
    [
      "OpenUSD, width and height exchanged",
      openUsd,
      (text) => text.replace(/inputs:scale = \((1\.1\d+), (1\.6\d+)\)/, "inputs:scale = ($2, $1)"),
      /^Width and height are exchanged/,
    ],
    [
      "OpenUSD, data through a gamma",
      openUsd,
      (text) => text.replace(/(_roughness[^}]*sourceColorSpace = )"raw"/, '$1"sRGB"'),
      /^The roughness went through a gamma/,
    ],
    [
      "OpenUSD, a height of ten times as many millimetres",
      openUsd,
      (text) => text.replaceAll("0.008", "0.08").replaceAll("-0.004", "-0.04"),
      /^The height is 10 times/,
    ],
    [
      "MTL, a size that is a tenth",
      objMtl,
      (text) =>
        text.replaceAll(/-s ([\d.]+) ([\d.]+)/g, (_, u, v) => `-s ${Number(u) * 10} ${Number(v) * 10}`),
      /^The size is a 10th/,
    ],
    [
      "MTL, a roughness that is not named",
      objMtl,
      (text) => text.replace(/map_Pr.*/, ""),
      /roughness map is missing/,
    ],
    [
      "IFC, the colour in another mode",
      ifc,
      (text) => text.replace("'DIFFUSE'", "'SPARKLE'"),
      /colour map is missing|colours are not/,
    ],
  ])("a mistake is found and named: %s", async (_, profile, mistake, expected) => {
    const right = likelyCauses(truth(), await opened(profile, asItIs), REPEAT);
    const seen = await opened(profile, (text) => {
      const mistaken = mistake(text);
      expect(mistaken).not.toBe(text);
      return mistaken;
    });
    const named = likelyCauses(truth(), seen, REPEAT).filter((cause) => !right.includes(cause));
    expect(named[0]).toMatch(expected);
    const { proof } = prove(truth(), seen, REPEAT, PANELS);
    expect(proof.scenes[proof.worst].mean).toBeGreaterThan(PROOF_LIMIT);
  });
});
