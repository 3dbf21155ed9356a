import { readFile } from "node:fs/promises";
import { describe, expect, test } from "@jest/globals";
import { ENTERED_VALUES } from "#core/finish/enteredValues";
import { finishSchema, type Finish, type FinishField } from "#core/finish/finish";
import { FINISH_VALUES } from "#core/finish/valueFacts";
import type { ContainerImage, ContainerKind, EncodedImage } from "#core/formats/container";
import { GLB } from "#core/formats/glb";
import { IFC } from "#core/formats/ifc";
import { MATERIALX, MATERIALX_STANDARD } from "#core/formats/materialX";
import type { ModelMaterial, ModelReading } from "#core/formats/modelMaterial";
import { MTL } from "#core/formats/mtl";
import { readGltf } from "#core/formats/readGltf";
import { readIfc } from "#core/formats/readIfc";
import { readMaterialX } from "#core/formats/readMaterialX";
import { readObj } from "#core/formats/readObj";
import { readUsd } from "#core/formats/readUsd";
import { USDA } from "#core/formats/usda";
import { ROLE_NAMES, type Role } from "#core/roles/roles";

type Written = { extension: string; bytes: Uint8Array }[];
const textOf = (files: Written, extension: string) =>
  new TextDecoder().decode(files.find((file) => file.extension === extension)!.bytes);

/** Each format, and how it is taken in again. */
const FORMATS: [
  name: string,
  kind: ContainerKind,
  read: (files: Written) => ModelReading | Promise<ModelReading>,
][] = [
  ["MaterialX", MATERIALX, (files) => readMaterialX("a.mtlx", textOf(files, "mtlx"))],
  [
    "MaterialX, standard surface",
    MATERIALX_STANDARD,
    (files) => readMaterialX("a.mtlx", textOf(files, "mtlx")),
  ],
  ["OpenUSD", USDA, (files) => readUsd("a.usda", textOf(files, "usda"))],
  ["OBJ with MTL", MTL, (files) => readObj("a.obj", textOf(files, "obj"), async () => textOf(files, "mtl"))],
  ["GLB", GLB, (files) => readGltf("a.glb", files[0].bytes, async () => undefined)],
  ["IFC 4", IFC, (files) => readIfc("a.ifc", textOf(files, "ifc"))],
];

const REPEAT = { width: 912.5, height: 640.25 };

/** A picture of one pixel, with a letter behind its end so that each is another one. */
const PIXEL = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
  "base64",
);
const imageOf = (image: ContainerImage, opacity?: "cut-out" | "smooth"): EncodedImage => {
  const name = image.channels ? "packed" : image.role!;
  return {
    ...image,
    fileName: `oak_${name}.png`,
    format: "png",
    ...(opacity && image.role === "base_color" && { opacity }),
    read: async () => new Uint8Array([...PIXEL, ...Buffer.from(name)]),
  };
};
const one = (role: Role): ContainerImage => ({ role, channels: null });
const PACKED: ContainerImage = {
  role: null,
  channels: ["ambient_occlusion", "specular_roughness", "base_metalness"],
};

async function roundTrip(
  [, kind, read]: (typeof FORMATS)[number],
  finish: Partial<Finish>,
  images: EncodedImage[],
): Promise<ModelMaterial> {
  const files = await kind.write(
    {
      name: "Oak",
      fileName: "oak",
      repeat: REPEAT,
      heightMm: finish.heightAmplitudeMm ?? 5,
      finish: finishSchema.parse(finish),
    },
    images.filter((image) => kind.takes(image)),
  );
  const { materials } = await read(files);
  expect(materials).toHaveLength(1);
  return materials[0];
}

/** A value of each field that is not what it is by itself, with what it needs to be seen. */
const CASES: [FinishField, Partial<Finish>, (EncodedImage | "opacity")[]?][] = [
  ["color", { color: "#8a5030" }],
  ["roughness", { roughness: 0.35 }],
  ["metalness", { metalness: 1 }],
  ["ior", { ior: 1.62 }],
  ["specularWeight", { specularWeight: 0.7 }],
  ["specularColor", { specularColor: "#ffe0c0" }],
  ["coatWeight", { coatWeight: 0.4 }],
  ["coatRoughness", { coatWeight: 1, coatRoughness: 0.15 }],
  ["coatIor", { coatWeight: 1, coatIor: 1.45 }],
  ["coatColor", { coatWeight: 1, coatColor: "#f0e0d0" }],
  ["fuzzWeight", { fuzzWeight: 0.3 }],
  ["fuzzColor", { fuzzWeight: 1, fuzzColor: "#ff8866" }],
  ["subsurfaceWeight", { subsurfaceWeight: 0.6 }],
  ["subsurfaceColor", { subsurfaceWeight: 1, subsurfaceColor: "#cc9977" }],
  ["translucencyWeight", { thinWalled: true, translucencyWeight: 0.6 }],
  ["translucencyColor", { thinWalled: true, translucencyWeight: 1, translucencyColor: "#66aa44" }],
  ["transmissionWeight", { transmissionWeight: 0.8 }],
  ["transmissionColor", { transmissionWeight: 1, transmissionColor: "#ccffee", transmissionDepthMm: 10 }],
  ["transmissionDepthMm", { transmissionWeight: 1, transmissionColor: "#ccffee", transmissionDepthMm: 40 }],
  ["thinWalled", { thinWalled: true, transmissionWeight: 1 }],
  ["emissionNits", { emissionNits: 250, emissionColor: "#ffffff" }],
  ["emissionColor", { emissionNits: 250, emissionColor: "#ff8040" }],
  ["opacityMode", { opacityMode: "cut-out", opacityThreshold: 0.3 }, ["opacity"]],
  ["opacityThreshold", { opacityMode: "cut-out", opacityThreshold: 0.3 }, ["opacity"]],
  ["heightAmplitudeMm", { heightAmplitudeMm: 12 }, [imageOf(one("height"))]],
  ["heightMiddle", { heightAmplitudeMm: 12, heightMiddle: 0.25 }, [imageOf(one("height"))]],
];

function isSame(field: FinishField, wanted: Partial<Finish>, found: Partial<Finish>): boolean {
  const [a, b] = [wanted[field], found[field]];
  if (typeof a === "number" && typeof b === "number")
    return Math.abs(a - b) <= (field.endsWith("Mm") || field === "emissionNits" ? a * 1e-6 : 1 / 255 / 2);
  return a === b;
}

const ROLES: Role[] = [
  "base_color",
  "specular_roughness",
  "base_metalness",
  "geometry_normal",
  "height",
  "ambient_occlusion",
  "geometry_opacity",
  "subsurface_color",
  "transmission_weight",
  "emission_color",
  "specular_weight",
  "specular_color",
  "coat_weight",
  "fuzz_weight",
];

/** Rows of what comes back, by format. */
async function tableOf(): Promise<string> {
  const rows: string[][] = [];
  for (const role of ROLES)
    rows.push([
      `image of ${ROLE_NAMES[role]}`,
      ...(await Promise.all(
        FORMATS.map(async (format) => {
          const { maps } = await roundTrip(format, { emissionNits: 100 }, imagesOf(format[1], role));
          return maps.some((map) => map.role === role) ? "yes" : "–";
        }),
      )),
    ]);
  for (const [field, finish, needs = []] of CASES)
    rows.push([
      FINISH_VALUES[field].name,
      ...(await Promise.all(
        FORMATS.map(async (format) => {
          const { values } = await roundTrip(format, finish, needsOf(format[1], needs));
          return isSame(field, finish, values) ? "yes" : "–";
        }),
      )),
    ]);
  const head = ["", ...FORMATS.map(([name]) => name)];
  const widths = head.map((_, column) => Math.max(...[head, ...rows].map((row) => row[column].length), 3));
  const line = (cells: string[]) => `| ${cells.map((cell, at) => cell.padEnd(widths[at])).join(" | ")} |`;
  return [line(head), line(widths.map((width) => "-".repeat(width))), ...rows.map(line)].join("\n");
}

/** An image of a role as the format has it: by itself, or in a packed one, or in the fourth channel of the colour. */
function imagesOf(kind: ContainerKind, role: Role): EncodedImage[] {
  if (kind.takes(one(role))) return [imageOf(one(role))];
  if (kind.takes(PACKED) && PACKED.channels!.includes(role)) return [imageOf(PACKED)];
  return role === "geometry_opacity" ? [imageOf(one("base_color"), "smooth")] : [];
}

function needsOf(kind: ContainerKind, needs: (EncodedImage | "opacity")[]): EncodedImage[] {
  return needs.flatMap((need) => {
    if (need !== "opacity") return [need];
    return kind.takes(one("geometry_opacity"))
      ? [imageOf(one("geometry_opacity"))]
      : [imageOf(one("base_color"), "cut-out")];
  });
}

describe("what is written and taken in again", () => {
  test("is what docs/formats.md says that comes back, format by format", async () => {
    const table = await tableOf();
    const docs = await readFile("docs/formats.md", "utf8");
    expect(docs.replaceAll(/ +/g, " ").replaceAll(/-{3,}/g, "---")).toContain(
      table.replaceAll(/ +/g, " ").replaceAll(/-{3,}/g, "---"),
    );
  });

  test.each(FORMATS)("%s: every value that is said to be carried comes back", async (...format) => {
    const lost: string[] = [];
    for (const [field, finish, needs = []] of CASES) {
      if (!ENTERED_VALUES.includes(field as (typeof ENTERED_VALUES)[number])) continue;
      if (!format[1].carries(field, finishSchema.parse(finish))) continue;
      const { values } = await roundTrip(format, finish, needsOf(format[1], needs));
      if (!isSame(field, finish, values)) lost.push(`${field}: ${JSON.stringify(values)}`);
    }
    expect(lost).toEqual([]);
  });

  test.each(FORMATS)(
    "%s: its size is exact, and each image is the one that was written",
    async (...format) => {
      const images = [...ROLES.map((role) => imageOf(one(role))), imageOf(PACKED)];
      const { repeat, maps } = await roundTrip(format, { emissionNits: 100 }, images);
      expect(repeat!.width).toBeCloseTo(REPEAT.width, 3);
      expect(repeat!.height).toBeCloseTo(REPEAT.height, 3);
      expect(maps.length).toBeGreaterThan(5);
      for (const { role, image, channel } of maps) {
        const name =
          "path" in image
            ? image.path
            : `oak_${Buffer.from(image.bytes.subarray(PIXEL.length)).toString("utf8")}.png`;
        const isPacked = name === "oak_packed.png";
        expect(isPacked ? PACKED.channels!.includes(role) : `oak_${role}.png` === name).toBe(true);
        if (isPacked)
          expect(channel).toBe(
            { ambient_occlusion: "red", specular_roughness: "green", base_metalness: "blue" }[role as string],
          );
      }
    },
  );
});
