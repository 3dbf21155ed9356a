import {
  hexOfLinear,
  resolvePath,
  type ModelMap,
  type ModelMaterial,
  type ModelReading,
} from "#core/formats/modelMaterial";
import type { MapChannel } from "#core/maps/channel";
import type { Role } from "#core/maps/roles";

interface Prim {
  type: string;
  name: string;
  /** The text inside its braces, without that of the prims in it. */
  body: string;
  children: Prim[];
}

const INPUTS: Record<string, Role> = {
  diffuseColor: "base_color",
  roughness: "specular_roughness",
  metallic: "base_metalness",
  normal: "geometry_normal",
  displacement: "height",
  occlusion: "ambient_occlusion",
  opacity: "geometry_opacity",
  emissiveColor: "emission_color",
  specularColor: "specular_color",
  clearcoat: "coat_weight",
};

const OUTPUTS: Record<string, MapChannel> = { r: "red", g: "green", b: "blue", a: "alpha", rgb: "color" };
const DEEPEST = 64;

/** Reads the materials with a UsdPreviewSurface of an OpenUSD layer in text form. @throws with a sentence where it is none. */
export function readUsda(path: string, text: string): ModelReading {
  if (!text.startsWith("#usda")) throw new Error("It is no OpenUSD layer in text form (#usda).");
  const problems: string[] = [];
  const materials: ModelMaterial[] = [];
  const visit = (prim: Prim) => {
    if (prim.type === "Material") {
      const material = readMaterial(prim, path, problems);
      if (material) materials.push(material);
    }
    prim.children.forEach(visit);
  };
  readPrims(withoutComments(text), 0, DEEPEST).prims.forEach(visit);
  return { materials, problems };
}

const withoutComments = (text: string) =>
  text.replaceAll(/("(?:[^"\\\n]|\\.)*")|#[^\n]*/g, (_, quoted?: string) => quoted ?? "");

function readPrims(text: string, from: number, depth: number): { prims: Prim[]; body: string; end: number } {
  const prims: Prim[] = [];
  let body = "";
  let at = from;
  const header = /(?:def|over|class)\s+(\w+)?\s*"([^"\n]*)"\s*(\((?:[^()"]|"[^"]*")*\))?\s*\{/y;
  while (at < text.length) {
    header.lastIndex = at;
    const match = /[doc]/.test(text[at]) && !/\w/.test(text[at - 1] ?? " ") ? header.exec(text) : null;
    if (match && depth > 0) {
      const inside = readPrims(text, header.lastIndex, depth - 1);
      prims.push({ type: match[1] ?? "", name: match[2], body: inside.body, children: inside.prims });
      at = inside.end;
    } else if (text[at] === "{") {
      const inside = readPrims(text, at + 1, depth - 1);
      at = inside.end;
    } else if (text[at] === "}") return { prims, body, end: at + 1 };
    else if (text[at] === '"') {
      const end = text.indexOf('"', at + 1);
      body += text.slice(at, end < 0 ? text.length : end + 1);
      at = end < 0 ? text.length : end + 1;
    } else body += text[at++];
  }
  return { prims, body, end: at };
}

const idOf = (shader: Prim) => /info:id\s*=\s*"([^"]*)"/.exec(shader.body)?.[1];

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
    const connect = new RegExp(`inputs:${input}\\.connect\\s*=\\s*<([^>]*)>`).exec(surface.body)?.[1];
    if (connect) {
      const [, name, output] = /([^/.]+)\.outputs:(\w+)$/.exec(connect) ?? [];
      const texture = shaders.get(name);
      if (texture && idOf(texture) === "UsdUVTexture")
        addMap(material, role, texture, OUTPUTS[output] ?? "color", path, problems);
      continue;
    }
    const value = new RegExp(`inputs:${input}\\s*=\\s*(\\([^)]*\\)|[-\\d.eE]+)`).exec(surface.body)?.[1];
    const numbers = value?.replaceAll(/[()]/g, "").split(",").map(Number) ?? [];
    if (numbers.length === 0 || numbers.some(Number.isNaN)) continue;
    if (role === "base_color" && numbers.length === 3) material.values.color = hexOfLinear(numbers);
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
  const file = /inputs:file\s*=\s*@([^@]*)@/.exec(texture.body)?.[1] ?? "";
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
