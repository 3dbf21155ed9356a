import { beforeAll, describe, expect, test } from "@jest/globals";
import { unzipSync } from "three/examples/jsm/libs/fflate.module.js";
import { MTLLoader } from "three/examples/jsm/loaders/MTLLoader.js";
import { finishSchema, type Finish } from "#core/finish/finish";
import type { ContainerKind, EncodedImage } from "#core/formats/container";
import { MATERIALX, MATERIALX_STANDARD } from "#core/formats/materialX";
import { MTL } from "#core/formats/mtl";
import { readMaterialX } from "#core/formats/readMaterialX";
import { readObj } from "#core/formats/readObj";
import { readUsd } from "#core/formats/readUsd";
import { USDA } from "#core/formats/usda";
import { USDZ } from "#core/formats/usdz";
import { hexToLinear } from "#core/raster/srgb";
import type { Role } from "#core/roles/roles";
import { usdLibrary } from "#server/testing/usdLibrary";
import { readDocument } from "#server/testing/materialXLibrary";

const REPEAT = { width: 900, height: 625.5 };

const image = (role: Role): EncodedImage => ({
  role,
  channels: null,
  fileName: `slate-0007_${role}.png`,
  format: "png",
  read: async () => new Uint8Array(),
});

async function write(kind: ContainerKind, roles: Role[], finish: Partial<Finish> = {}) {
  const files = await kind.write(
    {
      name: "Slate & “friends” <1>",
      fileName: "slate-0007",
      repeat: REPEAT,
      heightMm: 8,
      finish: finishSchema.parse({ heightMiddle: 0.25, ...finish }),
    },
    roles.map(image),
  );
  return Object.fromEntries(
    files.map(({ extension, bytes }) => [extension, new TextDecoder().decode(bytes)]),
  );
}

/** Every value that one of them has a place for. */
const FULL: Partial<Finish> = {
  color: "#8a5030",
  roughness: 0.35,
  metalness: 0.125,
  ior: 1.62,
  specularWeight: 0.7,
  specularColor: "#ffe0c0",
  coatWeight: 0.4,
  coatRoughness: 0.15,
  coatIor: 1.45,
  coatColor: "#f0f8ff",
  fuzzWeight: 0.2,
  fuzzColor: "#aa8866",
  subsurfaceWeight: 0.3,
  subsurfaceColor: "#cc9977",
  transmissionWeight: 0.1,
  transmissionColor: "#ccffee",
  transmissionDepthMm: 25,
  emissionNits: 250,
  emissionColor: "#ff8800",
};

const EVERY: Role[] = [
  "base_color",
  "base_metalness",
  "specular_roughness",
  "geometry_normal",
  "height",
  "geometry_opacity",
  "emission_color",
];

describe("a MaterialX document", () => {
  type Read = Awaited<ReturnType<typeof readDocument>>;
  const nodeOf = (document: Read, name: string) =>
    document.getNodes().find((node) => node.getName() === name)!;
  let plain: Read;
  let mapped: Read;
  beforeAll(async () => {
    plain = await readDocument((await write(MATERIALX, [], FULL)).mtlx);
    mapped = await readDocument((await write(MATERIALX, [...EVERY, "subsurface_color", "coat_weight"])).mtlx);
  }, 60_000);

  test("is valid to the reference library, with nodes that it knows", () => {
    for (const document of [plain, mapped]) {
      expect(document.validate()).toBe(true);
      expect(document.getNodes().filter((node) => node.getNodeDef() === null)).toEqual([]);
    }
    expect(mapped.getNodes()).toHaveLength(EVERY.length + 2 + 5);
  });

  test("which does find a name that is none", async () => {
    const { mtlx } = await write(MATERIALX, [], FULL);
    const wrong = await readDocument(mtlx.replace("coat_roughness", "coat_smoothness"));
    expect(wrong.validate()).toBe(false);
  });

  test("has every value as it was set", () => {
    const surface = nodeOf(plain, "surface");
    const value = (name: string) => surface.getInput(name)!.getValueString().split(",").map(Number);
    const close = (name: string, expected: readonly number[]) => {
      for (const [i, number] of value(name).entries()) expect(number).toBeCloseTo(expected[i], 5);
      expect(value(name)).toHaveLength(expected.length);
    };
    for (const [name, number] of [
      ["specular_roughness", 0.35],
      ["base_metalness", 0.125],
      ["specular_ior", 1.62],
      ["specular_weight", 0.7],
      ["coat_weight", 0.4],
      ["coat_roughness", 0.15],
      ["coat_ior", 1.45],
      ["fuzz_weight", 0.2],
      ["subsurface_weight", 0.3],
      ["transmission_weight", 0.1],
      ["transmission_depth", 0.025],
      ["emission_luminance", 250],
    ] as const)
      close(name, [number]);
    for (const [name, hex] of [
      ["base_color", "#8a5030"],
      ["specular_color", "#ffe0c0"],
      ["coat_color", "#f0f8ff"],
      ["fuzz_color", "#aa8866"],
      ["subsurface_color", "#cc9977"],
      ["transmission_color", "#ccffee"],
      ["emission_color", "#ff8800"],
    ] as const)
      close(name, hexToLinear(hex));
  });

  test("with a standard surface is valid too, and says what that means otherwise by itself", async () => {
    const standard = await readDocument((await write(MATERIALX_STANDARD, [], FULL)).mtlx);
    const roles: Role[] = [...EVERY, "subsurface_color", "coat_weight", "fuzz_weight"];
    const wired = await readDocument((await write(MATERIALX_STANDARD, roles)).mtlx);
    for (const document of [standard, wired]) {
      expect(document.validate()).toBe(true);
      expect(document.getNodes().filter((node) => node.getNodeDef() === null)).toEqual([]);
    }
    const read = (document: Read, name: string) =>
      nodeOf(document, "surface").getInput(name)?.getValueString().split(",").map(Number);
    expect(read(standard, "base")).toEqual([1]);
    expect(read(standard, "metalness")).toEqual([0.125]);
    expect(read(standard, "coat")).toEqual([0.4]);
    expect(read(standard, "coat_roughness")).toEqual([0.15]);
    expect(read(standard, "coat_IOR")).toEqual([1.45]);
    expect(read(standard, "transmission_depth")).toEqual([0.025]);
    expect(read(standard, "emission")).toEqual([2.5]);
    expect(read(standard, "base_color")![0]).toBeCloseTo(hexToLinear("#8a5030")[0], 5);
    // A coat that an image lays on is as smooth as OpenPBR means it, and fuzz as rough.
    expect(read(wired, "coat_roughness")).toEqual([0]);
    expect(read(wired, "sheen_roughness")).toEqual([0.5]);
    expect(nodeOf(wired, "surface").getInput("opacity")!.getNodeName()).toBe("image_geometry_opacity");
    expect(nodeOf(wired, "image_geometry_opacity").getInput("file")!.getAttribute("colorspace")).toBe("");
    const bare = await readDocument((await write(MATERIALX_STANDARD, [])).mtlx);
    expect(read(bare, "coat_roughness")).toBeUndefined();
  });

  test("names each image with its colours and its real size, and displaces in metres around the middle", () => {
    for (const role of EVERY) {
      const node = nodeOf(mapped, `image_${role}`);
      expect(node.getInput("file")!.getValueString()).toBe(`slate-0007_${role}.png`);
      const isColor = role === "base_color" || role === "emission_color";
      expect(node.getInput("file")!.getAttribute("colorspace")).toBe(isColor ? "srgb_texture" : "");
      const size = node.getInput("realworldimagesize")!;
      expect(size.getValueString().split(",").map(Number)).toEqual([0.9, 0.6255]);
      expect([size.getAttribute("unittype"), size.getAttribute("unit")]).toEqual(["distance", "meter"]);
    }
    expect(nodeOf(mapped, "from_middle").getInput("in2")!.getValueString()).toBe("0.25");
    expect(nodeOf(mapped, "displaced").getInput("scale")!.getValueString()).toBe("0.008");
    const material = nodeOf(mapped, "slate_0007");
    expect(material.getInput("displacementshader")!.getNodeName()).toBe("displaced");
    expect(nodeOf(mapped, "surface").getInput("geometry_normal")!.getNodeName()).toBe("to_normal");
  });

  test("is taken in again with all its maps and its size", async () => {
    const { mtlx } = await write(
      MATERIALX,
      EVERY.filter((role) => role !== "height"),
    );
    const { materials, problems } = readMaterialX("slate-0007.mtlx", mtlx);
    expect(problems).toEqual([]);
    expect(materials).toHaveLength(1);
    expect(materials[0].repeat!.width).toBeCloseTo(900, 6);
    expect(materials[0].repeat!.height).toBeCloseTo(625.5, 6);
    expect(materials[0].maps.map(({ role, image }) => [role, image]).toSorted()).toEqual(
      EVERY.filter((role) => role !== "height")
        .map((role) => [role, { path: `slate-0007_${role}.png` }])
        .toSorted(),
    );
  });
});

describe("an OpenUSD layer", () => {
  /** By another reader than ours. */
  async function specsOf(text: string) {
    const { USDAParser } = (await import("three/examples/jsm/loaders/usd/USDAParser.js" as string)) as {
      USDAParser: new () => { parseData(text: string): { specsByPath: Record<string, Spec> } };
    };
    return new USDAParser().parseData(text).specsByPath;
  }
  interface Spec {
    fields?: Record<string, unknown>;
  }
  const valueIn = (specs: Record<string, Spec>, path: string) => specs[path]?.fields?.default;

  test("is read by another reader: values, colour spaces, real size, height in metres", async () => {
    const { usda } = await write(USDA, [...EVERY, "ambient_occlusion"], {
      ior: 1.62,
      opacityMode: "cut-out",
      opacityThreshold: 0.4,
    });
    const specs = await specsOf(usda);
    const look = "/slate_0007/slate_0007";
    expect(valueIn(specs, `${look}/Surface.inputs:ior`)).toBe(1.62);
    expect(valueIn(specs, `${look}/Surface.inputs:opacityThreshold`)).toBe(0.4);
    const scale = valueIn(specs, `${look}/Place.inputs:scale`) as number[];
    expect(scale[0]).toBeCloseTo(1 / 0.9, 6);
    expect(scale[1]).toBeCloseTo(1 / 0.6255, 6);
    for (const role of EVERY) {
      const isColor = role === "base_color" || role === "emission_color";
      expect(valueIn(specs, `${look}/${role}.inputs:sourceColorSpace`)).toBe(isColor ? "sRGB" : "raw");
      expect(String(valueIn(specs, `${look}/${role}.inputs:file`))).toContain(`slate-0007_${role}.png`);
    }
    const [metres] = valueIn(specs, `${look}/height.inputs:scale`) as number[];
    const [bias] = valueIn(specs, `${look}/height.inputs:bias`) as number[];
    expect([metres, bias]).toEqual([0.008, -0.002]);
  });

  test("holds the MaterialX network besides, by the names that its nodes have in the reference library", async () => {
    const finish: Partial<Finish> = {
      ...FULL,
      opacityMode: "cut-out",
      opacityThreshold: 0.4,
      thinWalled: true,
    };
    const specs = await specsOf((await write(USDA, EVERY, finish)).usda);
    const graph = "/slate_0007/slate_0007/OpenPBR";
    const idOf = (name: string) => valueIn(specs, `${graph}/${name}.info:id`);
    const { mtlx } = await write(MATERIALX, EVERY, finish);
    // What is cut out is cut in the images of a MaterialX document, and by a node here.
    const cut = `<ifgreatereq name="cut_out" type="float"><input name="value1" type="float" value="1"/></ifgreatereq>`;
    const document = await readDocument(mtlx.replace("</materialx>", `${cut}</materialx>`));
    const nodes = document.getNodes().filter((node) => node.getCategory() !== "surfacematerial");
    for (const node of nodes)
      expect([node.getName(), idOf(node.getName())]).toEqual([node.getName(), node.getNodeDef()!.getName()]);
    expect(nodes).toHaveLength(EVERY.length + 5);
    expect(valueIn(specs, `${graph}/surface.inputs:fuzz_weight`)).toBe(0.2);
    expect(valueIn(specs, `${graph}/cut_out.inputs:value2`)).toBe(0.4);
    const size = valueIn(specs, `${graph}/image_base_color.inputs:realworldimagesize`) as number[];
    expect(size).toEqual([0.9, 0.6255]);
    const connected = (path: string) => specs[path]?.fields?.connectionPaths;
    expect(connected("/slate_0007/slate_0007.outputs:mtlx:surface")).toEqual([`${graph}.outputs:surface`]);
    expect(connected(`${graph}/surface.inputs:geometry_opacity`)).toEqual([`${graph}/cut_out.outputs:out`]);
  });

  test("is read by a second one: values, and images with what they hold", async () => {
    const library = await usdLibrary();
    library.setLoadTextureInNative(false);
    const { usda } = await write(USDA, EVERY, { ior: 1.62, coatWeight: 0.4, coatRoughness: 0.15 });
    expect(library.loadFromBinary(new TextEncoder().encode(usda), "slate.usda")).toBe(true);
    const read = library.getMaterial(0);
    expect(read.ior).toBeCloseTo(1.62, 5);
    expect(read.clearcoatRoughness).toBeCloseTo(0.15, 5);
    const imageOf = (name: string) =>
      library.getImage(library.getTexture(read[`${name}TextureId`] as number).textureImageId);
    for (const [input, role, space] of [
      ["diffuseColor", "base_color", "srgb"],
      ["roughness", "specular_roughness", "raw"],
      ["metallic", "base_metalness", "raw"],
      ["normal", "geometry_normal", "raw"],
      ["opacity", "geometry_opacity", "raw"],
      ["emissiveColor", "emission_color", "srgb"],
    ])
      expect(imageOf(input)).toMatchObject({ uri: `./slate-0007_${role}.png`, usdColorSpace: space });
  });

  test("has a plain material's values, and is taken in again with its maps", async () => {
    const specs = await specsOf((await write(USDA, [], FULL)).usda);
    const value = (name: string) => valueIn(specs, `/slate_0007/slate_0007/Surface.inputs:${name}`);
    expect(value("roughness")).toBe(0.35);
    expect(value("metallic")).toBe(0.125);
    expect(value("clearcoat")).toBe(0.4);
    for (const [i, number] of (value("diffuseColor") as number[]).entries())
      expect(number).toBeCloseTo(hexToLinear("#8a5030")[i], 5);
    const { materials, problems } = readUsd("slate.usda", (await write(USDA, EVERY)).usda);
    expect(problems).toEqual([]);
    expect(materials[0].maps.map(({ role }) => role).toSorted()).toEqual(EVERY.toSorted());
  });
});

describe("a USDZ package", () => {
  test("holds the layer first and each image, stored, every one of them at a multiple of 64 bytes", async () => {
    const roles: Role[] = ["base_color", "specular_roughness", "geometry_normal"];
    const finish = finishSchema.parse({});
    const material = { name: "Slate", fileName: "slate-0007", repeat: REPEAT, heightMm: 8, finish };
    const images = roles.map((role, at) => ({
      ...image(role),
      read: async () => new Uint8Array(100 + at * 37).fill(at + 1),
    }));
    const [{ bytes }] = await USDZ.write(material, images);
    const view = Buffer.from(bytes);
    const found: [name: string, at: number, size: number][] = [];
    for (let at = 0; view.readUInt32LE(at) === 0x04034b50;) {
      expect(view.readUInt16LE(at + 8)).toBe(0);
      const [size, name, extra] = [
        view.readUInt32LE(at + 18),
        view.readUInt16LE(at + 26),
        view.readUInt16LE(at + 28),
      ];
      const begins = at + 30 + name + extra;
      found.push([view.toString("latin1", at + 30, at + 30 + name), begins, size]);
      at = begins + size;
    }
    expect(found.map(([name]) => name)).toEqual([
      "slate_0007.usda",
      ...roles.map((role) => `slate-0007_${role}.png`),
    ]);
    for (const [, begins] of found) expect(begins % 64).toBe(0);
    for (const [i, [, begins, size]] of found.slice(1).entries()) {
      expect(size).toBe(100 + i * 37);
      expect(view.subarray(begins, begins + size).every((byte) => byte === i + 1)).toBe(true);
    }
    // As an archive, too.
    const files = unzipSync(bytes);
    const layer = new TextDecoder().decode(files["slate_0007.usda"]);
    for (const role of roles) expect(layer).toContain(`@./slate-0007_${role}.png@`);
    expect(await USDZ.write(material, images)).toEqual([
      { extension: "usdz", mediaType: "model/vnd.usdz+zip", bytes },
    ]);
  });
});

describe("an OBJ with MTL", () => {
  test("is read by another reader: numbers, maps, and their scale", async () => {
    const { mtl } = await write(MTL, EVERY, FULL);
    const { materialsInfo } = new MTLLoader().parse(mtl, "") as unknown as {
      materialsInfo: Record<string, Record<string, string | number[]>>;
    };
    const info = materialsInfo.slate_0007;
    expect(info).toMatchObject({ ni: "1.62", pr: "1", pm: "1", pc: "0.4", pcr: "0.15", ps: "0.2" });
    expect(info.map_kd).toBe(`-s 1.111111 1.598721 1 slate-0007_base_color.png`);
    expect(info.norm).toMatch(/slate-0007_geometry_normal\.png$/);
    expect(info.ke).toEqual([2.5, 2.5, 2.5]);
    const plain = new MTLLoader().parse((await write(MTL, [], FULL)).mtl, "") as unknown as {
      materialsInfo: Record<string, Record<string, string | number[]>>;
    };
    expect(plain.materialsInfo.slate_0007).toMatchObject({ pr: "0.35", pm: "0.125" });
    for (const [i, number] of (plain.materialsInfo.slate_0007.kd as number[]).entries())
      expect(number).toBeCloseTo(hexToLinear("#8a5030")[i], 5);
  });

  test("is taken in again with its maps, and with its size from the sample", async () => {
    const { mtl, obj } = await write(MTL, EVERY);
    const { materials, problems } = await readObj("slate-0007.obj", obj, async (path) =>
      path === "slate-0007.mtl" ? mtl : undefined,
    );
    expect(problems).toEqual([]);
    expect(materials[0].repeat!.width).toBeCloseTo(900, 3);
    expect(materials[0].repeat!.height).toBeCloseTo(625.5, 3);
    expect(materials[0].maps.map(({ role }) => role).toSorted()).toEqual(EVERY.toSorted());
  });
});
