/** Counts up when patches move, or mean something else: a card of another layout is not read. */
export const CARD_LAYOUT = 3;

/** The files of a test card. Each goes into one input of a renderer; `transparency` stands in for `opacity`, `packed` for three of them. */
export const CARD_FILES = [
  "color",
  "shine",
  "normal",
  "height",
  "occlusion",
  "opacity",
  "transparency",
  "metal",
  "packed",
] as const;
export type CardFile = (typeof CARD_FILES)[number];

/** What a patch holds in a file, in codes from 0 to 1. */
export type Paint =
  | { kind: "flat"; value: readonly number[] }
  /** Grains of 0 and 1, so many of 100 of them 1: any decoding leaves those as they are. */
  | { kind: "grains"; share: number }
  /** Left and right half. */
  | { kind: "halves"; left: readonly number[]; right: readonly number[] }
  /** A round bump, in a normal map. */
  | { kind: "dome" }
  /** Small round bumps of a height, so much of it from black to white. */
  | { kind: "domes"; height: number }
  /** Saw teeth that fall towards a side. */
  | { kind: "slope"; towards: Side; teeth: TeethName };

export type Side = "left" | "right" | "up" | "down";

/** A square of the card that answers something beside others. */
export interface Patch {
  id: string;
  column: number;
  row: number;
  paint: Partial<Record<CardFile, Paint>>;
  /** Of the fourth channel of the colours; 1 unless given. */
  alpha?: number;
}

type Content = Omit<Patch, "column" | "row">;

/** The side of the card, as it is to be laid, and its pixels. */
export const CARD_MM = 1000;
export const CARD_PX = 1024;
/** From black to white of the height, as it is to be entered. */
export const CARD_RELIEF_MM = 6;
/** Small bumps of a height in a patch, in one direction. */
export const DOMES_IN_A_ROW = 3;
/**
 * Saw teeth: how many in a patch, and between which codes each falls. The usual ones tell most as long as heights come out about as
 * entered, steep ones where they come out lower; shallow ones where they come out so much higher that the others are cliffs, and near
 * black and near white, as decoding makes those unlike each other.
 */
export const TEETH = {
  usual: { count: 3, from: 0, to: 1 },
  steep: { count: 6, from: 0, to: 1 },
  low: { count: 3, from: 0.1, to: 0.225 },
  high: { count: 3, from: 0.775, to: 0.9 },
} as const;
export type TeethName = keyof typeof TEETH;

/** All below in shares of the card's side, from its upper left corner. */
export const GRID = { left: 0.15, top: 0.11, pitch: 0.0875, columns: 8, rows: 9 };
export const PATCH_SIDE = 0.066;

/** In the corners: up left, up right, down right, down left. Rings tell what it is; their hearts tell which is which. */
export const MARKS = [
  { x: 0.075, y: 0.075, heart: "ring" },
  { x: 0.925, y: 0.075, heart: "dot" },
  { x: 0.925, y: 0.925, heart: "plain" },
  { x: 0.075, y: 0.925, heart: "plain" },
] as const;
/** Radii of a mark: dark to the first, light to the second, dark within the third; in it the heart. */
export const MARK_RADII = { dark: 0.06, light: 0.046, core: 0.032 } as const;

/** Between the upper marks: the number of the card, most significant bit first. */
export const NUMBER_CELLS = { x: 0.2, y: 0.045, side: 0.0375, bits: 16 };
/** Between the lower ones: a scale, a tick every centimetre. */
export const SCALE = { x: 0.2, y: 0.915, width: 0.6, height: 0.035 };

const AT_REST: Record<CardFile, readonly number[]> = {
  color: [0.627, 0.627, 0.627],
  shine: [0.5],
  normal: [0.5, 0.5, 1],
  height: [0.5],
  occlusion: [1],
  opacity: [1],
  transparency: [0],
  metal: [0],
  // Half of each: whatever lies in which channel, all else can still be seen.
  packed: [0.5, 0.5, 0.5],
};
/** What a file holds where no patch says something else. */
export const atRest = (file: CardFile): readonly number[] => AT_REST[file];

/** What the colour reflects where nothing lies, in linear light: `AT_REST` of the colour, decoded. */
export const REST_ALBEDO = 0.351;

/** Codes of matt greys, and what they reflect (IEC 61966-2-1). */
export const GREYS: readonly { code: number; albedo: number }[] = [
  { code: 0.1518, albedo: 0.02 },
  { code: 0.2475, albedo: 0.05 },
  { code: 0.3492, albedo: 0.1 },
  { code: 0.4614, albedo: 0.18 },
  { code: 0.5838, albedo: 0.3 },
  { code: 0.7026, albedo: 0.45 },
  { code: 0.8267, albedo: 0.65 },
  { code: 0.9547, albedo: 0.9 },
];

/** What a code of one half decodes to where it is taken for a colour. */
export const HALF_DECODED = 0.214;
/** The code that is decoded to one half. */
const CODE_OF_HALF = 0.735;

const flat = (...value: number[]): Paint => ({ kind: "flat", value });
const grains = (share: number): Paint => ({ kind: "grains", share });
const DOME: Paint = { kind: "dome" };
const DOMES: Paint = { kind: "domes", height: 1 };
const LOW_DOMES: Paint = { kind: "domes", height: 0.125 };
/** Whatever is read of it, it has no highlight to speak of. */
const DULL: Content["paint"] = {
  // Whatever lies in which channel: little metal, and as good as a mirror or as good as matt.
  packed: flat(0.25, 0.25, 0.25),
  // Taken for roughness or for gloss, as it is or decoded: never as good as a mirror.
  shine: flat(0.63),
};
const LIGHT = flat(0.797, 0.797, 0.797);
/**
 * What slopes of the height lie on, in codes of a normal map: as it is or decoded, green up or down, it neither faces a lamp at the upper left nor
 * is turned away from it. What faces the lamp is darker to whichever side it leans, and does not tell in from out.
 */
export const SLOPED_CODES = { x: 0.8, y: 0.6 };
const SLOPED = { color: LIGHT, ...DULL, normal: flat(SLOPED_CODES.x, SLOPED_CODES.y, 1) };
/** It shows what it mirrors, and little else; where it is metal, not even that. */
const BLACK = flat(0.1, 0.1, 0.1);
const GREY = flat(0.485, 0.485, 0.485);
/** Strong, and without blue, so that metal mirrors none. */
const ORANGE = flat(0.906, 0.584, 0.19);
/** No ground behind the card is both. */
const TWO_COLORS: Paint = { kind: "halves", left: [0.1, 0.75, 0.2], right: [0.8, 0.1, 0.6] };

/** Codes of tilted normals that stand at an end in one direction, which no decoding moves. */
const ENDS = [0, 1];
const BETWEEN = [0.5, CODE_OF_HALF];
export const TILTS: readonly (readonly [x: number, y: number])[] = [
  ...ENDS.flatMap((y) => [0, ...BETWEEN, 1].map((x) => [x, y] as const)),
  ...ENDS.flatMap((x) => BETWEEN.map((y) => [x, y] as const)),
];
export const tiltId = (x: number, y: number) => `tilt ${x} ${y}`;

export const SIDES: readonly Side[] = ["left", "right", "up", "down"];
export const slopeId = (teeth: TeethName, towards: Side) => `slope ${teeth} ${towards}`;
const slopes = (teeth: TeethName) =>
  SIDES.map((towards) => ({
    id: slopeId(teeth, towards),
    paint: { ...SLOPED, height: { kind: "slope", towards, teeth } } as Patch["paint"],
  }));
export const PACKED_CHANNELS = ["red", "green", "blue"] as const;
/** Of one channel, the other two at rest: little and much, but nothing that is a perfect mirror, which a lamp is not seen in. */
export const PACKED_CODES = [0.42, 0.87] as const;
export const packedId = (channel: (typeof PACKED_CHANNELS)[number], code: number, color: "black" | "grey") =>
  `packed ${channel} ${code} ${color}`;

const only = (channel: number, code: number) =>
  flat(...[0, 1, 2].map((one) => (one === channel ? code : 0.5)));

/** In a row each, so that little and much of a channel stand below each other: the eye sees them from the same side. */
const PACKED: readonly Content[][] = PACKED_CODES.map((code) =>
  PACKED_CHANNELS.flatMap((name, channel) =>
    (["black", "grey"] as const).map((color) => ({
      id: packedId(name, code, color),
      paint: {
        color: color === "black" ? BLACK : GREY,
        normal: DOME,
        packed: only(channel, code),
      },
    })),
  ),
);

/**
 * Row by row, so that what is compared stands close together; heights last, as the lamp stands at the upper left: where they come out much too
 * high they hide it from nothing but each other.
 */
const CONTENTS: readonly Content[] = [
  ...PACKED[0],
  { id: "whole", paint: { color: TWO_COLORS } },
  { id: "cut by opacity", paint: { color: TWO_COLORS, opacity: flat(0) } },
  ...PACKED[1],
  { id: "cut by transparency", paint: { color: TWO_COLORS, transparency: flat(1) } },
  { id: "cut by alpha", paint: { color: TWO_COLORS }, alpha: 0 },
  ...TILTS.map(([x, y]) => ({
    id: tiltId(x, y),
    paint: { color: LIGHT, ...DULL, normal: flat(x, y, 1) },
  })),
  { id: "shine low", paint: { color: BLACK, normal: DOME, shine: flat(0.55) } },
  { id: "shine high", paint: { color: BLACK, normal: DOME, shine: flat(0.82) } },
  { id: "no metal", paint: { color: ORANGE, normal: DOME } },
  { id: "metal", paint: { color: ORANGE, normal: DOME, metal: flat(1) } },
  ...GREYS.map(({ code }, at) => ({ id: `grey ${at}`, paint: { color: flat(code, code, code) } })),
  { id: "color flat", paint: { color: flat(CODE_OF_HALF, CODE_OF_HALF, CODE_OF_HALF) } },
  { id: "color half", paint: { color: grains(50) } },
  { id: "color more", paint: { color: grains(73.5) } },
  { id: "metal half", paint: { color: ORANGE, metal: flat(0.5) } },
  { id: "metal grains half", paint: { color: ORANGE, metal: grains(50) } },
  { id: "metal grains few", paint: { color: ORANGE, metal: grains(100 * HALF_DECODED) } },
  { id: "open", paint: { color: LIGHT } },
  { id: "closed", paint: { color: LIGHT, occlusion: flat(0) } },
  { id: "closed half", paint: { color: LIGHT, occlusion: flat(0.5) } },
  { id: "closed grains half", paint: { color: LIGHT, occlusion: grains(50) } },
  { id: "closed grains few", paint: { color: LIGHT, occlusion: grains(100 * HALF_DECODED) } },
  { id: "level", paint: SLOPED },
  { id: "shine low by height", paint: { color: BLACK, height: DOMES, shine: flat(0.55) } },
  { id: "shine high by height", paint: { color: BLACK, height: DOMES, shine: flat(0.82) } },
  { id: "shine low by low height", paint: { color: BLACK, height: LOW_DOMES, shine: flat(0.55) } },
  { id: "shine high by low height", paint: { color: BLACK, height: LOW_DOMES, shine: flat(0.82) } },
  ...slopes("usual"),
  ...slopes("steep"),
  ...slopes("high"),
  ...slopes("low"),
];

export const PATCHES: readonly Patch[] = CONTENTS.map((content, at) => ({
  ...content,
  column: at % GRID.columns,
  row: Math.floor(at / GRID.columns),
}));

/** The middle of a patch. */
export const middleOf = ({ column, row }: Pick<Patch, "column" | "row">) => ({
  x: GRID.left + (column + 0.5) * GRID.pitch,
  y: GRID.top + (row + 0.5) * GRID.pitch,
});
