import { Refusal } from "#core/text/refusal";
import {
  resolvePath,
  type ModelMap,
  type ModelMaterial,
  type ModelReading,
} from "#core/formats/modelMaterial";
import { fittingValues, unit, type FileValues } from "#core/formats/fittingValues";
import { isUsdCrate, readUsdCrate } from "#core/formats/usdCrate";
import type { UsdLayer, UsdPrim as Prim } from "#core/formats/usdLayer";
import { usdSizes, type UsdSizes } from "#core/formats/usdSizes";
import { readUsdText } from "#core/formats/usdText";
import type { MapChannel } from "#core/roles/channel";
import { type Role, rolesOfInputs } from "#core/roles/roles";
import { linearToHex } from "#core/raster/srgb";

const INPUTS = rolesOfInputs("usd");

const OUTPUTS = new Map<string, MapChannel>([
  ["r", "red"],
  ["g", "green"],
  ["b", "blue"],
  ["a", "alpha"],
  ["rgb", "color"],
]);

/** Reads the materials with a UsdPreviewSurface of an OpenUSD layer, in text or binary form. @throws with a sentence where it is none. */
export function readUsd(path: string, file: Uint8Array | string): ModelReading {
  const layer = layerOf(file);
  const problems: string[] = [];
  const materials: ModelMaterial[] = [];
  const sizesOf = usdSizes(layer);
  const visit = (prim: Prim, around: string) => {
    const place = `${around}/${prim.name}`;
    if (prim.type === "Material") {
      const material = readMaterial(prim, path, problems, sizesOf(place));
      if (material) materials.push(material);
    }
    for (const child of prim.children) visit(child, place);
  };
  for (const prim of layer.prims) visit(prim, "");
  return { materials, problems };
}

function layerOf(file: Uint8Array | string): UsdLayer {
  if (typeof file !== "string" && isUsdCrate(file)) return readUsdCrate(file);
  const text = typeof file === "string" ? file : new TextDecoder().decode(file);
  if (!text.startsWith("#usda"))
    throw new Refusal("It is no OpenUSD layer: neither in text form (#usda) nor in binary form.");
  return readUsdText(text);
}

const idOf = (shader: Prim) => shader.values.get("info:id")?.text;

/** Values by the inputs of the preview surface. */
const FIELDS: Record<string, keyof FileValues> = {
  diffuseColor: "color",
  metallic: "metalness",
  roughness: "roughness",
  ior: "ior",
  clearcoat: "coatWeight",
  clearcoatRoughness: "coatRoughness",
  opacityThreshold: "opacityThreshold",
};

/** The surface has no unit of light: its 1 is taken for 100 cd/m². */
const NITS = 100;

function readMaterial(
  prim: Prim,
  path: string,
  problems: string[],
  { metersPerUnit, metres }: UsdSizes,
): ModelMaterial | undefined {
  const shaders = new Map<string, Prim>();
  const collect = (one: Prim) => {
    if (one.type === "Shader") shaders.set(one.name, one);
    one.children.forEach(collect);
  };
  prim.children.forEach(collect);
  const surface = [...shaders.values()].find((shader) => idOf(shader) === "UsdPreviewSurface");
  if (!surface) return undefined;
  const material: ModelMaterial = { name: prim.name, maps: [], values: {}, repeat: null };
  const values: { [K in keyof FileValues]: unknown } = {};
  let scale = [1, 1];
  for (const [input, role] of INPUTS) {
    const connected = behind(surface, `inputs:${input}`, shaders);
    if (!connected) continue;
    const { shader: texture, output } = connected;
    if (idOf(texture) !== "UsdUVTexture") continue;
    addMap(material, role, texture, OUTPUTS.get(output) ?? "color", path, problems);
    const place = behind(texture, "inputs:st", shaders);
    if (place && idOf(place.shader) === "UsdTransform2d")
      scale = numbersOf(place.shader, "inputs:scale") ?? scale;
    const read = numbersOf(texture, "inputs:scale") ?? [1];
    if (role === "emission_color") values.emissionNits = Math.max(...read.slice(0, 3)) * NITS;
    if (role === "height" && read[0] !== 0) {
      values.heightAmplitudeMm = Math.abs(read[0]) * 1000 * metersPerUnit;
      values.heightMiddle = -(numbersOf(texture, "inputs:bias") ?? [0])[0] / read[0];
    }
  }
  for (const [input, field] of Object.entries(FIELDS)) {
    const numbers = numbersOf(surface, `inputs:${input}`);
    if (!numbers) continue;
    if (field === "color") values.color = numbers.length === 3 ? linearToHex(numbers) : undefined;
    else values[field] = field === "ior" ? numbers[0] : unit(numbers[0]);
  }
  const emitted = numbersOf(surface, "inputs:emissiveColor");
  const most = Math.max(...(emitted ?? [0]));
  if (emitted?.length === 3 && most > 0) {
    values.emissionNits = most * NITS;
    values.emissionColor = linearToHex(emitted.map((value) => value / most));
  }
  // A threshold of 0 is none.
  if (values.opacityThreshold === 0) delete values.opacityThreshold;
  else if (values.opacityThreshold !== undefined) values.opacityMode = "cut-out";
  material.values = fittingValues(values);
  const isScaled = scale.length >= 2 && scale.every((value) => Math.abs(value) > 1e-9);
  if (metres && isScaled)
    material.repeat = {
      width: (metres.u * 1000) / Math.abs(scale[0]),
      height: (metres.v * 1000) / Math.abs(scale[1]),
    };
  return material;
}

/** The shader that an input is connected to, and which of its outputs. */
function behind(
  shader: Prim,
  input: string,
  shaders: Map<string, Prim>,
): { shader: Prim; output: string } | undefined {
  const connect = shader.values.get(`${input}.connect`);
  if (connect?.kind !== "path") return undefined;
  const [, name, output] = /([^/.]+)\.outputs:(\w+)$/.exec(connect.text.slice(-400)) ?? [];
  const found = shaders.get(name);
  return found && { shader: found, output };
}

function numbersOf(shader: Prim, input: string): number[] | undefined {
  const numbers = shader.values.get(input)?.text.split(",").map(Number) ?? [];
  return numbers.length === 0 || numbers.some(Number.isNaN) ? undefined : numbers;
}

function addMap(
  material: ModelMaterial,
  role: Role,
  texture: Prim,
  channel: MapChannel,
  path: string,
  problems: string[],
): void {
  const file = texture.values.get("inputs:file")?.text ?? "";
  const place = file === "" ? undefined : resolvePath(path, file);
  if (place === undefined) {
    problems.push(
      `“${material.name}” names an image outside the download (${file.slice(0, 80) || "no name"}); that was not followed.`,
    );
    return;
  }
  material.maps.push({
    role,
    channel,
    image: { path: place },
    ...spaceOf(texture.values.get("inputs:sourceColorSpace")?.text),
    ...(role === "geometry_normal" && { normalDirection: "+Y" as const }),
  } satisfies ModelMap);
}

/** "auto" leaves it to the image. */
const spaceOf = (said: string | undefined): Pick<ModelMap, "colorSpace"> =>
  said === "sRGB" ? { colorSpace: "srgb" } : said === "raw" ? { colorSpace: "raw" } : {};
