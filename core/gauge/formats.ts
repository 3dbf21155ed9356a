import type { Module } from "#core/gauge/layModule";
import type { ModuleSize } from "#core/gauge/repeat";

/** What a standard format is a format of; also the order in which they are listed. */
export const FORMAT_KINDS = [
  "brick",
  "block",
  "paving",
  "tile",
  "board",
  "slate",
  "roof tile",
  "panel",
] as const;
export type FormatKind = (typeof FORMAT_KINDS)[number];

/**
 * A standard format: the face of one module as it usually shows, in millimetres, lying. Boards have a height only, since
 * their lengths are random. The joint is the one that the format is made for.
 */
export interface Format extends Module {
  id: string;
  kind: FormatKind;
  name: string;
  /** The standard that names the dimension, or that it is what the trade sells. */
  source: string;
}

const IN = 25.4;

/** Part of a slate that shows where each course laps the next but one: (length − lap) / 2, as in EN 12326 and BS 5534. */
export function doubleLap(length: number, lap: number): number {
  return (length - lap) / 2;
}

const brick = (
  id: string,
  name: string,
  width: number,
  height: number,
  joint: number,
  jointVertical: number,
  source: string,
): Format => ({
  id: `brick-${id}`,
  kind: "brick",
  name,
  workSize: { width, height },
  joint,
  ...(jointVertical !== joint && { jointVertical }),
  source,
});

const face = (
  kind: FormatKind,
  id: string,
  name: string,
  width: number,
  height: number,
  joint: number,
  source: string,
): Format => ({ id, kind, name, workSize: { width, height }, joint, source });

/** A board, as wide as given, with the gap between two of them. */
const board = (id: string, name: string, height: number, joint: number, source: string): Format => ({
  id: `board-${id}`,
  kind: "board",
  name,
  workSize: { height },
  joint,
  source,
});

const slate = (
  id: string,
  name: string,
  size: { width: number; length: number; lap: number; gap: number },
  source: string,
): Format => ({
  id: `slate-${id}`,
  kind: "slate",
  name,
  coverSize: { width: size.width + size.gap, height: doubleLap(size.length, size.lap) },
  source,
});

const OCTAMETRIC = "DIN 105-100 with the octametric grid of DIN 4172";
const TRADE = "usual size in trade";

/**
 * Public standard dimensions, as the faces that show in a wall, on a floor or on a roof. They are starting points: what
 * lies in the picture may have been made to another edition, so the joint can be changed after choosing.
 */
export const FORMATS: readonly Format[] = [
  brick(
    "gb",
    "United Kingdom",
    215,
    65,
    10,
    10,
    "BS 3921 (withdrawn), sold under BS EN 771-1; four courses rise 300 mm",
  ),
  brick("gb-imperial", "United Kingdom, imperial 68 mm", 220, 68, 10, 10, TRADE),
  brick("gb-metric-modular", "United Kingdom, modular 190 mm", 190, 65, 10, 10, "BS 6649 (withdrawn)"),
  brick("de-nf", "Germany NF", 240, 71, 10, 12.33, OCTAMETRIC),
  brick("de-df", "Germany DF", 240, 52, 10, 10.5, OCTAMETRIC),
  brick("de-2df", "Germany 2 DF", 240, 113, 10, 12, OCTAMETRIC),
  brick("de-3df", "Germany 3 DF", 240, 113, 10, 12, `${OCTAMETRIC}; 175 mm deep`),
  brick("de-rf", "Germany RF (Reichsformat)", 250, 65, 10, 12, TRADE),
  brick("nl-waal", "Netherlands Waal", 210, 50, 10, 12, TRADE),
  brick("nl-vecht", "Netherlands Vecht", 210, 40, 10, 10, TRADE),
  brick("nl-dik", "Netherlands Waal, thick", 210, 65, 10, 12, TRADE),
  brick("nl-hilversum", "Netherlands Hilversum", 240, 40, 10, 10, TRADE),
  brick("be-m65", "Belgium module 65", 190, 65, 10, 10, TRADE),
  brick("be-m50", "Belgium module 50", 190, 50, 10, 10, TRADE),
  brick("dk", "Denmark", 228, 54, 12, 12.67, "DS/EN 771-1, Danish normal format; three courses rise 200 mm"),
  brick("se", "Sweden", 250, 62, 10, 13, TRADE),
  brick("no", "Norway", 226, 60, 12, 13, TRADE),
  brick("fi", "Finland", 257, 57, 15, 15, TRADE),
  brick("fr", "France", 220, 60, 10, 10, TRADE),
  brick("es", "Spain, metric", 240, 52, 10, 10, TRADE),
  brick("it", "Italy UNI", 250, 55, 10, 10, "UNI 5628 (withdrawn)"),
  brick("pl", "Poland", 250, 65, 10, 12, "PN-B-12050 (withdrawn)"),
  brick("gost", "GOST single", 250, 65, 10, 12, "GOST 530"),
  brick("cn", "China", 240, 53, 10, 10, "GB/T 5101"),
  brick("jp", "Japan", 210, 60, 10, 10, "JIS R 1250"),
  brick("in", "India, modular", 190, 90, 10, 10, "IS 1077"),
  brick("au", "Australia", 230, 76, 10, 10, "AS/NZS 4455.1; seven courses rise 600 mm"),
  brick("za", "South Africa, imperial", 222, 73, 10, 12, "SANS 227"),
  brick(
    "us-modular",
    "United States modular",
    7.625 * IN,
    2.25 * IN,
    0.375 * IN,
    (8 / 3 - 2.25) * IN,
    "ASTM C216; three courses rise 8 in",
  ),
  brick(
    "us-standard",
    "United States standard",
    8 * IN,
    2.25 * IN,
    0.375 * IN,
    (8 / 3 - 2.25) * IN,
    "ASTM C216",
  ),
  brick(
    "us-engineer",
    "United States engineer modular",
    7.625 * IN,
    2.8125 * IN,
    0.375 * IN,
    (3.2 - 2.8125) * IN,
    "ASTM C216; five courses rise 16 in",
  ),
  brick(
    "us-norman",
    "United States Norman",
    11.625 * IN,
    2.25 * IN,
    0.375 * IN,
    (8 / 3 - 2.25) * IN,
    "ASTM C216",
  ),
  brick(
    "us-roman",
    "United States Roman",
    11.625 * IN,
    1.625 * IN,
    0.375 * IN,
    0.375 * IN,
    "ASTM C216; two courses rise 4 in",
  ),
  brick("us-utility", "United States utility", 11.625 * IN, 3.625 * IN, 0.375 * IN, 0.375 * IN, "ASTM C216"),

  face("block", "block-gb", "Concrete block, United Kingdom", 440, 215, 10, "BS EN 771-3"),
  face(
    "block",
    "block-us",
    "Concrete masonry unit, United States",
    15.625 * IN,
    7.625 * IN,
    0.375 * IN,
    "ASTM C90",
  ),
  face(
    "block",
    "block-us-half-high",
    "Concrete masonry unit, half high",
    15.625 * IN,
    3.625 * IN,
    0.375 * IN,
    "ASTM C90",
  ),
  face("block", "block-fr", "Concrete block, France", 494, 190, 10, "NF EN 771-3"),
  face("block", "block-au", "Concrete block, Australia", 390, 190, 10, "AS/NZS 4455.1"),
  face("block", "block-aac", "Aerated concrete, thin joint", 599, 249, 1, "EN 771-4 on the octametric grid"),
  face("block", "block-ks", "Sand-lime block, thin joint", 248, 248, 2, "EN 771-2 on the octametric grid"),
  face("block", "block-glass-190", "Glass block 190", 190, 190, 10, "EN 1051-1"),
  face("block", "block-glass-240", "Glass block 240", 240, 240, 10, "EN 1051-1"),

  face("paving", "paving-200x100", "Concrete block 200 × 100", 200, 100, 3, "EN 1338"),
  face("paving", "paving-240x160", "Concrete block 240 × 160", 240, 160, 3, TRADE),
  face("paving", "paving-100x100", "Concrete block 100 × 100", 100, 100, 3, "EN 1338"),
  face("paving", "paving-200x200", "Concrete block 200 × 200", 200, 200, 3, "EN 1338"),
  face("paving", "paving-clay-200x100", "Clay paver 200 × 100", 200, 100, 3, "EN 1344"),
  face("paving", "paving-clay-dry", "Clay paver on edge, Netherlands", 200, 50, 2, TRADE),
  face("paving", "paving-sett-100", "Stone sett 100", 100, 100, 10, "EN 1342"),
  face("paving", "paving-sett-60", "Stone sett 60", 60, 60, 8, "EN 1342"),
  face("paving", "flag-300", "Flag 300 × 300", 300, 300, 3, "EN 1339"),
  face("paving", "flag-400", "Flag 400 × 400", 400, 400, 3, "EN 1339"),
  face("paving", "flag-500", "Flag 500 × 500", 500, 500, 3, "EN 1339"),
  face("paving", "flag-600x300", "Flag 600 × 300", 600, 300, 3, "EN 1339"),
  face("paving", "flag-600", "Flag 600 × 600", 600, 600, 5, "BS 7263 (withdrawn), size B"),
  face("paving", "flag-900x600", "Flag 900 × 600", 900, 600, 5, "BS 7263 (withdrawn), size D"),

  face("tile", "tile-m10", "Tile M 10 × 10", 98, 98, 2, "EN 14411, modular: size and joint make 100 mm"),
  face("tile", "tile-m15", "Tile M 15 × 15", 148, 148, 2, "EN 14411, modular"),
  face("tile", "tile-m20", "Tile M 20 × 20", 198, 198, 2, "EN 14411, modular"),
  face("tile", "tile-m20x10", "Tile M 20 × 10", 198, 98, 2, "EN 14411, modular"),
  face("tile", "tile-m30", "Tile M 30 × 30", 297, 297, 3, "EN 14411, modular"),
  face("tile", "tile-m60x30", "Tile M 60 × 30", 597, 297, 3, "EN 14411, modular"),
  face("tile", "tile-m60", "Tile M 60 × 60", 597, 597, 3, "EN 14411, modular"),
  face("tile", "tile-m120x60", "Tile M 120 × 60", 1197, 597, 3, "EN 14411, modular"),
  face("tile", "tile-150x75", "Tile 150 × 75", 150, 75, 2, TRADE),
  face("tile", "tile-300x100", "Tile 300 × 100", 300, 100, 2, TRADE),
  face("tile", "tile-us-3x6", "Tile 6 × 3 in", 6 * IN, 3 * IN, IN / 16, TRADE),
  face("tile", "tile-us-4", "Tile 4 1/4 in", 4.25 * IN, 4.25 * IN, IN / 16, "ANSI A137.1"),
  face("tile", "tile-us-12", "Tile 12 in", 12 * IN, 12 * IN, IN / 8, TRADE),
  face("tile", "mosaic-20", "Mosaic 20 mm", 20, 20, 2, TRADE),
  face("tile", "mosaic-48", "Mosaic 48 mm", 48, 48, 2, TRADE),
  {
    id: "mosaic-sheet-300",
    kind: "tile",
    name: "Mosaic sheet 300 mm, looks like 6 × 6",
    workSize: { width: 298, height: 298 },
    joint: 2,
    looksLike: { across: 6, down: 6 },
    source: TRADE,
  },

  board("floor-137", "Floorboard 137", 137, 0, "EN 13990"),
  board("floor-180", "Plank 180", 180, 0, TRADE),
  board("floor-220", "Plank 220", 220, 0, TRADE),
  board("strip-70", "Parquet strip 70", 70, 0, "EN 13226"),
  board("strip-us-2-1/4", "Strip floor 2 1/4 in", 2.25 * IN, 0, TRADE),
  board("strip-us-3-1/4", "Strip floor 3 1/4 in", 3.25 * IN, 0, TRADE),
  board("deck-120", "Decking 120", 120, 5, TRADE),
  board("deck-145", "Decking 145", 145, 5, TRADE),
  board(
    "deck-us",
    "Decking 5 1/2 in",
    5.5 * IN,
    IN / 8,
    "American Softwood Lumber Standard PS 20, dressed size",
  ),
  {
    id: "board-tg-us-6",
    kind: "board",
    name: "Tongue and groove 1 × 6 in",
    coverSize: { height: 5.125 * IN },
    source: "American Softwood Lumber Standard PS 20, face width",
  },
  {
    id: "board-shiplap-us-8",
    kind: "board",
    name: "Shiplap 1 × 8 in",
    coverSize: { height: 6.875 * IN },
    source: "American Softwood Lumber Standard PS 20, face width",
  },
  {
    id: "board-weather-150",
    kind: "board",
    name: "Weatherboard 150, lap 25",
    coverSize: { height: 125 },
    source: TRADE,
  },
  {
    id: "board-panel-twin",
    kind: "board",
    name: "Cladding 200, looks like two boards",
    coverSize: { height: 200 },
    looksLike: { across: 1, down: 2 },
    source: TRADE,
  },
  face("board", "parquet-mosaic", "Mosaic parquet square 120", 120, 120, 0, "EN 13488"),

  slate(
    "500x250",
    "Slate 500 × 250, lap 100",
    { width: 250, length: 500, lap: 100, gap: 4 },
    "EN 12326-1, laid as BS 5534",
  ),
  slate(
    "400x200",
    "Slate 400 × 200, lap 90",
    { width: 200, length: 400, lap: 90, gap: 4 },
    "EN 12326-1, laid as BS 5534",
  ),
  slate(
    "600x300",
    "Slate 600 × 300, lap 100",
    { width: 300, length: 600, lap: 100, gap: 4 },
    "EN 12326-1, laid as BS 5534",
  ),
  slate(
    "fibre-600x300",
    "Fibre-cement slate 600 × 300, lap 100",
    { width: 300, length: 600, lap: 100, gap: 4 },
    "EN 492",
  ),
  slate(
    "shake-us",
    "Shingle 16 in, 5 in showing",
    { width: 5 * IN, length: 16 * IN, lap: 6 * IN, gap: 0 },
    TRADE,
  ),

  {
    id: "roof-plain",
    kind: "roof tile",
    name: "Plain tile 265 × 165",
    coverSize: { width: 165, height: 100 },
    source: "BS EN 1304, laid as BS 5534 at a gauge of 100 mm",
  },
  {
    id: "roof-beaver",
    kind: "roof tile",
    name: "Beaver tail 380 × 180",
    coverSize: { width: 180, height: 155 },
    source: `EN 1304, ${TRADE}`,
  },
  {
    id: "roof-concrete",
    kind: "roof tile",
    name: "Interlocking concrete 420 × 330",
    coverSize: { width: 300, height: 345 },
    source: "EN 490, laid at a gauge of 345 mm",
  },
  {
    id: "roof-pantile",
    kind: "roof tile",
    name: "Pantile 340 × 240",
    coverSize: { width: 203, height: 265 },
    source: TRADE,
  },

  face("panel", "panel-gypsum-1250", "Plasterboard 2000 × 1250", 2000, 1250, 0, "EN 520"),
  face("panel", "panel-gypsum-1200", "Plasterboard 2400 × 1200", 2400, 1200, 0, "EN 520"),
  face("panel", "panel-us-8x4", "Sheet 8 × 4 ft", 2438.4, 1219.2, 0, "ASTM C1396, PS 1"),
  face("panel", "panel-ply-2500", "Plywood 2500 × 1250", 2500, 1250, 0, "EN 315"),
  face("panel", "panel-fibre-cement", "Fibre cement 3050 × 1220", 3050, 1220, 8, TRADE),
  face("panel", "ceiling-600", "Ceiling panel, grid 600", 600, 600, 0, "EN 13964, grid size"),
  face("panel", "ceiling-625", "Ceiling panel, grid 625", 625, 625, 0, "EN 13964, grid size"),
  face("panel", "ceiling-1200x600", "Ceiling panel, grid 1200 × 600", 1200, 600, 0, "EN 13964, grid size"),
  face("panel", "ceiling-us-24", "Ceiling panel, grid 24 in", 24 * IN, 24 * IN, 0, "ASTM E1264, grid size"),
  face("panel", "raised-floor-600", "Raised floor 600", 600, 600, 0, "EN 12825"),
];

/** Distance from one module to the next that a format gives, in the directions that it has. */
export function coordinatingOf(format: Module): ModuleSize {
  const { workSize, coverSize, joint = 0, jointVertical = joint, looksLike } = format;
  const size = coverSize ?? workSize!;
  const gaps = coverSize ? { width: 0, height: 0 } : { width: joint, height: jointVertical };
  return {
    ...(size.width !== undefined && { width: (size.width + gaps.width) / (looksLike?.across ?? 1) }),
    ...(size.height !== undefined && { height: (size.height + gaps.height) / (looksLike?.down ?? 1) }),
  };
}

/** A format that would explain a count, and what it would cost. */
export interface FittingFormat {
  format: Format;
  /** Standing on its end: width and height exchanged. */
  turned: boolean;
  /** By how much the picture would be stretched, in percent. */
  stretchPercent: number;
}

/**
 * The formats whose proportions come nearest to the modules that were counted in a picture, best first.
 * @param module width and height of one counted module in pixels
 */
export function fittingFormats(
  module: { width: number; height: number },
  most = 6,
  formats: readonly Format[] = FORMATS,
): FittingFormat[] {
  const fits = formats.flatMap((format) => {
    const { width, height } = coordinatingOf(format);
    if (width === undefined || height === undefined) return [];
    const stretch = (w: number, h: number) => (module.width / w / (module.height / h) - 1) * 100;
    const lying = { format, turned: false, stretchPercent: stretch(width, height) };
    if (Math.abs(width - height) < 1e-6) return [lying];
    const standing = { format, turned: true, stretchPercent: stretch(height, width) };
    return [Math.abs(lying.stretchPercent) <= Math.abs(standing.stretchPercent) ? lying : standing];
  });
  return fits.toSorted((a, b) => Math.abs(a.stretchPercent) - Math.abs(b.stretchPercent)).slice(0, most);
}
