/** A value of a field, as a crate knows it. */
export type CrateValue =
  | { token: string }
  | { asset: string }
  | { float: number }
  | { vector: number[] }
  | { paths: string[] }
  | { ints: number[] }
  | { vectors: number[][] };

/** Kinds of specs and of values, as they are numbered in a crate. */
const SPEC = { property: 1, prim: 6, layer: 7, relationship: 8 };
const TYPE = {
  float: 8,
  double: 9,
  token: 11,
  asset: 12,
  int: 3,
  vec2f: 20,
  vec3f: 24,
  vec4f: 28,
  paths: 34,
};
const ARRAY = 1n << 63n;
const INLINED = 1n << 62n;

interface Node {
  path: string;
  element: string;
  isProperty: boolean;
  children: Node[];
}

/**
 * An OpenUSD layer in binary form, version 0.8, as a test needs one: specs by path, those above before those below. Integers and tables are
 * packed as the form demands, by the plainest coding that it knows. (OpenUSD, crate file format.)
 */
export function makeCrate(specs: Record<string, Record<string, CrateValue>>): Buffer {
  const tokens = [""];
  const tokenAt = (text: string) => {
    if (!tokens.includes(text)) tokens.push(text);
    return tokens.indexOf(text);
  };
  const paths = Object.keys(specs);
  const root = treeOf(paths);
  const parts: Buffer[] = [];
  let length = 88;
  const place = (bytes: Buffer) => {
    parts.push(bytes);
    length += bytes.length;
    return length - bytes.length;
  };
  const rep = (type: number, payload: number, flags: bigint) =>
    flags | (BigInt(type) << 48n) | BigInt(payload);
  const floats = (numbers: number[]) => Buffer.from(new Float32Array(numbers).buffer);
  const repOf = (value: CrateValue): bigint => {
    if ("token" in value) return rep(TYPE.token, tokenAt(value.token), INLINED);
    if ("asset" in value) return rep(TYPE.asset, tokenAt(value.asset), INLINED);
    if ("float" in value) return rep(TYPE.float, floats([value.float]).readUInt32LE(), INLINED);
    if ("paths" in value) {
      const list = Buffer.concat([
        Buffer.from([3]),
        long(value.paths.length),
        ...value.paths.map((path) => int(paths.indexOf(path))),
      ]);
      return rep(TYPE.paths, place(list), 0n);
    }
    if ("ints" in value)
      return rep(
        TYPE.int,
        place(Buffer.concat([long(value.ints.length), Buffer.from(new Int32Array(value.ints).buffer)])),
        ARRAY,
      );
    const kindOf = (size: number) => (size === 2 ? TYPE.vec2f : size === 3 ? TYPE.vec3f : TYPE.vec4f);
    if ("vector" in value) return rep(kindOf(value.vector.length), place(floats(value.vector)), 0n);
    const { vectors } = value;
    return rep(
      kindOf(vectors[0].length),
      place(Buffer.concat([long(vectors.length), floats(vectors.flat())])),
      ARRAY,
    );
  };
  const fields: { token: number; rep: bigint }[] = [];
  const sets: number[] = [];
  const records = paths.map((path, pathIndex) => {
    const from = sets.length;
    for (const [name, value] of Object.entries(specs[path])) {
      sets.push(fields.length);
      fields.push({ token: tokenAt(name), rep: repOf(value) });
    }
    sets.push(-1);
    const isProperty = path.includes(".");
    const type =
      path === "/"
        ? SPEC.layer
        : !isProperty
          ? SPEC.prim
          : "targetPaths" in specs[path]
            ? SPEC.relationship
            : SPEC.property;
    return { pathIndex, from, type };
  });
  const order: { index: number; element: number; jump: number }[] = [];
  const lay = (node: Node, hasSibling: boolean) => {
    const entry = {
      index: paths.indexOf(node.path),
      element: tokenAt(node.element) * (node.isProperty ? -1 : 1),
      jump: 0,
    };
    const at = order.push(entry) - 1;
    node.children.forEach((child, i) => lay(child, i < node.children.length - 1));
    const hasChild = node.children.length > 0;
    entry.jump = hasChild ? (hasSibling ? order.length - at : -1) : hasSibling ? 0 : -2;
  };
  lay(root, false);
  const table = (...columns: number[][]) =>
    columns.flatMap((column) => {
      const bytes = packed(codedIntegers(column));
      return [long(bytes.length), bytes];
    });
  const text = Buffer.from(tokens.map((token) => `${token}\0`).join(""));
  const reps = packed(Buffer.from(new BigUint64Array(fields.map((field) => field.rep)).buffer));
  const sections: [string, Buffer][] = [
    [
      "TOKENS",
      Buffer.concat([long(tokens.length), long(text.length), long(packed(text).length), packed(text)]),
    ],
    ["STRINGS", long(0)],
    [
      "FIELDS",
      Buffer.concat([
        long(fields.length),
        ...table(fields.map((field) => field.token)),
        long(reps.length),
        reps,
      ]),
    ],
    ["FIELDSETS", Buffer.concat([long(sets.length), ...table(sets)])],
    [
      "PATHS",
      Buffer.concat([
        long(paths.length),
        long(paths.length),
        ...table(
          order.map(({ index }) => index),
          order.map(({ element }) => element),
          order.map(({ jump }) => jump),
        ),
      ]),
    ],
    [
      "SPECS",
      Buffer.concat([
        long(records.length),
        ...table(
          records.map(({ pathIndex }) => pathIndex),
          records.map(({ from }) => from),
          records.map(({ type }) => type),
        ),
      ]),
    ],
  ];
  const toc = sections.flatMap(([name, bytes]) => [
    Buffer.from(name.padEnd(16, "\0")),
    long(place(bytes)),
    long(bytes.length),
  ]);
  const head = Buffer.concat([
    Buffer.from("PXR-USDC"),
    Buffer.from([0, 8, 0, 0, 0, 0, 0, 0]),
    long(length),
    Buffer.alloc(64),
  ]);
  return Buffer.concat([head, ...parts, long(sections.length), ...toc]);
}

function treeOf(paths: string[]): Node {
  const root: Node = { path: "/", element: "", isProperty: false, children: [] };
  const nodes = new Map([["/", root]]);
  for (const path of paths) {
    if (path === "/") continue;
    const dot = path.indexOf(".", path.lastIndexOf("/"));
    const cut = dot < 0 ? path.lastIndexOf("/") : dot;
    const node: Node = { path, element: path.slice(cut + 1), isProperty: dot >= 0, children: [] };
    nodes.get(path.slice(0, cut) || "/")!.children.push(node);
    nodes.set(path, node);
  }
  return root;
}

const int = (value: number) => Buffer.from(new Int32Array([value]).buffer);
const long = (value: number) => Buffer.from(new BigUint64Array([BigInt(value)]).buffer);

/** One LZ4 block of literals alone, after a byte that says that it is one. */
function packed(bytes: Buffer): Buffer {
  const head = [0, Math.min(15, bytes.length) << 4];
  if (bytes.length >= 15) {
    let rest = bytes.length - 15;
    for (; rest >= 255; rest -= 255) head.push(255);
    head.push(rest);
  }
  return Buffer.concat([Buffer.from(head), bytes]);
}

/** Each as what it is more than the one before, in four bytes. */
const codedIntegers = (values: number[]): Buffer =>
  Buffer.concat([
    int(0),
    Buffer.alloc((values.length * 2 + 7) >> 3, 0xff),
    ...values.map((value, i) => int(value - (values[i - 1] ?? 0))),
  ]);
