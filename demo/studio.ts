import type { Finish } from "#core/finish/finish";
import type { WearLayer } from "#core/finish/wear";
import type { Layout, MaterialKind, SizeState } from "#core/finish/material";
import type { RepeatMethod } from "#core/gauge/repeat";
import type { Family } from "#core/finish/family";
import type { LibrarySearch } from "#core/library/librarySearch";

/** The demo studio, Tern & Gable. Everything and everybody in it is invented. */

export const PEOPLE = [
  { name: "Ines Marrow", email: "ines@tern-gable.example", level: "keep" },
  { name: "Joost Venn", email: "joost@tern-gable.example", level: "make" },
  { name: "Guest of the client", email: "guest@tern-gable.example", level: "look" },
] as const;

export const SUPPLIERS = {
  halven: "Halven Brickworks",
  merrow: "Merrow & Daughters Timber",
  osterling: "Osterling Tile",
  caldstane: "Caldstane Plaster",
  loom: "Loom Street Colours",
} as const;

export const LICENCES = {
  free: { name: "Free for every project", price: "free", credit: null },
  bought: { name: "Bought by the studio, any project", price: "bought", credit: null },
} as const;

export interface DemoMaterial {
  name: string;
  supplier: keyof typeof SUPPLIERS;
  productCode: string;
  line?: string;
  variant?: Record<string, string>;
  licence: keyof typeof LICENCES;
  kind?: MaterialKind;
  /** A pattern of `patterns.ts`; without one the material is plain. */
  pattern?: string;
  finish?: Partial<Finish>;
  layout?: Layout;
  sizeState?: SizeState;
  gauge?: RepeatMethod;
}

const modules = (across: number, up: number, width: number, height: number, joint: number): RepeatMethod => ({
  method: "modules",
  across,
  up,
  workSize: { width, height },
  joint,
});

export const MATERIALS: DemoMaterial[] = [
  {
    name: "Harbour brick, red",
    supplier: "halven",
    productCode: "HB-215-R",
    line: "Harbour",
    variant: { colour: "red" },
    licence: "free",
    pattern: "harbourRed",
    gauge: modules(4, 12, 215, 65, 10),
  },
  {
    name: "Harbour brick, flint",
    supplier: "halven",
    productCode: "HB-215-F",
    line: "Harbour",
    variant: { colour: "flint" },
    licence: "free",
    pattern: "harbourFlint",
    gauge: modules(4, 12, 215, 65, 10),
  },
  {
    name: "Sandreed long brick",
    supplier: "halven",
    productCode: "SR-240",
    licence: "free",
    pattern: "sandreed",
    gauge: modules(4, 14, 240, 52, 12),
  },
  {
    name: "Quay paver",
    supplier: "halven",
    productCode: "QP-200",
    licence: "free",
    pattern: "quayPaver",
    gauge: modules(4, 8, 200, 100, 3),
  },
  {
    name: "Larch deck board",
    supplier: "merrow",
    productCode: "LD-137",
    licence: "bought",
    pattern: "larchDeck",
    gauge: { method: "size", width: 1800, height: 852 },
  },
  {
    name: "Pale oak floor",
    supplier: "merrow",
    productCode: "OF-180",
    licence: "bought",
    pattern: "paleOak",
    gauge: { method: "size", width: 2160, height: 1083.6 },
  },
  {
    name: "Smoked ash floor",
    supplier: "merrow",
    productCode: "AF-120",
    licence: "bought",
    pattern: "smokedAsh",
    gauge: { method: "size", width: 1440, height: 964 },
  },
  {
    name: "Tidewater glaze, teal",
    supplier: "osterling",
    productCode: "TW-148-T",
    line: "Tidewater",
    variant: { colour: "teal" },
    licence: "free",
    pattern: "tidewaterTeal",
    gauge: modules(6, 6, 148, 148, 2),
  },
  {
    name: "Tidewater glaze, chalk",
    supplier: "osterling",
    productCode: "TW-148-C",
    line: "Tidewater",
    variant: { colour: "chalk" },
    licence: "free",
    pattern: "tidewaterChalk",
    gauge: modules(6, 6, 148, 148, 2),
  },
  {
    name: "Slipstone 600 × 300",
    supplier: "osterling",
    productCode: "SL-600",
    line: "Slipstone",
    variant: { surface: "honed" },
    licence: "free",
    pattern: "slipStone",
    gauge: modules(2, 4, 597, 297, 3),
  },
  {
    name: "Slipstone 600 × 300, polished",
    supplier: "osterling",
    productCode: "SL-600-P",
    line: "Slipstone",
    variant: { surface: "polished" },
    licence: "free",
    pattern: "slipStone",
    // What the grade of that name sets.
    finish: { grade: "polished", roughnessScale: 0.22, normalStrength: 0.25 },
    gauge: modules(2, 4, 597, 297, 3),
  },
  {
    name: "Pebble terrazzo 400",
    supplier: "osterling",
    productCode: "PT-400",
    licence: "free",
    pattern: "pebbleTerrazzo",
    gauge: modules(3, 3, 400, 400, 3),
  },
  {
    name: "Dark flags, from an old survey",
    supplier: "osterling",
    productCode: "",
    licence: "free",
    pattern: "darkFlags",
    sizeState: "unknown",
  },
  {
    name: "Wheat lime plaster",
    supplier: "caldstane",
    productCode: "LP-04",
    licence: "free",
    pattern: "wheatLime",
    gauge: { method: "size", width: 1800 },
  },
  {
    name: "Hemp plaster",
    supplier: "caldstane",
    productCode: "HP-01",
    licence: "free",
    pattern: "hempPlaster",
    sizeState: "assumed",
    gauge: { method: "size", width: 1500 },
  },
  {
    name: "Chalk render, scraped",
    supplier: "caldstane",
    productCode: "CR-02",
    licence: "free",
    pattern: "chalkRender",
    gauge: { method: "size", width: 900 },
  },
  {
    name: "Cast wall",
    supplier: "caldstane",
    productCode: "CW-240",
    licence: "free",
    pattern: "castWall",
    gauge: { method: "size", width: 2400 },
  },
  {
    name: "Linen curtain, oat",
    supplier: "loom",
    productCode: "LC-11",
    licence: "bought",
    pattern: "linenCurtain",
    finish: {
      thinWalled: true,
      translucencyWeight: 0.55,
      translucencyColor: "#efe6d2",
      fuzzWeight: 0.35,
      fuzzColor: "#efe8da",
    },
    gauge: { method: "size", width: 96, height: 96 },
  },
  {
    name: "Beech leaves, sheet",
    supplier: "merrow",
    productCode: "",
    licence: "free",
    pattern: "leaves",
    layout: "cut-outs",
    finish: { thinWalled: true, translucencyWeight: 0.5, opacityMode: "cut-out" },
    gauge: { method: "size", width: 300, height: 300 },
  },
  {
    name: "Clear pane, 6 mm",
    supplier: "osterling",
    productCode: "CP-6",
    licence: "free",
    finish: {
      color: "#ffffff",
      roughness: 0.02,
      ior: 1.52,
      transmissionWeight: 1,
      transmissionColor: "#e6f2ec",
      thinWalled: true,
    },
  },
  {
    name: "Footprints and scuffs",
    supplier: "loom",
    productCode: "",
    licence: "free",
    kind: "wear",
    pattern: "footprints",
    gauge: { method: "size", width: 2400, height: 2400 },
  },
  {
    name: "Fine scratches",
    supplier: "loom",
    productCode: "",
    licence: "free",
    kind: "wear",
    pattern: "scratches",
    gauge: { method: "size", width: 1100, height: 1100 },
  },
  {
    name: "Water stains",
    supplier: "loom",
    productCode: "",
    licence: "free",
    kind: "wear",
    pattern: "waterStains",
    gauge: { method: "size", width: 1700, height: 1700 },
  },
  {
    name: "Dust",
    supplier: "loom",
    productCode: "",
    licence: "free",
    kind: "wear",
    pattern: "dust",
    gauge: { method: "size", width: 1300, height: 1300 },
  },
  {
    name: "Sailcloth white, silk",
    supplier: "loom",
    productCode: "LS-0107",
    licence: "free",
    finish: { color: "#ece7da", roughness: 0.42 },
  },
  {
    name: "Buoy ochre, matt",
    supplier: "loom",
    productCode: "LS-0352",
    licence: "free",
    finish: { color: "#c08a2e", roughness: 0.75 },
  },
];

/** What lies over some of them, since the studio finished them; by the names of both. */
export const WORN: Record<string, (Omit<WearLayer, "material" | "revision"> & { of: string })[]> = {
  "Smoked ash floor": [
    { of: "Footprints and scuffs", strength: 0.5, polarity: "light", effect: "rougher", on: true },
    { of: "Dust", strength: 0.22, polarity: "light", effect: "tint", tint: "#b3a692", on: true },
    { of: "Fine scratches", strength: 0.5, polarity: "light", effect: "cut-in", amountMm: 0.3, on: false },
  ],
  "Cast wall": [
    { of: "Water stains", strength: 0.35, polarity: "dark", effect: "tint", tint: "#4d473c", on: true },
  ],
};

export const COLLECTIONS = [
  {
    name: "Quayside",
    parent: null,
    materials: ["Harbour brick, red", "Quay paver", "Larch deck board", "Cast wall"],
  },
  { name: "House palette", parent: null, materials: ["Sailcloth white, silk", "Wheat lime plaster"] },
  {
    name: "Floors",
    parent: "House palette",
    materials: ["Pale oak floor", "Smoked ash floor", "Pebble terrazzo 400"],
  },
  {
    name: "Wet rooms",
    parent: null,
    materials: ["Tidewater glaze, teal", "Tidewater glaze, chalk", "Slipstone 600 × 300", "Buoy ochre, matt"],
  },
];

/** What the studio says of some of its materials. */
export const SAID: Record<string, { family?: Family; tags?: string[] }> = {
  "Tidewater glaze, teal": { family: "tile", tags: ["wet rooms"] },
  "Tidewater glaze, chalk": { family: "tile", tags: ["wet rooms"] },
  "Chalk render, scraped": { family: "plaster", tags: ["outside"] },
  "Buoy ochre, matt": { family: "paint" },
  "Larch deck board": { tags: ["outside", "quay"] },
  "Quay paver": { tags: ["outside", "quay"] },
};

/** Searches that it shares. */
export const SEARCHES: Record<string, LibrarySearch> = {
  "Light walls": { reflectsFrom: 50 },
  "On the quay": { tag: "quay" },
  "Without a size": { sizeState: "unknown" },
};

export const PROJECTS = [
  { name: "Ferry landing", number: "2401", collections: ["Quayside"], materials: ["Chalk render, scraped"] },
  {
    name: "Seed library",
    number: "2403",
    collections: ["House palette"],
    materials: ["Sandreed long brick"],
  },
  {
    name: "Village bathhouse",
    number: "2407",
    collections: ["Wet rooms", "House palette"],
    materials: ["Hemp plaster"],
  },
];

export const DESTINATIONS = [
  {
    name: "Studio share",
    folder: "studio-share",
    paths: [
      { system: "Windows", path: "S:\\Textures" },
      { system: "render nodes", path: "/mnt/studio/textures" },
    ],
  },
];

/** A renderer of the studio's own: another one, with a few answers that differ. */
export const OWN_PROFILE = {
  id: "client-walkthrough",
  name: "client’s walkthrough, gloss",
  description:
    "What the ferry landing’s client walks through: gloss in the packed image, cut-outs in the colour, small images.",
  answers: { shine: "gloss", opacity: "alpha", largest: "1024", unit: "cm" },
};
