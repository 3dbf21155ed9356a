import { describe, expect, test } from "@jest/globals";
import { readUsd } from "#core/formats/readUsd";
import { makeCrate, type CrateValue } from "#server/testing/usdCrate";
import { seededRandom } from "#core/pattern/random";
import { usdLibrary } from "#server/testing/usdLibrary";

const input = (type: string, value: CrateValue): Record<string, CrateValue> => ({
  typeName: { token: type },
  default: value,
});
const connected = (type: string, path: string): Record<string, CrateValue> => ({
  typeName: { token: type },
  connectionPaths: { paths: [path] },
});
const output = (type: string): Record<string, CrateValue> => ({ typeName: { token: type } });
const shader = (id: string) => input("token", { token: id });
const SLATE = "/House/Looks/Slate";

/** A wall of 4 × 2 m whose coordinates repeat twice and once, and what it is made of. */
const HOUSE: Record<string, Record<string, CrateValue>> = {
  "/": { metersPerUnit: { float: 0.5 }, upAxis: { token: "Y" } },
  "/House": { typeName: { token: "Xform" } },
  "/House/Looks": { typeName: { token: "Scope" } },
  [SLATE]: { typeName: { token: "Material" } },
  [`${SLATE}/P`]: { typeName: { token: "Shader" } },
  [`${SLATE}/P.info:id`]: shader("UsdPreviewSurface"),
  [`${SLATE}/P.inputs:metallic`]: input("float", { float: 0.5 }),
  [`${SLATE}/P.inputs:diffuseColor`]: connected("color3f", `${SLATE}/C.outputs:rgb`),
  [`${SLATE}/P.inputs:roughness`]: connected("float", `${SLATE}/R.outputs:g`),
  [`${SLATE}/C`]: { typeName: { token: "Shader" } },
  [`${SLATE}/C.info:id`]: shader("UsdUVTexture"),
  [`${SLATE}/C.inputs:file`]: input("asset", { asset: "./tex/slate_1.png" }),
  [`${SLATE}/C.inputs:sourceColorSpace`]: input("token", { token: "sRGB" }),
  [`${SLATE}/C.inputs:st`]: connected("float2", `${SLATE}/T.outputs:result`),
  [`${SLATE}/C.outputs:rgb`]: output("float3"),
  [`${SLATE}/R`]: { typeName: { token: "Shader" } },
  [`${SLATE}/R.info:id`]: shader("UsdUVTexture"),
  [`${SLATE}/R.inputs:file`]: input("asset", { asset: "../../outside.png" }),
  [`${SLATE}/R.outputs:g`]: output("float"),
  [`${SLATE}/T`]: { typeName: { token: "Shader" } },
  [`${SLATE}/T.info:id`]: shader("UsdTransform2d"),
  [`${SLATE}/T.inputs:scale`]: input("float2", { vector: [2, 2] }),
  [`${SLATE}/T.outputs:result`]: output("float2"),
  "/House/Wall": { typeName: { token: "Mesh" } },
  "/House/Wall.material:binding": { targetPaths: { paths: [SLATE] } },
  "/House/Wall.points": input("point3f[]", {
    vectors: [
      [0, 0, 0],
      [8, 0, 0],
      [8, 4, 0],
      [0, 4, 0],
    ],
  }),
  "/House/Wall.faceVertexCounts": input("int[]", { ints: [4] }),
  "/House/Wall.faceVertexIndices": input("int[]", { ints: [0, 1, 2, 3] }),
  "/House/Wall.primvars:st": input("texCoord2f[]", {
    vectors: [
      [0, 0],
      [1, 0],
      [1, 0.5],
      [0, 0.5],
    ],
  }),
};

describe("OpenUSD in binary form", () => {
  test("says what it says as text: images by their channel, values, and the size from its meshes", () => {
    const { materials, problems } = readUsd("house/slate.usdc", makeCrate(HOUSE));
    expect(materials).toEqual([
      {
        name: "Slate",
        // 4 m wide over a coordinate of 1, of which the transform makes 2.
        repeat: { width: 2000, height: 2000 },
        values: { metalness: 0.5 },
        maps: [
          {
            role: "base_color",
            channel: "color",
            image: { path: "house/tex/slate_1.png" },
            colorSpace: "srgb",
          },
        ],
      },
    ]);
    expect(problems).toEqual([
      "“Slate” names an image outside the download (../../outside.png); that was not followed.",
    ]);
  });

  test("is one to another library too, which makes the same text of it", async () => {
    const library = await usdLibrary();
    const crate = makeCrate(HOUSE);
    expect(library.loadAsLayerFromBinary(crate, "slate.usdc")).toBe(true);
    const text = library.layerToString();
    expect(readUsd("house/slate.usda", text)).toEqual(readUsd("house/slate.usdc", crate));
  });

  test("cut short or changed anywhere it is read, or refused in a sentence", () => {
    const whole = makeCrate(HOUSE);
    const random = seededRandom(8);
    const read = (bytes: Uint8Array) => {
      try {
        return readUsd("a.usdc", bytes).materials.length;
      } catch (error) {
        expect((error as Error).message).toMatch(/OpenUSD layer/);
        return undefined;
      }
    };
    expect(read(whole)).toBe(1);
    const refused = [];
    for (let i = 0; i < 150; i++) {
      const bytes = i % 3 === 0 ? whole.slice(0, Math.floor(random() * whole.length)) : whole.slice();
      // Its table of contents and the counts in it are of 64 bits: left alone here, since they ask for memory, which the process limits.
      if (i % 3 !== 0) bytes[88 + Math.floor(random() * 600)] = Math.floor(random() * 256);
      refused.push(read(bytes));
    }
    expect(refused.filter((count) => count === undefined).length).toBeGreaterThan(30);
  });
});
