import { USDCParser } from "three/examples/jsm/loaders/usd/USDCParser.js";
import { DEEPEST_PRIM, newPrim, type UsdLayer, type UsdPrim, type UsdValue } from "#core/formats/usdLayer";
import { Refusal } from "#core/text/refusal";

const MAGIC = "PXR-USDC";

/** Numbers of one array that are kept: more than the geometry of a sample has. */
const MOST_NUMBERS = 600_000;

export const isUsdCrate = (bytes: Uint8Array): boolean =>
  bytes.length >= 88 && new TextDecoder("latin1").decode(bytes.subarray(0, MAGIC.length)) === MAGIC;

/**
 * The prims of an OpenUSD layer in its binary form (crate), which three reads.
 * @throws {Refusal} where it is damaged
 */
export function readUsdCrate(bytes: Uint8Array): UsdLayer {
  let specs: [path: string, fields: Record<string, unknown>][];
  try {
    const { specsByPath } = new USDCParser().parseData(new Uint8Array(bytes).buffer);
    specs = Object.entries(specsByPath).map(([path, { fields }]) => [path, fields]);
  } catch {
    throw new Refusal("The binary OpenUSD layer is damaged or cut short.");
  }
  const root = newPrim("", "");
  const prims = new Map<string, UsdPrim>([["", root]]);
  const primAt = (path: string): UsdPrim | undefined => {
    const known = prims.get(path);
    if (known) return known;
    const names = path.split("/").slice(1);
    // What stands in braces belongs to a variant that is not chosen.
    if (names.length > DEEPEST_PRIM || path.includes("{")) return undefined;
    let [at, parent] = ["", root];
    for (const name of names) {
      at += `/${name}`;
      const there = prims.get(at) ?? newPrim("", name);
      if (!prims.has(at)) parent.children.push(there);
      prims.set(at, there);
      parent = there;
    }
    return parent;
  };
  let metersPerUnit: number | undefined;
  for (const [path, fields] of specs) {
    const dot = path.indexOf(".", path.lastIndexOf("/"));
    if (path === "/") {
      if (typeof fields.metersPerUnit === "number") ({ metersPerUnit } = fields as { metersPerUnit: number });
    } else if (dot < 0) {
      const prim = primAt(path);
      if (prim && typeof fields.typeName === "string") prim.type = fields.typeName;
    } else addValue(primAt(path.slice(0, dot)), path.slice(dot + 1), fields);
  }
  return { prims: root.children, metersPerUnit };
}

function addValue(prim: UsdPrim | undefined, name: string, fields: Record<string, unknown>): void {
  const value = valueOf(fields.default);
  if (value) prim?.values.set(name, value);
  const target = firstPath(fields.targetPaths);
  if (target) prim?.values.set(name, target);
  const connected = firstPath(fields.connectionPaths);
  if (connected) prim?.values.set(`${name}.connect`, connected);
}

const firstPath = (paths: unknown): UsdValue | undefined =>
  Array.isArray(paths) && typeof paths[0] === "string" ? { kind: "path", text: paths[0] } : undefined;

function valueOf(value: unknown): UsdValue | undefined {
  if (typeof value === "string") return { kind: "string", text: value };
  if (typeof value === "number" || typeof value === "boolean") return { kind: "word", text: String(value) };
  // A vector is a plain array; an array of numbers is one of them only.
  if (Array.isArray(value))
    return value.every((one) => typeof one === "number")
      ? { kind: "word", text: value.join(",") }
      : undefined;
  if (!ArrayBuffer.isView(value) || value instanceof DataView) return undefined;
  return { kind: "array", text: (value as Float32Array).slice(0, MOST_NUMBERS).join(",") };
}
