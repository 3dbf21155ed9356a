import { Refusal } from "#core/text/refusal";
import {
  resolvePath,
  type ModelMap,
  type ModelMaterial,
  type ModelReading,
} from "#core/formats/modelMaterial";
import { usdTokens, type UsdToken } from "#core/formats/usdTokens";
import type { MapChannel } from "#core/roles/channel";
import { type Role, rolesOfInputs } from "#core/roles/roles";
import { linearToHex } from "#core/raster/srgb";

interface Prim {
  type: string;
  name: string;
  /** Values as they are written, by name; of one in round brackets what stands in them. */
  values: Map<string, { kind: UsdToken["kind"]; text: string }>;
  children: Prim[];
}

const INPUTS = rolesOfInputs("usd");

const OUTPUTS: Record<string, MapChannel> = { r: "red", g: "green", b: "blue", a: "alpha", rgb: "color" };
const DEEPEST = 64;

/** Reads the materials with a UsdPreviewSurface of an OpenUSD layer in text form. @throws with a sentence where it is none. */
export function readUsda(path: string, text: string): ModelReading {
  if (!text.startsWith("#usda")) throw new Refusal("It is no OpenUSD layer in text form (#usda).");
  const problems: string[] = [];
  const materials: ModelMaterial[] = [];
  const visit = (prim: Prim) => {
    if (prim.type === "Material") {
      const material = readMaterial(prim, path, problems);
      if (material) materials.push(material);
    }
    prim.children.forEach(visit);
  };
  readPrims(text).forEach(visit);
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
      } else if (mark === undefined && value.length < 16) value.push(token.text);
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

function readMaterial(prim: Prim, path: string, problems: string[]): ModelMaterial | undefined {
  const shaders = new Map<string, Prim>();
  const collect = (one: Prim) => {
    if (one.type === "Shader") shaders.set(one.name, one);
    one.children.forEach(collect);
  };
  prim.children.forEach(collect);
  const surface = [...shaders.values()].find((shader) => idOf(shader) === "UsdPreviewSurface");
  if (!surface) return undefined;
  const material: ModelMaterial = { name: prim.name, maps: [], values: {}, repeat: null };
  for (const [input, role] of Object.entries(INPUTS)) {
    const connect = surface.values.get(`inputs:${input}.connect`);
    if (connect?.kind === "path") {
      const [, name, output] = /([^/.]+)\.outputs:(\w+)$/.exec(connect.text.slice(-400)) ?? [];
      const texture = shaders.get(name);
      if (texture && idOf(texture) === "UsdUVTexture")
        addMap(material, role, texture, OUTPUTS[output] ?? "color", path, problems);
      continue;
    }
    const numbers = surface.values.get(`inputs:${input}`)?.text.split(",").map(Number) ?? [];
    if (numbers.length === 0 || numbers.some(Number.isNaN)) continue;
    if (role === "base_color" && numbers.length === 3) material.values.color = linearToHex(numbers);
    if (role === "specular_roughness") material.values.roughness = Math.min(1, Math.max(0, numbers[0]));
    if (role === "base_metalness") material.values.metalness = Math.min(1, Math.max(0, numbers[0]));
  }
  return material;
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
    ...(role === "geometry_normal" && { normalDirection: "+Y" as const }),
  } satisfies ModelMap);
}
