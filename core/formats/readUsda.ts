import { Refusal } from "#core/text/refusal";
import {
  resolvePath,
  type ModelMap,
  type ModelMaterial,
  type ModelReading,
} from "#core/formats/modelMaterial";
import { fittingValues, unit, type FileValues } from "#core/formats/fittingValues";
import { usdSizes, type UsdPrim as Prim, type UsdSizes } from "#core/formats/usdSizes";
import { usdTokens } from "#core/formats/usdTokens";
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
const DEEPEST = 64;

/** Reads the materials with a UsdPreviewSurface of an OpenUSD layer in text form. @throws with a sentence where it is none. */
export function readUsda(path: string, text: string): ModelReading {
  if (!text.startsWith("#usda")) throw new Refusal("It is no OpenUSD layer in text form (#usda).");
  const problems: string[] = [];
  const materials: ModelMaterial[] = [];
  const prims = readPrims(text);
  const sizesOf = usdSizes(prims, text);
  const visit = (prim: Prim, around: string) => {
    const place = `${around}/${prim.name}`;
    if (prim.type === "Material") {
      const material = readMaterial(prim, path, problems, sizesOf(place));
      if (material) materials.push(material);
    }
    for (const child of prim.children) visit(child, place);
  };
  for (const prim of prims) visit(prim, "");
  return { materials, problems };
}

/** Reads the tree of prims in one pass; what lies deeper than anything real does is left out. */
function readPrims(text: string): Prim[] {
  const newPrim = (type: string, name: string): Prim => ({ type, name, values: new Map(), children: [] });
  const root = newPrim("", "");
  const around: Prim[] = [root];
  let tooDeep = 0;
  /** The prim whose body comes next. */
  let coming: Prim | undefined;
  let word = "";
  let [inMetadata, inValue] = [0, false];
  let value: string[] | undefined;
  let header: string[] | undefined;
  for (const token of usdTokens(text)) {
    const now = around.at(-1)!;
    const mark = token.kind === "mark" ? token.text : undefined;
    if (value) {
      // A value in round brackets: its numbers.
      if (mark === ")") {
        now.values.set(word, { kind: "word", text: value.join(",") });
        value = undefined;
      } else if (mark === undefined && token.kind !== "array" && value.length < 16) value.push(token.text);
      continue;
    }
    if (inMetadata > 0) {
      if (mark === "(") inMetadata++;
      else if (mark === ")") inMetadata--;
      continue;
    }
    if (inValue) {
      inValue = false;
      if (mark === "(") {
        value = [];
        continue;
      }
      if (mark === undefined) {
        now.values.set(word, token);
        continue;
      }
    }
    if (mark === "(") inMetadata++;
    else if (mark === "=") inValue = true;
    else if (mark === "{") {
      if (around.length > DEEPEST || tooDeep > 0) tooDeep++;
      else around.push(coming ?? newPrim("", ""));
      coming = undefined;
    } else if (mark === "}") {
      if (tooDeep > 0) tooDeep--;
      else if (around.length > 1) around.pop();
    } else if (token.kind === "word") {
      if (/^(def|over|class)$/.test(token.text)) header = [];
      else header?.push(token.text);
      word = token.text;
    } else if (token.kind === "string" && header) {
      coming = newPrim(header[0] ?? "", token.text);
      now.children.push(coming);
      header = undefined;
    }
  }
  return root.children;
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
