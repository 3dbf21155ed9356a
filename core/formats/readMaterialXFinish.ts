import { LUMA, MID_GREY } from "#core/finish/colorAdjustment";
import { turnedSize, turnOf } from "#core/finish/marks";
import { apply, warmthMatrix } from "#core/finish/warmth";
import { childOf, numbersIn, type MaterialXNode as Node } from "#core/formats/materialXNodes";
import type { ContainedWear } from "#core/formats/container";
import type { FileValues } from "#core/formats/fittingValues";
import { linearToHex } from "#core/raster/srgb";

/** What is done to an image on its way into a surface. */
export interface NodeFinish {
  values: FileValues;
  /** Masks that are laid over it, the first at the bottom: the node of each image, and how it lies. */
  wear: { image: Node; lies: ContainedWear }[];
  /** Kinds of nodes that could not be read. */
  unread: string[];
}

/** Finds a node of the same graph by its name. */
type Find = (name: string | undefined) => Node | undefined;

/** They bring an image into another type, or take a part of it. */
const CARRIERS = /^(convert|extract|separate|dot$|swizzle|combine|dotproduct|image|tiledimage|gltf_)/;

const near = (a: number, b: number) => Math.abs(a - b) <= 1e-4 * Math.max(1, Math.abs(b));
const constant = (node: Node, input: string): number[] | undefined => {
  const text = childOf(node, input)?.attributes.value;
  const numbers = text === undefined ? [] : numbersIn(text);
  return numbers.length > 0 && numbers.every(Number.isFinite) ? numbers : undefined;
};

/**
 * Reads the nodes between an image and a surface as values of a finish, as far as they are what a finish does, in its order.
 * @param through from the image to the surface
 * @param ground height of a repeat, in millimetres: where the material's top lies
 */
export function finishBetween(
  through: readonly Node[],
  kind: "color" | "roughness",
  find: Find,
  ground: number,
): NodeFinish {
  const read: NodeFinish = { values: {}, wear: [], unread: [] };
  const { values } = read;
  let stage = 0;
  /** Whether something comes at its turn; what comes late is something else. */
  const turn = (at: number) => {
    const isInTurn = at >= stage;
    stage = Math.max(stage, at);
    return isInTurn;
  };
  const steps = through.filter(
    (node) => !CARRIERS.test(node.category) || (node.category === "combine3" && rowsOf(node, find)),
  );
  for (let at = 0; at < steps.length; at++) {
    const node = steps[at];
    if (node.category === "mix") {
      const layer = turn(9) && layerOf(node, kind, find, ground);
      if (layer) read.wear.push(layer);
      else read.unread.push("mix");
      continue;
    }
    const taken =
      kind === "color" ? colorStep(steps, at, values, turn, find) : roughnessStep(node, values, turn);
    if (taken === 0) read.unread.push(node.category);
    else at += taken - 1;
  }
  return read;
}

/** @returns how many nodes it was, 0 where it is nothing that a finish does */
function colorStep(
  steps: readonly Node[],
  at: number,
  values: FileValues,
  turn: (stage: number) => boolean,
  find: Find,
): number {
  const node = steps[at];
  const by = constant(node, "in2");
  switch (node.category) {
    case "combine3": {
      const warmth = warmthOf(rowsOf(node, find)!);
      if (warmth === undefined || !turn(1)) return 0;
      values.warmth = warmth;
      return 1;
    }
    case "multiply": {
      const [power, back] = [steps[at + 1], steps[at + 2]];
      const contrast = power?.category === "power" ? constant(power, "in2") : undefined;
      const isContrast =
        contrast && by?.length === 1 && near(by[0], 1 / MID_GREY) && back?.category === "multiply";
      if (isContrast && near(constant(back, "in2")?.[0] ?? 0, MID_GREY) && turn(5)) {
        values.contrast = contrast[0];
        return 3;
      }
      if (by?.length === 3 && by.every((value) => value >= 0 && value <= 1) && turn(2)) {
        values.tint = linearToHex(by);
        return 1;
      }
      if (by?.length === 1 && by[0] > 0 && turn(3)) {
        values.brightnessStops = Number(Math.log2(by[0]).toFixed(6));
        return 1;
      }
      return 0;
    }
    case "power":
      if (by?.length !== 1 || by[0] <= 0 || !turn(4)) return 0;
      values.gamma = Number((1 / by[0]).toPrecision(6));
      return 1;
    case "saturate": {
      const luma = constant(node, "lumacoeffs");
      const [amount] = constant(node, "amount") ?? [1];
      if (!luma || !LUMA.every((value, i) => near(value, luma[i])) || !turn(6)) return 0;
      values.saturation = amount;
      return 1;
    }
    case "max":
      return by?.[0] === 0 ? 1 : 0;
    case "clamp":
      return constant(node, "low")?.[0] === 0 && constant(node, "high")?.[0] === 1 ? 1 : 0;
    default:
      return 0;
  }
}

function roughnessStep(node: Node, values: FileValues, turn: (stage: number) => boolean): number {
  const by = constant(node, "in2");
  if (node.category === "multiply" && by?.length === 1 && turn(1)) values.roughnessScale = by[0];
  else if (node.category === "add" && by?.length === 1 && turn(2)) values.roughnessShift = by[0];
  else if (node.category === "clamp" && turn(3)) {
    const [[low], [high]] = [constant(node, "low") ?? [0], constant(node, "high") ?? [1]];
    if (low !== 0 || high !== 1) values.roughnessRange = [low, high];
  } else return 0;
  return 1;
}

/** The rows of a matrix that three dot products and what puts them together are. */
function rowsOf(node: Node, find: Find): number[][] | undefined {
  const rows = ["in1", "in2", "in3"].map((input) => {
    const product = find(childOf(node, input)?.attributes.nodename);
    return product?.category === "dotproduct" ? constant(product, "in2") : undefined;
  });
  return rows.every((row) => row?.length === 3) ? (rows as number[][]) : undefined;
}

const MOST_MIRED = 90;

/** The warmth whose matrix it is; undefined where it is that of none. What white becomes goes from blue to red with it. */
function warmthOf(rows: number[][]): number | undefined {
  const leaning = (matrix: readonly (readonly number[])[]) => {
    const [red, , blue] = apply(matrix as Parameters<typeof apply>[0], [1, 1, 1]);
    return red - blue;
  };
  const wanted = leaning(rows);
  let [low, high] = [-MOST_MIRED, MOST_MIRED];
  for (let step = 0; step < 40; step++) {
    const middle = (low + high) / 2;
    if (leaning(warmthMatrix(middle)) < wanted) low = middle;
    else high = middle;
  }
  const warmth = Number(low.toFixed(2));
  const isSame = warmthMatrix(warmth).every((row, y) => row.every((value, x) => near(value, rows[y][x])));
  return isSame ? warmth : undefined;
}

/** A mask that mixes a colour or a roughness in, with its place; undefined where it is something else. */
function layerOf(
  node: Node,
  kind: "color" | "roughness",
  find: Find,
  ground: number,
): NodeFinish["wear"][number] | undefined {
  const over = constant(node, "fg");
  const amount = find(childOf(node, "mix")?.attributes.nodename);
  const strength = amount?.category === "multiply" ? constant(amount, "in2") : undefined;
  const image = amount && find(childOf(amount, "in1")?.attributes.nodename);
  const uv = image?.category === "image" ? find(childOf(image, "texcoord")?.attributes.nodename) : undefined;
  if (!over || strength?.length !== 1 || !image || uv?.category !== "combine2") return undefined;
  const [u, v] = ["in1", "in2"].map((input) => lineOf(find(childOf(uv, input)?.attributes.nodename), find));
  if (!u || !v) return undefined;
  const placed = placeOf(u, v, ground);
  const effect =
    kind === "color" ? "tint" : over[0] === 1 ? "rougher" : over[0] === 0 ? "smoother" : undefined;
  if (!placed || !effect) return undefined;
  const repeats = childOf(image, "uaddressmode")?.attributes.value !== "constant";
  return {
    image,
    lies: {
      effect,
      strength: strength[0],
      ...(effect === "tint" && { tint: linearToHex(over) }),
      ...placed,
      repeats,
    },
  };
}

/** a·s + b·t + c of the coordinates s and t. */
type Line = [a: number, b: number, c: number];

function lineOf(sum: Node | undefined, find: Find): Line | undefined {
  const offset = sum?.category === "add" ? constant(sum, "in2") : undefined;
  const along = sum && find(childOf(sum, "in1")?.attributes.nodename);
  const direction = along?.category === "dotproduct" ? constant(along, "in2") : undefined;
  return direction?.length === 2 && offset?.length === 1
    ? [direction[0], direction[1], offset[0]]
    : undefined;
}

/** Size, quarter turn and start from where an image's coordinates lie, one unit of which is a metre. */
function placeOf(
  u: Line,
  v: Line,
  ground: number,
): Pick<ContainedWear, "size" | "turn" | "start"> | undefined {
  const size = { width: 1000 / Math.hypot(u[0], u[1]), height: 1000 / Math.hypot(v[0], v[1]) };
  const turn = ([0, 90, 180, 270] as const).find((angle) => {
    const { cos, sin } = turnOf(angle);
    const along = (line: Line, s: number, t: number, length: number) =>
      near((line[0] * length) / 1000, s) && near((line[1] * length) / 1000, t);
    return along(u, cos, -sin, size.width) && along(v, sin, cos, size.height);
  });
  if (turn === undefined || !Number.isFinite(size.width + size.height)) return undefined;
  const { cos, sin } = turnOf(turn);
  const [across, down] = [u[2] * size.width, (1 - v[2]) * size.height];
  const corner = { x: down * sin - across * cos, y: ground - (down * cos + across * sin) };
  const { width, height } = turnedSize(size, turn);
  const start = {
    x: tenth(corner.x - (turn === 90 || turn === 180 ? width : 0)),
    y: tenth(corner.y - (turn === 180 || turn === 270 ? height : 0)),
  };
  return {
    size: { width: tenth(size.width), height: tenth(size.height) },
    ...(turn !== 0 && { turn }),
    ...((start.x !== 0 || start.y !== 0) && { start }),
  };
}

/** Of what seven digits say of some metres, more is not known. */
const tenth = (mm: number) => Number(mm.toFixed(2)) + 0;
