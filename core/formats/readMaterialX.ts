import { childOf, numbersIn, parseMaterialX, type MaterialXNode as Node } from "#core/formats/materialXNodes";
import {
  MATERIALX_SURFACES,
  type MaterialXSurface,
  type MaterialXSurfaceName,
} from "#core/formats/materialXSurfaces";
import { finishBetween } from "#core/formats/readMaterialXFinish";
import {
  resolvePath,
  type ModelMap,
  type ModelMaterial,
  type ModelReading,
} from "#core/formats/modelMaterial";
import { fittingValues, unit, type FileValues } from "#core/formats/fittingValues";
import { FINISH_VALUES } from "#core/finish/valueFacts";
import type { MapChannel } from "#core/roles/channel";
import { ROLE_NAMES, type Role, rolesOfInputs } from "#core/roles/roles";
import { linearToHex } from "#core/raster/srgb";

/** Inputs of the three surface shaders by the role that they mean; the first that is there counts. */
const INPUTS = rolesOfInputs("materialX");

const isSurface = (category: string): category is MaterialXSurfaceName =>
  Object.hasOwn(MATERIALX_SURFACES, category);
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
  const root = parseMaterialX(text);
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
  const shaders = root.children.filter(({ category }) => isSurface(category));
  const nodes = graph(root);
  const materials = shaders.map((shader): ModelMaterial => {
    const owner = owners.get(shader.attributes.name);
    const material: ModelMaterial = {
      name: owner?.attributes.name ?? shader.attributes.name ?? "Material",
      maps: [],
      values: {},
      repeat: null,
    };
    const prefix = root.attributes.fileprefix ?? "";
    const values: Record<string, unknown> = {};
    const between: ["base_color" | "specular_roughness", Found][] = [];
    for (const input of shader.children) {
      const role = INPUTS.get(input.attributes.name);
      const found = role && follow(input, nodes, graph, new Set(), problems);
      if (role && found) {
        const isFinished = role === "base_color" || role === "specular_roughness";
        if (isFinished) between.push([role, found]);
        // Of what has no finish, a mask between nothing and all of it is the map.
        const shown = isFinished || found.node ? found : (found.mask ?? found);
        addMap(material, role, shown, path, prefix, problems);
      } else if (input.attributes.value !== undefined)
        Object.assign(values, valueOfInput(shader.category, input.attributes.name, input.attributes.value));
    }
    const displaced = owner?.children.find(({ attributes }) => attributes.name === "displacementshader");
    const displacement = displaced?.attributes.nodename
      ? nodes.get(displaced.attributes.nodename)
      : undefined;
    if (displacement?.category === "displacement") {
      const input = childOf(displacement, "displacement");
      const found = input && follow(input, nodes, graph, new Set(), problems);
      if (found) {
        addMap(material, "height", found, path, prefix, problems);
        Object.assign(values, heightValues(displacement, input, nodes));
      }
    }
    for (const [role, found] of between) addFinish(material, role, found, values, { path, prefix, problems });
    material.values = fittingValues(settled(shader.category, values));
    return material;
  });
  if (shaders.length === 0) problems.push("It has no standard surface, OpenPBR surface or glTF PBR surface.");
  return { materials, problems };
}

/** What lies behind an input: an image, or what is mixed over a value; and the nodes on the way to it, the surface's first. */
interface Found {
  node?: Node;
  channel: MapChannel;
  through: Node[];
  /** Where there is no image: the one by which a value is mixed with another. */
  mask?: Found;
  find(name: string | undefined): Node | undefined;
}

/** Goes from an input to the image behind it, through nodes that change a value on the way. */
function follow(
  input: Node,
  nodes: Map<string, Node>,
  graph: (scope: Node) => Map<string, Node>,
  seen: Set<Node>,
  problems: string[],
  channel: MapChannel = "color",
): Found | undefined {
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
    return { node: next, channel, through: [], find: (name) => (name ? scope.get(name) : undefined) };
  const index = Number(childOf(next, "index")?.attributes.value ?? 0);
  const taken = next.category === "extract" ? CHANNELS[index] : (separated(next, input) ?? channel);
  const isMix = next.category === "mix";
  // What is mixed in lies over what is there, and how much of it is no picture of the surface.
  const inputs = isMix
    ? ["bg", "fg"].flatMap((name) => childOf(next, name) ?? [])
    : next.children.filter(({ attributes }) => attributes.nodename || attributes.nodegraph);
  for (const child of inputs) {
    const found = follow(child, scope, graph, seen, problems, taken);
    if (found) return { ...found, through: [next, ...found.through] };
  }
  if (!isMix || childOf(next, "bg")?.attributes.value === undefined) return undefined;
  const by = childOf(next, "mix");
  return {
    channel,
    through: [next],
    find: (name) => (name ? scope.get(name) : undefined),
    mask: by && follow(by, scope, graph, seen, problems, taken),
  };
}

const SEPARATED = new Map<string, MapChannel>([
  ["outr", "red"],
  ["outg", "green"],
  ["outb", "blue"],
  ["outa", "alpha"],
  ["outx", "red"],
  ["outy", "green"],
  ["outz", "blue"],
]);

/** `separate3` gives its channels as outputs called outr, outg, outb. */
function separated(node: Node, input: Node): MapChannel | undefined {
  if (!node.category.startsWith("separate")) return undefined;
  return SEPARATED.get(input.attributes.output ?? "");
}

function addMap(
  material: ModelMaterial,
  role: Role,
  { node, channel }: Pick<Found, "node" | "channel">,
  path: string,
  prefix: string,
  problems: string[],
): void {
  if (!node) return;
  const value = (name: string) => childOf(node, name)?.attributes;
  const file = fileOf(node);
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
    // What is not said to be encoded is linear, as the whole document is.
    colorSpace: value("file")?.colorspace === "srgb_texture" ? "srgb" : "raw",
    ...(role === "geometry_normal" && { normalDirection: "+Y" as const }),
  } satisfies ModelMap);
  const size = value("realworldimagesize");
  const numbers = size?.value?.split(",").map(Number) ?? [];
  const unitName = size?.unit ?? "meter";
  const mm = Object.hasOwn(UNITS_MM, unitName) ? UNITS_MM[unitName] : 0;
  if (role === "base_color" && mm && numbers.length >= 2 && numbers.every((n) => n > 0))
    material.repeat = { width: numbers[0] * mm, height: numbers[1] * mm };
}

const fileOf = (node: Node): string => (childOf(node, "file")?.attributes.value ?? "").trim();

/** What nodes do to an image between it and the surface: values of a finish, and wear that is laid over it. */
function addFinish(
  material: ModelMaterial,
  role: "base_color" | "specular_roughness",
  { node, through, find }: Found,
  values: Record<string, unknown>,
  place: { path: string; prefix: string; problems: string[] },
): void {
  const isColor = role === "base_color";
  const ground = material.repeat?.height ?? UNKNOWN_HEIGHT;
  const read = finishBetween(through.toReversed(), isColor ? "color" : "roughness", find, ground);
  Object.assign(values, read.values);
  const under = node ? undefined : numbersIn(childOf(through.at(-1)!, "bg")?.attributes.value);
  if (under) Object.assign(values, isColor ? { color: linearToHex(under) } : { roughness: unit(under[0]) });
  for (const kind of new Set(read.unread))
    place.problems.push(
      `“${material.name}” changes its ${ROLE_NAMES[role]} by a node that is not read (${kind.slice(0, 40)}): the image was taken as it is.`,
    );
  for (const { image, lies } of read.wear) {
    const file = fileOf(image);
    const at = file === "" ? undefined : resolvePath(place.path, `${place.prefix}${file}`);
    if (at === undefined) continue;
    (material.wear ??= []).push({ path: at, lies });
    place.problems.push(
      `“${material.name}” lays marks over itself (${file.slice(0, 80)}). They are no part of its maps: take that image in by itself, as wear.`,
    );
  }
}

/** What a repeat is taken for where nothing says it, in millimetres. */
const UNKNOWN_HEIGHT = 1000;

/** What a displacement says of the height: metres between its lowest and highest value, and which one lies in the surface. */
function heightValues(displacement: Node, input: Node, nodes: Map<string, Node>): Record<string, unknown> {
  const [scale] = numbersIn(childOf(displacement, "scale")?.attributes.value ?? "1");
  const behind = input.attributes.nodename ? nodes.get(input.attributes.nodename) : undefined;
  const [middle] =
    behind?.category === "subtract" ? numbersIn(childOf(behind, "in2")?.attributes.value) : [0];
  return { heightAmplitudeMm: Math.abs(scale) * 1000, heightMiddle: middle };
}

function valueOfInput(shader: string, input: string, text: string): FileValues {
  if (!isSurface(shader)) return {};
  const { values, nits }: MaterialXSurface = MATERIALX_SURFACES[shader];
  if (!Object.hasOwn(values, input)) return {};
  const field = values[input];
  const { kind } = FINISH_VALUES[field];
  if (kind === "switch") return { [field]: text.trim() === "true" };
  const numbers = numbersIn(text);
  if (numbers.some(Number.isNaN)) return {};
  if (kind === "color") return numbers.length >= 3 ? { [field]: linearToHex(numbers) } : {};
  if (field === "transmissionDepthMm") return numbers[0] > 0 ? { [field]: numbers[0] * 1000 } : {};
  if (field === "emissionNits") return { [field]: numbers[0] * nits };
  return { [field]: field === "ior" || field === "coatIor" ? numbers[0] : unit(numbers[0]) };
}

/** What lies in values together: a thin sheet's subsurface is what it lets through. */
function settled(shader: string, values: FileValues): FileValues {
  const { subsurfaceWeight, subsurfaceColor, ...others } = values;
  const read: FileValues =
    values.thinWalled === true
      ? {
          ...others,
          ...(subsurfaceWeight !== undefined && { translucencyWeight: subsurfaceWeight }),
          ...(subsurfaceColor !== undefined && { translucencyColor: subsurfaceColor }),
        }
      : values;
  if (shader === "gltf_pbr" && read.opacityThreshold !== undefined) read.opacityMode = "cut-out";
  return read;
}
