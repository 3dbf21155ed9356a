import { brick } from "#core/pattern/brick";
import type { Surface } from "#core/pattern/patternSet";
import { planks } from "#core/pattern/planks";
import { plaster } from "#core/pattern/plaster";
import { tiles } from "#core/pattern/tiles";
import type { FileType, Line, Product, Properties } from "#core/supply/catalogue";
import type { NormalDirection } from "#core/roles/roles";

/** A drawn surface with the real size after which it begins again. */
export interface Made {
  surface: Surface;
  repeat: { width: number; height: number };
}

interface Colour {
  /** Last part of the code. */
  code: string;
  name: string;
  hex: string;
  /** Further colours that pieces take. */
  more?: string[];
}

type Joint = Product["joints"][number];

/** A line of pictures: its facts, its colours, and how one of its variants is drawn. */
export interface DrawnLine {
  facts: Omit<Line, "products" | "pixels" | "roles" | "types"> & { types?: FileType[] };
  codePrefix: string;
  colours: Colour[];
  joints: Joint[];
  /** How this supplier's normal maps point. */
  normalDirection: NormalDirection;
  draw(colour: Colour, joint: Joint | null, seed: number): Made;
}

/** Suppliers, products and places are invented. */
export const SUPPLIERS = [
  { name: "Halven Brickworks", page: "https://halven.example/", place: "Halven on the marsh" },
  { name: "Merrow & Daughters Timber", page: "https://merrow.example/", place: "Upper Merrow" },
  { name: "Osterling Tile", page: "https://osterling.example/", place: "Osterling harbour" },
  { name: "Caldstane Plaster", page: "https://caldstane.example/", place: "Caldstane" },
  { name: "Skerry Slate & Roof", page: "https://skerry-slate.example/", place: "North Skerry" },
  { name: "Loom Street Colours", page: "https://loom-street.example/", place: "Loom Street" },
];

const LICENCES = {
  free: { name: "Free for every project", price: "free" as const, credit: null },
  credit: { name: "Free with the maker's name", price: "free" as const, credit: "Osterling Tile" },
  bought: { name: "Bought by the studio, any project", price: "bought" as const, credit: null },
};

const MORTARS: Joint[] = [
  { id: "light", name: "light grey", hex: "#b9b0a2" },
  { id: "sand", name: "sand", hex: "#c9b68f" },
  { id: "dark", name: "dark grey", hex: "#6a6762" },
];
const GROUTS: Joint[] = [
  { id: "chalk", name: "chalk", hex: "#d8d4c8" },
  { id: "slate", name: "slate grey", hex: "#77767a" },
];

const outside = (properties: Partial<Properties>): Properties => ({
  grade: null,
  use: ["wall outside", "wall inside"],
  frost: null,
  slip: null,
  fire: null,
  thicknessMm: null,
  ...properties,
});

interface MasonryOptions {
  id: string;
  prefix: string;
  name: string;
  text: string;
  size: [number, number];
  joint: number;
  modules: [number, number];
  properties: Partial<Properties>;
  roughness: number;
  burn: number;
  recess: number;
  colours: Colour[];
  joints: Joint[];
  family?: "brick" | "paving";
  says?: boolean;
}

function masonry(options: MasonryOptions): DrawnLine {
  const [width, height] = options.size;
  const [across, courses] = options.modules;
  return {
    codePrefix: options.prefix,
    colours: options.colours,
    joints: options.joints,
    normalDirection: "+Y",
    facts: {
      id: options.id,
      supplier: "Halven Brickworks",
      name: options.name,
      family: options.family ?? "brick",
      text: options.text,
      page: `https://halven.example/${options.id}`,
      layout: "repeating",
      licence: LICENCES.free,
      properties: outside({ fire: "A1", thicknessMm: 102.5, ...options.properties }),
      workSize: { width, height },
      jointMm: options.joint,
      coverSize: null,
      picture: options.says === false ? null : { across, up: courses },
    },
    draw: (colour, joint, seed) =>
      brick({
        seed,
        brick: { width, height },
        joint: options.joint,
        across,
        courses,
        colors: [colour.hex, ...(colour.more ?? [])],
        mortar: joint?.hex ?? "#b9b0a2",
        recess: options.recess,
        roughness: options.roughness,
        burn: options.burn,
      }),
  };
}

interface BoardOptions {
  id: string;
  prefix: string;
  name: string;
  text: string;
  width: number;
  gap: number;
  rows: number;
  length: number;
  bevel: number;
  variety: number;
  roughness: number;
  properties: Partial<Properties>;
  coverSize?: { width: number; height: number };
  colours: Colour[];
}

function boards(options: BoardOptions): DrawnLine {
  return {
    codePrefix: options.prefix,
    colours: options.colours,
    joints: [],
    normalDirection: "-Y",
    facts: {
      id: options.id,
      supplier: "Merrow & Daughters Timber",
      name: options.name,
      family: "timber",
      text: options.text,
      page: `https://merrow.example/${options.id}`,
      layout: "repeating",
      licence: LICENCES.bought,
      properties: outside({ fire: "D", thicknessMm: 21, ...options.properties }),
      workSize: options.coverSize ? null : { width: options.length, height: options.width },
      jointMm: options.coverSize ? null : options.gap,
      coverSize: options.coverSize ?? null,
      // Boards of random length: the maker counts no modules.
      picture: null,
    },
    draw: (colour, _joint, seed) =>
      planks({
        seed,
        width: options.width,
        gap: options.gap,
        rows: options.rows,
        length: options.length,
        boards: 1,
        light: colour.hex,
        dark: colour.more?.[0] ?? "#5a4330",
        gapColor: "#1c130d",
        bevel: options.bevel,
        variety: options.variety,
        roughness: options.roughness,
      }),
  };
}

interface TileOptions {
  id: string;
  prefix: string;
  name: string;
  text: string;
  size: [number, number];
  joint: number;
  modules: [number, number];
  finish: "glaze" | "matt" | "chips";
  properties: Partial<Properties>;
  colours: Colour[];
  joints?: Joint[];
  licence?: keyof typeof LICENCES;
}

function tiled(options: TileOptions): DrawnLine {
  const [width, height] = options.size;
  const [across, up] = options.modules;
  return {
    codePrefix: options.prefix,
    colours: options.colours,
    joints: options.joints ?? GROUTS,
    normalDirection: "+Y",
    facts: {
      id: options.id,
      supplier: "Osterling Tile",
      name: options.name,
      family: "tile",
      text: options.text,
      page: `https://osterling.example/${options.id}`,
      layout: "repeating",
      licence: LICENCES[options.licence ?? "free"],
      properties: outside({ fire: "A1", thicknessMm: 9, ...options.properties }),
      workSize: { width, height },
      jointMm: options.joint,
      coverSize: null,
      picture: { across, up },
    },
    draw: (colour, joint, seed) =>
      tiles({
        seed,
        tile: { width, height },
        joint: options.joint,
        across,
        up,
        colors: options.finish === "chips" ? [colour.hex] : [colour.hex, ...(colour.more ?? [])],
        jointColor: joint?.hex ?? "#cfcabd",
        finish: options.finish,
        ...(options.finish === "chips" && { chips: colour.more ?? ["#57534e"] }),
      }),
  };
}

interface RenderOptions {
  id: string;
  prefix: string;
  name: string;
  text: string;
  side: number;
  finish: "trowelled" | "scraped" | "cast";
  properties: Partial<Properties>;
  colours: Colour[];
}

function rendered(options: RenderOptions): DrawnLine {
  return {
    codePrefix: options.prefix,
    colours: options.colours,
    joints: [],
    normalDirection: "+Y",
    facts: {
      id: options.id,
      supplier: "Caldstane Plaster",
      name: options.name,
      family: "plaster",
      text: options.text,
      page: `https://caldstane.example/${options.id}`,
      layout: "repeating",
      licence: LICENCES.free,
      properties: outside({ fire: "A1", ...options.properties }),
      // A coat has no module; the maker states what its picture shows as one piece.
      workSize: { width: options.side, height: options.side },
      jointMm: 0,
      coverSize: null,
      picture: { across: 1, up: 1 },
    },
    draw: (colour, _joint, seed) =>
      plaster({
        seed,
        repeat: { width: options.side, height: options.side },
        color: colour.hex,
        cloud: colour.more?.[0] ?? colour.hex,
        finish: options.finish,
      }),
  };
}

function lapped(options: {
  id: string;
  prefix: string;
  name: string;
  text: string;
  piece: [number, number];
  cover: [number, number];
  modules: [number, number];
  roughness: number;
  properties: Partial<Properties>;
  colours: Colour[];
}): DrawnLine {
  const [width, height] = options.cover;
  const [across, courses] = options.modules;
  return {
    codePrefix: options.prefix,
    colours: options.colours,
    joints: [],
    normalDirection: "-Y",
    facts: {
      id: options.id,
      supplier: "Skerry Slate & Roof",
      name: options.name,
      family: "roofing",
      text: options.text,
      page: `https://skerry-slate.example/${options.id}`,
      layout: "repeating",
      licence: LICENCES.bought,
      properties: outside({ use: ["roof", "wall outside"], ...options.properties }),
      workSize: { width: options.piece[0], height: options.piece[1] },
      jointMm: null,
      coverSize: { width, height },
      picture: { across, up: courses },
    },
    draw: (colour, _joint, seed) =>
      brick({
        seed,
        // Seen from the front a lapped piece is its cover size less the gap to the next.
        brick: { width: width - 4, height: height - 4 },
        joint: 4,
        across,
        courses,
        colors: [colour.hex, ...(colour.more ?? [])],
        mortar: "#191a1c",
        recess: 6,
        roughness: options.roughness,
        burn: 0.1,
      }),
  };
}

const colour = (code: string, name: string, hex: string, ...more: string[]): Colour => ({
  code,
  name,
  hex,
  more,
});

export const DRAWN_LINES: DrawnLine[] = [
  masonry({
    id: "harbour",
    prefix: "HB-215",
    name: "Harbour",
    text: "Water-struck bricks with burnt ends, for facing work.",
    size: [215, 65],
    joint: 10,
    modules: [4, 12],
    roughness: 0.8,
    burn: 0.5,
    recess: 4,
    properties: { grade: "water-struck", frost: "F2" },
    joints: MORTARS,
    colours: [
      colour("R", "red", "#9c4a34", "#87402f", "#b05f42", "#7a3a30"),
      colour("F", "flint", "#6d6a66", "#5a5856", "#7f7a72", "#4c4b4b"),
      colour("O", "oyster", "#c9bda8", "#bcae97", "#d4cab8"),
      colour("K", "kiln brown", "#6b4432", "#7c5039", "#59392b"),
    ],
  }),
  masonry({
    id: "sandreed",
    prefix: "SR-240",
    name: "Sandreed long",
    text: "Long, low bricks with fine edges.",
    size: [240, 52],
    joint: 12,
    modules: [4, 14],
    roughness: 0.5,
    burn: 0.12,
    recess: 3,
    properties: { grade: "extruded, sanded", frost: "F2", thicknessMm: 115 },
    joints: MORTARS.slice(0, 2),
    colours: [
      colour("S", "reed", "#d8cdb6", "#cbbfa6", "#e0d8c4", "#c4b494"),
      colour("W", "wind grey", "#a7a49c", "#99968f", "#b4b1aa"),
      colour("P", "peat", "#4a423b", "#574d44", "#3e3731"),
    ],
  }),
  masonry({
    id: "fennet",
    prefix: "FN-210",
    name: "Fennet handmade",
    text: "Thrown by hand: no two alike. The maker does not say how many its picture shows.",
    size: [210, 50],
    joint: 12,
    modules: [4, 14],
    roughness: 1,
    burn: 0.6,
    recess: 5,
    says: false,
    properties: { grade: "handmade", frost: "F1", thicknessMm: 100 },
    joints: MORTARS,
    colours: [
      colour("C", "clover", "#a2584b", "#8f4b43", "#b76a57"),
      colour("H", "honey", "#c19a63", "#b08853", "#cfab78"),
      colour("D", "dusk", "#5f5560", "#6d626c", "#504852"),
    ],
  }),
  masonry({
    id: "quay",
    prefix: "QP-200",
    name: "Quay paver",
    text: "Clay pavers laid on edge or flat.",
    size: [200, 100],
    joint: 3,
    modules: [4, 8],
    roughness: 0.35,
    burn: 0.2,
    recess: 3,
    family: "paving",
    properties: { grade: "wire-cut", use: ["ground outside"], frost: "F2", slip: "R13", thicknessMm: 52 },
    joints: [],
    colours: [
      colour("B", "quay brown", "#7d6f66", "#8a7a6e", "#6f655f", "#94816f"),
      colour("R", "rust", "#93523a", "#a0603f", "#844632"),
      colour("G", "gull grey", "#8d8c88", "#7f7e7b", "#9a9894"),
      colour("A", "anthracite", "#45454a", "#3b3b40", "#515157"),
    ],
  }),
  boards({
    id: "larch-deck",
    prefix: "LD-137",
    name: "Larch deck board",
    text: "Deck boards, planed with eased edges.",
    width: 137,
    gap: 5,
    rows: 6,
    length: 1800,
    bevel: 2.5,
    variety: 0.5,
    roughness: 0.5,
    properties: { grade: "planed", use: ["ground outside"], slip: "R11", thicknessMm: 27 },
    colours: [
      colour("N", "new", "#c99a66", "#7b4a26"),
      colour("S", "silvered", "#a9a49a", "#77736b"),
      colour("T", "tarred", "#43382f", "#231c17"),
    ],
  }),
  boards({
    id: "wainwater-oak",
    prefix: "OF-180",
    name: "Wainwater oak floor",
    text: "Wide engineered boards, oiled.",
    width: 180,
    gap: 0.6,
    rows: 6,
    length: 2160,
    bevel: 0.5,
    variety: 0.45,
    roughness: 0.42,
    properties: { grade: "brushed, oiled", use: ["floor inside"], slip: "R10", thicknessMm: 15 },
    colours: [
      colour("P", "pale", "#d9c09a", "#a88458"),
      colour("H", "honey", "#c69a63", "#8a5f33"),
      colour("L", "limed", "#d8cfc0", "#b0a592"),
      colour("S", "smoked", "#7b6147", "#443222"),
    ],
  }),
  boards({
    id: "ash-narrow",
    prefix: "AF-120",
    name: "Narrow ash floor",
    text: "Narrow boards with a hard wax.",
    width: 120,
    gap: 0.5,
    rows: 8,
    length: 1440,
    bevel: 0.6,
    variety: 0.4,
    roughness: 0.36,
    properties: { grade: "sanded, waxed", use: ["floor inside"], slip: "R9", thicknessMm: 14 },
    colours: [
      colour("N", "natural", "#d8c3a0", "#ad9068"),
      colour("S", "smoked", "#6f5a48", "#33261d"),
      colour("G", "grey oil", "#9b948a", "#6b655c"),
    ],
  }),
  boards({
    id: "tarn-cladding",
    prefix: "TC-145",
    name: "Tarn cladding",
    text: "Rebated boards for façades: 145 mm wide, of which 132 mm show.",
    width: 132,
    gap: 4,
    rows: 8,
    length: 2400,
    bevel: 2,
    variety: 0.55,
    roughness: 0.6,
    coverSize: { width: 2400, height: 136 },
    properties: { grade: "fine sawn", use: ["wall outside"], fire: "D", thicknessMm: 20 },
    colours: [
      colour("F", "fir", "#c79f6d", "#8e633a"),
      colour("R", "iron red", "#7c2f27", "#5a211c"),
      colour("B", "black", "#2b2826", "#171514"),
      colour("G", "weathered", "#9c978e", "#6f6b64"),
    ],
  }),
  tiled({
    id: "tidewater",
    prefix: "TW-148",
    name: "Tidewater glaze",
    text: "Wall tiles with a pooling glaze.",
    size: [148, 148],
    joint: 2,
    modules: [6, 6],
    finish: "glaze",
    properties: { grade: "glazed", use: ["wall inside"] },
    licence: "credit",
    colours: [
      colour("T", "teal", "#2f6f73", "#3a8084", "#285d66"),
      colour("C", "chalk", "#dcd8cb", "#e4e1d6", "#d3cdbc"),
      colour("S", "samphire", "#6f8a55", "#7c9860", "#617a4a"),
      colour("I", "ink", "#26344f", "#2d3e5d", "#1f2b42"),
      colour("B", "blush", "#cf9f8c", "#d8ac9a", "#c3917e"),
      colour("O", "ochre", "#bf8f3f", "#ca9b4d", "#b18234"),
    ],
  }),
  tiled({
    id: "slipstone",
    prefix: "SL-600",
    name: "Slipstone",
    text: "Stoneware for wet floors, 600 × 300.",
    size: [597, 297],
    joint: 3,
    modules: [2, 4],
    finish: "matt",
    properties: {
      grade: "structured",
      use: ["floor inside", "ground outside"],
      frost: "F2",
      slip: "R12",
    },
    colours: [
      colour("G", "grey", "#8c8a84", "#97948c", "#827f7a"),
      colour("S", "sand", "#bfae91", "#c9b99d", "#b3a184"),
      colour("A", "anthracite", "#4a4b4d", "#545557", "#404143"),
      colour("W", "bone", "#d5d0c4", "#dcd8cd", "#cbc5b8"),
    ],
  }),
  tiled({
    id: "pebble-terrazzo",
    prefix: "PT-400",
    name: "Pebble terrazzo",
    text: "Cement tiles with chips of marble, ground and filled.",
    size: [400, 400],
    joint: 3,
    modules: [3, 3],
    finish: "chips",
    properties: { grade: "honed", use: ["floor inside", "wall inside"], slip: "R9", thicknessMm: 20 },
    colours: [
      colour("C", "cream", "#d9d2c3", "#7d3f36", "#c5b79c", "#57534e", "#efe9dc"),
      colour("G", "green", "#8fa08c", "#3f5a47", "#d6d8c9", "#6d6f66"),
      colour("R", "rose", "#cda596", "#7d3f36", "#efe1d8", "#5c4a45"),
      colour("N", "night", "#3d3f42", "#8a8b88", "#c8c4ba", "#5c6066"),
    ],
  }),
  tiled({
    id: "dark-flags",
    prefix: "DF-390",
    name: "Ledge flags",
    text: "Large flags with a flamed face.",
    size: [390, 390],
    joint: 10,
    modules: [3, 3],
    finish: "matt",
    properties: {
      grade: "flamed",
      use: ["ground outside", "floor inside"],
      frost: "F2",
      slip: "R13",
      thicknessMm: 40,
    },
    colours: [
      colour("D", "dark", "#43474a", "#4d5154", "#3a3e41"),
      colour("M", "moor", "#6b6a5f", "#77766a", "#5f5e54"),
      colour("P", "pearl", "#a9a9a6", "#b4b4b1", "#9d9d9a"),
    ],
  }),
  rendered({
    id: "lime-trowelled",
    prefix: "LT-18",
    name: "Trowelled lime",
    text: "Lime finish, trowelled in two coats.",
    side: 1800,
    finish: "trowelled",
    properties: { grade: "trowelled", use: ["wall inside"] },
    colours: [
      colour("W", "wheat", "#d8c9ae", "#c4b08f"),
      colour("C", "chalk", "#e3dfd3", "#d3cdbd"),
      colour("R", "rosehip", "#c08f7c", "#aa7965"),
      colour("S", "sage", "#a9ae98", "#959a83"),
      colour("F", "fog", "#b9bcbc", "#a6a9aa"),
    ],
  }),
  rendered({
    id: "render-scraped",
    prefix: "SC-09",
    name: "Scraped render",
    text: "Mineral render, scraped when half dry.",
    side: 900,
    finish: "scraped",
    properties: { grade: "scraped, 2 mm grain", use: ["wall outside"], frost: "F2" },
    colours: [
      colour("S", "stone", "#cfc6b4", "#bdb29c"),
      colour("W", "white", "#e6e3da", "#d8d4c8"),
      colour("G", "grey", "#a3a19b", "#908e88"),
      colour("T", "terracotta", "#b56f52", "#a06047"),
    ],
  }),
  rendered({
    id: "wall-cast",
    prefix: "CW-24",
    name: "Cast wall",
    text: "Concrete cast against boards of film-faced ply.",
    side: 2400,
    finish: "cast",
    properties: { grade: "as struck", use: ["wall outside", "wall inside"], frost: "F2" },
    colours: [
      colour("G", "grey", "#a5a39d", "#8b8a86"),
      colour("W", "white cement", "#cfccc4", "#b9b6ae"),
      colour("A", "anthracite", "#5d5e60", "#4a4b4d"),
    ],
  }),
  lapped({
    id: "scaur-slate",
    prefix: "SS-500",
    name: "Scaur slate",
    text: "Riven slates 500 × 250, laid double: 250 × 210 shows.",
    piece: [250, 500],
    cover: [250, 210],
    modules: [6, 8],
    roughness: 0.3,
    properties: { grade: "riven", frost: "F2", fire: "A1", thicknessMm: 6 },
    colours: [
      colour("B", "blue-grey", "#4c545c", "#565e66", "#42494f"),
      colour("G", "green", "#5a6257", "#666e62", "#4e564b"),
      colour("P", "plum", "#584b52", "#63555d", "#4b4047"),
    ],
  }),
  lapped({
    id: "holm-shingle",
    prefix: "HS-400",
    name: "Holm shingle",
    text: "Cleft shingles in three layers: 120 × 130 shows.",
    piece: [120, 400],
    cover: [120, 130],
    modules: [10, 8],
    roughness: 0.55,
    properties: { grade: "cleft", fire: "E", thicknessMm: 8 },
    colours: [
      colour("L", "larch", "#b68755", "#a37646", "#c49767"),
      colour("W", "weathered", "#98938a", "#8a857c", "#a7a29a"),
      colour("C", "charred", "#2c2725", "#37312e", "#211d1b"),
    ],
  }),
];
