import { Refusal } from "#core/text/refusal";
import { XMLParser } from "fast-xml-parser";
import {
  resolvePath,
  type ModelMap,
  type ModelMaterial,
  type ModelReading,
} from "#core/formats/modelMaterial";
import type { MapChannel } from "#core/roles/channel";
import { type Role, rolesOfInputs } from "#core/roles/roles";
import { linearToHex } from "#core/raster/srgb";

interface Node {
  category: string;
  attributes: Record<string, string>;
  children: Node[];
}

/** Inputs of the three surface shaders by the role that they mean; the first that is there counts. */
const INPUTS = rolesOfInputs("materialX");

const SHADERS = new Set(["standard_surface", "open_pbr_surface", "gltf_pbr"]);
const CHANNELS: MapChannel[] = ["red", "green", "blue", "alpha"];
const DEEPEST = 24;
const UNITS_MM: Record<string, number> = {
  millimeter: 1,
  centimeter: 10,
  meter: 1000,
  inch: 25.4,
  foot: 304.8,
};

/**
 * Reads the surfaces of a MaterialX document (standard surface, OpenPBR, glTF PBR): values, and images followed through the graph.
 * @throws with a sentence where it is none, or declares entities
 */
export function readMaterialX(path: string, text: string): ModelReading {
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    throw new Refusal("The MaterialX document declares entities of its own; it was not read.");
  const root = parse(text);
  const problems: string[] = [];
  const graphs = new Map<Node, Map<string, Node>>();
  const graph = (scope: Node): Map<string, Node> => {
    const known = graphs.get(scope);
    if (known) return known;
    const made = new Map(scope.children.map((node) => [node.attributes.name, node]));
    graphs.set(scope, made);
    return made;
  };
  const owners = new Map<string, Node>();
  for (const node of root.children)
    if (node.category === "surfacematerial")
      for (const { attributes } of node.children)
        if (attributes.nodename && !owners.has(attributes.nodename)) owners.set(attributes.nodename, node);
  const shaders = root.children.filter(({ category }) => SHADERS.has(category));
  const nodes = graph(root);
  const materials = shaders.map((shader): ModelMaterial => {
    const owner = owners.get(shader.attributes.name);
    const material: ModelMaterial = {
      name: owner?.attributes.name ?? shader.attributes.name ?? "Material",
      maps: [],
      values: {},
      repeat: null,
    };
    for (const input of shader.children) {
      const role = INPUTS[input.attributes.name];
      if (!role) continue;
      const found = follow(input, nodes, graph, new Set(), problems);
      if (!found) takeValue(material, role, input.attributes.value);
      else addMap(material, role, found, path, root.attributes.fileprefix ?? "", problems);
    }
    return material;
  });
  if (shaders.length === 0) problems.push("It has no standard surface, OpenPBR surface or glTF PBR surface.");
  return { materials, problems };
}

function parse(text: string): Node {
  let tree: unknown;
  try {
    tree = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: "",
      processEntities: false,
      parseAttributeValue: false,
    }).parse(text);
  } catch {
    throw new Refusal("The MaterialX document is no proper XML.");
  }
  const root = toNodes(tree).find(({ category }) => category === "materialx");
  if (!root) throw new Refusal("It is no MaterialX document.");
  return root;
}

function toNodes(list: unknown): Node[] {
  if (!Array.isArray(list)) return [];
  return list.flatMap((entry: Record<string, unknown>) => {
    const category = Object.keys(entry).find(
      (key) => key !== ":@" && key !== "#text" && !key.startsWith("?"),
    );
    if (!category) return [];
    return [
      {
        category,
        attributes: (entry[":@"] ?? {}) as Record<string, string>,
        children: toNodes(entry[category]),
      },
    ];
  });
}

interface FoundImage {
  node: Node;
  channel: MapChannel;
}

/** Goes from an input to the image behind it, through nodes that change a value on the way. */
function follow(
  input: Node,
  nodes: Map<string, Node>,
  graph: (scope: Node) => Map<string, Node>,
  seen: Set<Node>,
  problems: string[],
  channel: MapChannel = "color",
): FoundImage | undefined {
  const { nodename, nodegraph, output } = input.attributes;
  let scope = nodes;
  let next = nodename ? nodes.get(nodename) : undefined;
  if (nodegraph) {
    const inside = nodes.get(nodegraph);
    scope = inside ? graph(inside) : nodes;
    const outputs = inside?.children.filter(({ category }) => category === "output") ?? [];
    const out = outputs.find(({ attributes }) => attributes.name === output) ?? outputs[0];
    next = out?.attributes.nodename ? scope.get(out.attributes.nodename) : undefined;
  }
  if (!next) return undefined;
  if (seen.has(next) || seen.size > DEEPEST) {
    const problem = "Its graph runs in a circle or is too deep; what lies behind was left out.";
    if (!problems.includes(problem)) problems.push(problem);
    return undefined;
  }
  seen.add(next);
  if (
    next.category === "image" ||
    next.category === "tiledimage" ||
    next.category === "gltf_image" ||
    next.category === "gltf_colorimage" ||
    next.category === "gltf_normalmap"
  )
    return { node: next, channel };
  const index = Number(
    next.children.find(({ attributes }) => attributes.name === "index")?.attributes.value ?? 0,
  );
  const taken = next.category === "extract" ? CHANNELS[index] : (separated(next, input) ?? channel);
  for (const child of next.children) {
    if (!child.attributes.nodename && !child.attributes.nodegraph) continue;
    const found = follow(child, scope, graph, seen, problems, taken);
    if (found) return found;
  }
  return undefined;
}

/** `separate3` gives its channels as outputs called outr, outg, outb. */
function separated(node: Node, input: Node): MapChannel | undefined {
  if (!node.category.startsWith("separate")) return undefined;
  return {
    outr: "red",
    outg: "green",
    outb: "blue",
    outa: "alpha",
    outx: "red",
    outy: "green",
    outz: "blue",
  }[input.attributes.output ?? ""] as MapChannel | undefined;
}

function addMap(
  material: ModelMaterial,
  role: Role,
  { node, channel }: FoundImage,
  path: string,
  prefix: string,
  problems: string[],
): void {
  const value = (name: string) =>
    node.children.find(({ attributes }) => attributes.name === name)?.attributes;
  const file = (value("file")?.value ?? "").trim();
  const place = file === "" ? undefined : resolvePath(path, `${prefix}${file}`);
  if (place === undefined) {
    problems.push(
      `“${material.name}” names an image outside the download (${file.slice(0, 80) || "no name"}); that was not followed.`,
    );
    return;
  }
  if (material.maps.some((map) => map.role === role)) return;
  material.maps.push({
    role,
    channel,
    image: { path: place },
    ...(role === "geometry_normal" && { normalDirection: "+Y" as const }),
  } satisfies ModelMap);
  const size = value("realworldimagesize");
  const numbers = size?.value?.split(",").map(Number) ?? [];
  const mm = UNITS_MM[size?.unit ?? "meter"];
  if (role === "base_color" && mm && numbers.length >= 2 && numbers.every((n) => n > 0))
    material.repeat = { width: numbers[0] * mm, height: numbers[1] * mm };
}

function takeValue(material: ModelMaterial, role: Role, text: string | undefined): void {
  const numbers = (text ?? "").split(",").map(Number);
  if (text === undefined || numbers.some(Number.isNaN)) return;
  const clamp = (v: number) => Math.min(1, Math.max(0, v));
  if (role === "base_color" && numbers.length >= 3) material.values.color = linearToHex(numbers);
  if (role === "specular_roughness") material.values.roughness = clamp(numbers[0]);
  if (role === "base_metalness") material.values.metalness = clamp(numbers[0]);
}
