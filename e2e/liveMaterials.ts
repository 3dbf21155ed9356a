import { finishSchema, type Finish } from "#core/finish/finish";
import type { WearLayer } from "#core/finish/wear";
import { fabric } from "#core/pattern/fabric";
import { leafSheet } from "#core/pattern/leafSheet";
import { renderPattern, type PatternSet } from "#core/pattern/patternSet";
import { SAMPLES } from "#core/pattern/samples";
import { footprints, scratches } from "#core/pattern/wearMarks";
import type { View } from "#core/picture/view";
import type { Raster } from "#core/raster/raster";
import type { Role } from "#core/roles/roles";

/** A material for the graphics card and the core to draw. */
export interface LiveCase {
  name: string;
  shape: View["shape"];
  maps: { role: Role; raster: Raster }[];
  finish: Finish;
  repeat: { width: number; height: number };
  heightMm: number;
  wraps: boolean;
  wear: { layer: WearLayer; raster: Raster; size: { width: number; height: number } }[];
}

const SIDE = 256;
const made = new Map<string, PatternSet>();

function rendered(name: string): PatternSet {
  const known = made.get(name);
  if (known) return known;
  const { surface, repeat } =
    name === "fabric"
      ? fabric({ seed: 4, pitch: 6, threads: 40, warp: "#c9bda5", weft: "#8f8a80" })
      : SAMPLES[name];
  const scale = SIDE / Math.max(repeat.width, repeat.height);
  const set = renderPattern(surface, {
    repeat,
    widthPx: Math.round(repeat.width * scale),
    heightPx: Math.round(repeat.height * scale),
  });
  made.set(name, set);
  return set;
}

const ALL: Role[] = ["base_color", "geometry_normal", "height", "specular_roughness", "ambient_occlusion"];

function of(pattern: string, roles: Role[], finish: Partial<Finish>, more: Partial<LiveCase> = {}): LiveCase {
  const set = rendered(pattern);
  return {
    name: `${pattern} ${roles.length} maps ${Object.keys(finish).join(" ")}`,
    shape: "panel",
    maps: roles.map((role) => ({ role, raster: set[role as keyof PatternSet] as Raster })),
    finish: finishSchema.parse(finish),
    repeat: set.repeat,
    heightMm: set.heightAmplitudeMm,
    wraps: true,
    wear: [],
    ...more,
  };
}

const plain = (name: string, finish: Partial<Finish>, shape: View["shape"] = "block"): LiveCase => ({
  name,
  shape,
  maps: [],
  finish: finishSchema.parse(finish),
  repeat: { width: 1000, height: 1000 },
  heightMm: 0,
  wraps: true,
  wear: [],
});

const LAYER: WearLayer = {
  material: "8c8f1d2e-0000-4000-8000-000000000001",
  revision: 1,
  effect: "rougher",
  strength: 0.6,
  polarity: "light",
  on: true,
};

/** One of each kind that the model tells apart, and what is usual. */
export function liveCases(): LiveCase[] {
  const size = { repeat: { width: 900, height: 900 }, widthPx: 256, heightPx: 256 };
  const leaves = leafSheet({ ...size, repeat: { width: 300, height: 200 }, heightPx: 170 }, 3);
  const worn = (changed: Partial<WearLayer>, raster: Raster): LiveCase["wear"][number] => ({
    layer: { ...LAYER, ...changed },
    raster,
    size: size.repeat,
  });
  return [
    of("brick", ALL, {}),
    of("brick", ALL, { normalStrength: 2, occlusionStrength: 0.5, occlusionGamma: 2 }, { shape: "block" }),
    of("tiles", ALL, { coatWeight: 1, coatRoughness: 0.05, coatColor: "#f0e0c0" }),
    of("tiles", ["base_color", "height"], { roughness: 0.2 }, { shape: "wall" }),
    of("chips", ["base_color", "specular_roughness"], { roughnessScale: 0.5, roughnessShift: 0.05 }),
    of("planks", ALL, { tint: "#e0c8a0", saturation: 0.7, contrast: 1.3, warmth: 30, brightnessStops: 0.5 }),
    of("planks", ["base_color"], { coatWeight: 0.8, coatRoughness: 0.2, gamma: 1.4 }, { shape: "block" }),
    of("trowelled", ALL, {}, { shape: "drape" }),
    of("scraped", ["base_color", "height"], { heightRange: [0.2, 0.8], roughness: 0.9 }),
    of("cast", ALL, { metalness: 1, roughnessScale: 0.6 }, { shape: "block" }),
    of("fabric", ALL, { fuzzWeight: 0.8, fuzzColor: "#d8c8b8" }, { shape: "drape" }),
    of(
      "fabric",
      ALL,
      { thinWalled: true, translucencyWeight: 0.5, translucencyColor: "#e8d8c0" },
      { shape: "drape" },
    ),
    plain("mirror", { color: "#e6e6e6", metalness: 1, roughness: 0 }),
    plain("brass", { color: "#d6ae5c", metalness: 1, roughness: 0.35, specularColor: "#f8e8c0" }),
    plain(
      "pane",
      {
        color: "#ffffff",
        roughness: 0,
        transmissionWeight: 1,
        transmissionColor: "#d8f0e4",
        thinWalled: true,
      },
      "pane",
    ),
    plain("frosted slab", {
      color: "#ffffff",
      roughness: 0.5,
      transmissionWeight: 1,
      transmissionColor: "#7fc4ae",
      transmissionDepthMm: 6,
    }),
    plain("gloss paint", { color: "#8c2f2a", roughness: 0.12, ior: 1.6 }),
    plain(
      "lamp",
      {
        color: "#303030",
        emissionColor: "#ffd8a0",
        emissionNits: 60,
        subsurfaceWeight: 0.3,
        subsurfaceColor: "#c05030",
      },
      "panel",
    ),
    {
      ...plain(
        "leaf",
        { thinWalled: true, opacityMode: "cut-out", opacityThreshold: 0.5, translucencyWeight: 0.6 },
        "leaf",
      ),
      maps: (Object.entries(leaves) as [Role, Raster][]).map(([role, raster]) => ({ role, raster })),
      repeat: { width: 300, height: 200 },
      wraps: false,
    },
    of(
      "planks",
      ALL,
      {},
      {
        name: "worn boards",
        wear: [
          worn({ effect: "rougher" }, scratches(size, 5)),
          worn({ effect: "tint", tint: "#302820", turn: 90, start: { x: 120, y: 40 } }, footprints(size, 6)),
        ],
      },
    ),
    of(
      "chips",
      ["base_color"],
      { roughness: 0.25 },
      {
        name: "chips that marks are cut into",
        wear: [worn({ effect: "cut-in", amountMm: 1.5, strength: 1, turn: 270 }, footprints(size, 8))],
      },
    ),
  ];
}
