import { describe, expect, test } from "@jest/globals";
import { adjusterOf, type ColorAdjustment } from "#core/finish/colorAdjustment";
import { finishSchema, type Finish } from "#core/finish/finish";
import { marksOf } from "#core/finish/marks";
import { adjustedRoughness } from "#core/finish/roughnessAdjustment";
import { wornRoughness } from "#core/finish/wear";
import type { ContainedWear, EncodedImage } from "#core/formats/container";
import { MATERIALX, MATERIALX_STANDARD } from "#core/formats/materialX";
import { childOf, numbersIn, parseMaterialX, type MaterialXNode } from "#core/formats/materialXNodes";
import { readMaterialX } from "#core/formats/readMaterialX";
import { createRaster } from "#core/raster/raster";
import { hexToLinear } from "#core/raster/srgb";
import { roleTexture } from "#core/picture/roleTexture";
import { readDocument } from "#server/testing/materialXLibrary";

const REPEAT = { width: 900, height: 600 };
const read = async () => new Uint8Array();
const image = (role: EncodedImage["role"], more: Partial<EncodedImage> = {}): EncodedImage => ({
  role,
  channels: null,
  fileName: `${role}.png`,
  format: "png",
  read,
  ...more,
});

async function written(
  images: EncodedImage[],
  finish: Partial<Finish> = {},
  kind = MATERIALX,
): Promise<string> {
  const material = {
    name: "A",
    fileName: "a",
    repeat: REPEAT,
    finish: finishSchema.parse(finish),
    heightMm: 5,
  };
  const [file] = await kind.write(material, images);
  return new TextDecoder().decode(file.bytes);
}

/** What MaterialX says that its nodes compute, written down from its specification; shares nothing with what reads them here. */
function valueAt(
  nodes: Map<string, MaterialXNode>,
  name: string,
  images: Record<string, number[]>,
): number[] {
  const node = nodes.get(name)!;
  const input = (of: string): number[] => {
    const found = childOf(node, of)!;
    const { nodename, value } = found.attributes;
    return nodename ? valueAt(nodes, nodename, images) : numbersIn(value);
  };
  const each = (a: number[], b: number[], what: (x: number, y: number) => number) =>
    Array.from({ length: Math.max(a.length, b.length) }, (_, i) =>
      what(a[a.length === 1 ? 0 : i], b[b.length === 1 ? 0 : i]),
    );
  const dot = (a: number[], b: number[]) => a.reduce((sum, value, i) => sum + value * b[i], 0);
  const mix = (bg: number[], fg: number[], by: number) => each(bg, fg, (x, y) => x * (1 - by) + y * by);
  switch (node.category) {
    case "convert":
      return input("in");
    case "multiply":
      return each(input("in1"), input("in2"), (x, y) => x * y);
    case "add":
      return each(input("in1"), input("in2"), (x, y) => x + y);
    case "power":
      return each(input("in1"), input("in2"), (x, y) => x ** y);
    case "max":
      return each(input("in1"), input("in2"), Math.max);
    case "clamp":
      return each(each(input("in"), input("low"), Math.max), input("high"), Math.min);
    case "dotproduct":
      return [dot(input("in1"), input("in2"))];
    case "combine2":
      return [...input("in1"), ...input("in2")];
    case "combine3":
      return [...input("in1"), ...input("in2"), ...input("in3")];
    case "saturate": {
      const grey = dot(input("in"), input("lumacoeffs"));
      return mix([grey, grey, grey], input("in"), input("amount")[0]);
    }
    case "mix":
      return mix(input("bg"), input("fg"), input("mix")[0]);
    default:
      return images[name] ?? images[node.category];
  }
}

const nodesOf = (text: string) =>
  new Map(parseMaterialX(text).children.map((node) => [node.attributes.name, node]));
const behind = (text: string, input: string) => {
  const surface = parseMaterialX(text).children.find(({ category }) => category === "open_pbr_surface")!;
  return childOf(surface, input)!.attributes.nodename;
};

const ADJUSTMENTS: ColorAdjustment[] = [
  { tint: "#c08040" },
  { warmth: 35 },
  { warmth: -60, saturation: 0.4 },
  { brightnessStops: 0.7, gamma: 1.3 },
  { contrast: 1.4 },
  { gamma: 0.8, contrast: 0.7, saturation: 1.6 },
  { tint: "#e8d0b0", warmth: 12.5, brightnessStops: -0.45, gamma: 1.15, contrast: 1.2, saturation: 0.85 },
];
const COLORS: [number, number, number][] = [
  [0, 0, 0],
  [1, 1, 1],
  [0.18, 0.18, 0.18],
  [0.6, 0.2, 0.05],
  [0.02, 0.3, 0.9],
];

describe("a finish that is left to nodes", () => {
  test.each(ADJUSTMENTS)("of a colour computes what is worked into images: %o", async (color) => {
    const text = await written([image("base_color", { left: { color } })]);
    const end = behind(text, "base_color");
    for (const from of COLORS)
      for (const [i, value] of adjusterOf(color)(from).entries())
        expect(valueAt(nodesOf(text), end, { tiledimage: from })[i]).toBeCloseTo(value, 4);
  });

  test.each([
    { scale: 0.8, shift: 0, low: 0, high: 1 },
    { scale: 1, shift: -0.2, low: 0.1, high: 0.6 },
    { scale: 1.5, shift: 0.05, low: 0.3, high: 1 },
  ])("of a roughness likewise: %o", async (roughness) => {
    const text = await written([image("specular_roughness", { left: { roughness } })]);
    for (const from of [0, 0.2, 0.55, 1])
      expect(
        valueAt(nodesOf(text), behind(text, "specular_roughness"), { tiledimage: [from] })[0],
      ).toBeCloseTo(adjustedRoughness(from, roughness), 6);
  });

  test.each(ADJUSTMENTS)("is taken in again as it was: %o", async (color) => {
    const text = await written([image("base_color", { left: { color } })]);
    const { materials, problems } = readMaterialX("a.mtlx", text);
    expect(problems).toEqual([]);
    expect(materials[0].maps.map(({ role }) => role)).toEqual(["base_color"]);
    const { tint, warmth, brightnessStops, gamma, contrast, saturation } = materials[0].values;
    expect(tint).toBe(color.tint);
    for (const [got, was] of [
      [warmth, color.warmth],
      [brightnessStops, color.brightnessStops],
      [gamma, color.gamma],
      [contrast, color.contrast],
      [saturation, color.saturation],
    ])
      if (was === undefined) expect(got).toBeUndefined();
      else expect(got).toBeCloseTo(was, 2);
  });

  test("is valid to MaterialX's own library, for both surfaces", async () => {
    for (const kind of [MATERIALX, MATERIALX_STANDARD]) {
      const images = [
        image("base_color", { left: { color: ADJUSTMENTS.at(-1) } }),
        image("specular_roughness", { left: { roughness: { scale: 0.5, shift: 0.1, low: 0.1, high: 0.9 } } }),
        ...LAYERS.map((wear, i) => image("wear_mask", { fileName: `wear-${i}.png`, wear })),
      ];
      const document = await readDocument(await written(images, {}, kind));
      expect(document.validate()).toBe(true);
      const unknown = document
        .getNodes()
        .filter((node) => node.getCategory() !== "surfacematerial" && !node.getNodeDef());
      expect(unknown.map((node) => node.getName())).toEqual([]);
    }
  });
});

const LAYERS: ContainedWear[] = [
  { effect: "tint", tint: "#3a2c20", strength: 0.6, size: { width: 400, height: 300 }, repeats: true },
  {
    effect: "rougher",
    strength: 0.5,
    size: { width: 700, height: 500 },
    turn: 90,
    start: { x: 120, y: -40 },
    repeats: true,
  },
  {
    effect: "smoother",
    strength: 1,
    size: { width: 250, height: 330 },
    turn: 270,
    start: { x: 30, y: 55 },
    repeats: false,
  },
  {
    effect: "tint",
    tint: "#ffffff",
    strength: 0.2,
    size: { width: 500, height: 200 },
    turn: 180,
    repeats: true,
  },
];

describe("wear that is left to nodes", () => {
  const layered = (images: EncodedImage[], layers: ContainedWear[], finish: Partial<Finish> = {}) =>
    written(
      [...images, ...layers.map((wear, i) => image("wear_mask", { fileName: `wear-${i}.png`, wear }))],
      finish,
    );

  test.each(LAYERS)("lies where it lies in a finish: %o", async (wear) => {
    const text = await layered([], [wear], { color: "#808080" });
    const mask = {
      role: "wear_mask" as const,
      channel: "color" as const,
      normalDirection: null,
      raster: ramp(),
    };
    const [, texture] = roleTexture(mask, { reduce: 1, wraps: wear.repeats });
    const marks = marksOf({ layer: { ...wear, polarity: "light" }, texture, size: wear.size });
    const nodes = nodesOf(text);
    for (const [xMm, yMm] of [
      [10, 20],
      [333, 444],
      [610, 90],
      [45, 300],
    ]) {
      // The material's top left corner lies one repeat above the origin; v of an image goes up.
      const place = [xMm / 1000, (REPEAT.height - yMm) / 1000];
      const [u, up] = valueAt(nodes, "wear_1_uv", { texcoord: place });
      const inside = u >= 0 && u <= 1 && up >= 0 && up <= 1;
      const [mode] = [childOf(nodes.get("wear_1_marks")!, "uaddressmode")!.attributes.value];
      expect(mode).toBe(wear.repeats ? "periodic" : "constant");
      const seen =
        !wear.repeats && !inside
          ? 0
          : marksOf({
              layer: { ...wear, turn: 0, start: undefined, polarity: "light" },
              texture: { ...texture, wraps: true },
              size: { width: 1, height: 1 },
            })(u, 1 - up);
      expect(seen).toBeCloseTo(marks(xMm, yMm), 3);
    }
  });

  test("mixes what is under it with what a mark is, layer over layer", async () => {
    const layers = LAYERS.filter(({ effect }) => effect !== "tint");
    const text = await layered([image("specular_roughness")], layers);
    const [rougher, smoother] = [0.7, 0.4];
    const images = { tiledimage: [0.3], wear_1_marks: [rougher], wear_2_marks: [smoother] };
    const [value] = valueAt(nodesOf(text), behind(text, "specular_roughness"), images);
    expect(value).toBeCloseTo(
      wornRoughness(wornRoughness(0.3, "rougher", rougher * 0.5), "smoother", smoother),
      6,
    );
  });

  test("tints a colour that has no map", async () => {
    const text = await layered([], [LAYERS[0]], { color: "#808080" });
    const seen = valueAt(nodesOf(text), behind(text, "base_color"), { wear_1_marks: [0.5] });
    const [under, over] = [hexToLinear("#808080"), hexToLinear("#3a2c20")];
    for (const i of [0, 1, 2]) expect(seen[i]).toBeCloseTo(under[i] + (over[i] - under[i]) * 0.3, 5);
    const { materials } = readMaterialX("a.mtlx", text);
    expect(materials[0].values.color).toBe("#808080");
    expect(materials[0].maps).toEqual([]);
    // Where nothing says a colour, it lies over that of the surface by itself.
    const bare = await layered([], [LAYERS[0]]);
    expect(valueAt(nodesOf(bare), behind(bare, "base_color"), { wear_1_marks: [0] })).toEqual([
      0.8, 0.8, 0.8,
    ]);
  });

  test("is read again with its place, and said", async () => {
    const text = await layered([image("base_color"), image("specular_roughness")], LAYERS);
    const { materials, problems } = readMaterialX("down/a.mtlx", text);
    const found = materials[0].wear!;
    expect(found.map(({ path }) => path).toSorted()).toEqual([0, 1, 2, 3].map((i) => `down/wear-${i}.png`));
    for (const [i, wear] of LAYERS.entries())
      expect(found.find(({ path }) => path === `down/wear-${i}.png`)!.lies).toEqual(wear);
    expect(problems).toHaveLength(4);
    expect(problems[0]).toMatch(/lays marks over itself \(wear-\d.png\)/);
    expect(materials[0].maps.map(({ role }) => role)).toEqual(["base_color", "specular_roughness"]);
  });
});

/** Another value everywhere. */
function ramp() {
  const raster = createRaster(64, 64, 1, 8);
  raster.data.forEach((_, i) => (raster.data[i] = ((i % 64) * 2 + Math.floor(i / 64)) % 256));
  return raster;
}

describe("nodes of others between an image and its surface", () => {
  const around = (nodes: string, end: string) => `<?xml version="1.0"?>
<materialx version="1.39">
  <image name="a" type="color3"><input name="file" type="filename" value="a.png" colorspace="srgb_texture"/></image>
  ${nodes}
  <open_pbr_surface name="s" type="surfaceshader"><input name="base_color" type="color3" nodename="${end}"/></open_pbr_surface>
</materialx>`;

  test("are said where they do what no finish does", () => {
    const shifted = `<hsvadjust name="h" type="color3"><input name="in" type="color3" nodename="a"/><input name="amount" type="vector3" value="0.2, 1, 1"/></hsvadjust>`;
    const { materials, problems } = readMaterialX("m.mtlx", around(shifted, "h"));
    expect(materials[0].maps).toHaveLength(1);
    expect(problems).toEqual([
      "“s” changes its base color by a node that is not read (hsvadjust): the image was taken as it is.",
    ]);
  });

  test("are said where they come in another order than in a finish", () => {
    const nodes = `<power name="p" type="color3"><input name="in1" type="color3" nodename="a"/><input name="in2" type="float" value="0.5"/></power>
      <multiply name="t" type="color3"><input name="in1" type="color3" nodename="p"/><input name="in2" type="color3" value="0.5, 0.4, 0.3"/></multiply>`;
    const { materials, problems } = readMaterialX("m.mtlx", around(nodes, "t"));
    expect(materials[0].values).toEqual({ gamma: 2 });
    expect(problems.join()).toMatch(/\(multiply\)/);
  });

  test("a mask between two values is the map of what is no colour", () => {
    const text = around(
      `<image name="m" type="float"><input name="file" type="filename" value="metal.png"/></image>
      <mix name="x" type="float"><input name="bg" type="float" value="0"/><input name="fg" type="float" value="1"/><input name="mix" type="float" nodename="m"/></mix>`,
      "a",
    ).replace(
      "</open_pbr_surface>",
      '<input name="base_metalness" type="float" nodename="x"/></open_pbr_surface>',
    );
    const { materials, problems } = readMaterialX("m.mtlx", text);
    expect(materials[0].maps.map(({ role, image: place }) => [role, place])).toEqual([
      ["base_color", { path: "a.png" }],
      ["base_metalness", { path: "metal.png" }],
    ]);
    expect(problems).toEqual([]);
  });

  test("a mask that mixes two pictures is no picture itself", () => {
    const nodes = `<image name="m" type="float"><input name="file" type="filename" value="mask.png"/></image>
      <mix name="x" type="color3"><input name="mix" type="float" nodename="m"/><input name="fg" type="color3" value="1, 0, 0"/><input name="bg" type="color3" nodename="a"/></mix>`;
    const { materials, problems } = readMaterialX("m.mtlx", around(nodes, "x"));
    expect(materials[0].maps.map(({ image: place }) => place)).toEqual([{ path: "a.png" }]);
    expect(problems.join()).toMatch(/\(mix\)/);
  });
});
