import type { Repeat } from "#core/length/repeat";

/** A width and a height in pixels. */
export interface PixelSize {
  width: number;
  height: number;
}

/**
 * "both": width and height as given, the image is stretched; "width" or "height": that one as given, the other
 * follows from the pixels; "between": proportions are kept, and both are off by as little as can be (least squares).
 */
export const KEEPS = ["both", "width", "height", "between"] as const;

export type Keep = (typeof KEEPS)[number];

export interface Point {
  x: number;
  y: number;
}

/** In the directions in which modules are counted. */
export interface ModuleSize {
  width?: number;
  height?: number;
}

/** A line over the image, and how long it is in the real world. */
export interface MeasuredLine {
  from: Point;
  to: Point;
  length: number;
}

/** The ways to a repeat. Lengths in millimetres, points in pixels from the image's top left corner. */
export type RepeatMethod =
  | { method: "size"; width: number; height?: number }
  /** Pixels per real metre; down as across unless given. */
  | { method: "density"; across: number; down?: number }
  /** The repeat of another material, as it was when it was taken over. */
  | { method: "same-as"; material: string; width: number; height: number }
  /** A size changed a little, so that it divides a surface; what it was before, and the surface, in mm. */
  | {
      method: "fitted";
      width: number;
      height: number;
      surface: ModuleSize;
      before: Repeat;
      /** The modules that were counted before, which are still there, with their joints as they were. */
      counted?: { across?: number; up?: number; joint: number; jointVertical: number };
    }
  | {
      method: "modules";
      /**
       * Whole modules across and up the image. One direction may be left out, as for boards of random length: it then
       * follows from the pixels.
       */
      across?: number;
      up?: number;
      /** A module without its joint, and the joints at its side and above it. */
      workSize?: ModuleSize;
      joint?: number;
      /** The joint between courses; `joint` unless given. */
      jointVertical?: number;
      /** The part of a lapped module that shows, in place of work size and joint. */
      coverSize?: ModuleSize;
      /** As how many modules one piece shows; they are what is counted. */
      looksLike?: { across: number; down: number };
    }
  | ({ method: "length" } & MeasuredLine)
  | { method: "lines"; lines: MeasuredLine[] }
  | { method: "rectangle"; from: Point; to: Point; width: number; height: number };

export interface GaugeResult {
  repeat: Repeat;
  /** How much the image's proportions change: (density across / density up − 1) × 100. */
  stretchPercent: number;
  /** The stretch that the given numbers ask for, before `keep` settles it. */
  disagreementPercent: number;
  /** Pixels per real metre. */
  densityX: number;
  densityY: number;
  /**
   * How far the size may be off, in percent: what a pixel at either end of a measured length makes, or by how much several
   * lines contradict each other. 0 for counts and for given sizes, which are as exact as the number itself.
   */
  errorPercent: number;
  /** Of several lines: by how much each is longer (+) or shorter (−) in the result than it was said to be, in percent. */
  residuals?: number[];
}

/** More lines say nothing more, and would only be a burden. */
export const MOST_LINES = 50;

/** From so much stretch on, in percent, a person should say that it is meant. */
export const MUCH_STRETCH = 3;

/** A measurement that leads to no repeat; the message says why and what would do. */
export class GaugeError extends Error {
  constructor(
    message: string,
    /** The field at fault, as a path in the method: "across", "workSize/width". */
    readonly field: string,
  ) {
    super(message);
    this.name = "GaugeError";
  }
}

/**
 * The repeat that a measurement or a product dimension gives.
 * @throws {GaugeError} where the numbers cannot be true: no size, a line without length, points outside the image.
 */
export function gaugeRepeat(image: PixelSize, method: RepeatMethod, keep: Keep = "both"): GaugeResult {
  const asked = askedRepeat(image, method);
  const disagreementPercent = stretchOf(image, asked);
  const repeat = keptRepeat(image, asked, keep);
  checkRepeat(repeat, method);
  return {
    repeat,
    stretchPercent: keep === "both" ? disagreementPercent : 0,
    disagreementPercent,
    densityX: densityOf(image.width, repeat.width),
    densityY: densityOf(image.height, repeat.height),
    ...errorOf(image, method, asked),
  };
}

/** No surface has a smaller or a larger repeat, mm. */
const [LEAST_REPEAT, MOST_REPEAT] = [0.1, 1e6];

function checkRepeat({ width, height }: Repeat, { method }: RepeatMethod): void {
  const [least, most] = [Math.min(width, height), Math.max(width, height)];
  if (least >= LEAST_REPEAT && most <= MOST_REPEAT) return;
  const size = `${Number(width.toPrecision(4))} × ${Number(height.toPrecision(4))} mm`;
  throw new GaugeError(
    `That makes a repeat of ${size}. A repeat is 0.1 mm to 1 km wide and high.`,
    method === "modules" || method === "density" ? "across" : method === "lines" ? "lines" : "width",
  );
}

/** What is made of a repeat whose proportions are not those of the pixels. */
function keptRepeat(image: PixelSize, asked: Repeat, keep: Keep): Repeat {
  if (keep === "both") return asked;
  const [across, down] = [asked.width / image.width, asked.height / image.height];
  const mmPerPixel =
    keep === "width"
      ? across
      : keep === "height"
        ? down
        : // The scale s with the least (s/across − 1)² + (s/down − 1)².
          (1 / across + 1 / down) / (1 / across ** 2 + 1 / down ** 2);
  return { width: mmPerPixel * image.width, height: mmPerPixel * image.height };
}

/** Both ends of a length are set to about half a pixel. */
const END_ERROR_PX = Math.SQRT1_2;

function errorOf(
  image: PixelSize,
  method: RepeatMethod,
  asked: Repeat,
): Pick<GaugeResult, "errorPercent" | "residuals"> {
  const ofPixels = (pixels: number) => (100 * END_ERROR_PX) / pixels;
  switch (method.method) {
    case "length":
      return { errorPercent: ofPixels(pixelsOf(method)) };
    case "rectangle": {
      const { from, to } = method;
      return { errorPercent: ofPixels(Math.min(Math.abs(to.x - from.x), Math.abs(to.y - from.y))) };
    }
    case "lines": {
      const residuals = method.lines.map(
        (line) => (100 * realLength(line, image, asked)) / line.length - 100,
      );
      const spread = Math.sqrt(residuals.reduce((sum, r) => sum + r * r, 0) / residuals.length);
      // Several lines average the errors of their ends out.
      const ends = 1 / Math.sqrt(method.lines.reduce((sum, line) => sum + ofPixels(pixelsOf(line)) ** -2, 0));
      return { errorPercent: Math.max(spread, ends), residuals };
    }
    default:
      return { errorPercent: 0 };
  }
}

const pixelsOf = ({ from, to }: { from: Point; to: Point }) => Math.hypot(to.x - from.x, to.y - from.y);

/** How long a line over an image is on a repeat, in mm. */
export function realLength(
  { from, to }: { from: Point; to: Point },
  image: PixelSize,
  repeat: Repeat,
): number {
  return Math.hypot(
    ((to.x - from.x) * repeat.width) / image.width,
    ((to.y - from.y) * repeat.height) / image.height,
  );
}

/** Pixels per real metre. */
export function densityOf(pixels: number, mm: number): number {
  return (pixels / mm) * 1000;
}

/** By how much the proportions of an image change on a repeat, in percent. */
export function stretchOf(image: PixelSize, repeat: Repeat): number {
  return (densityOf(image.width, repeat.width) / densityOf(image.height, repeat.height) - 1) * 100;
}

function askedRepeat(image: PixelSize, method: RepeatMethod): Repeat {
  switch (method.method) {
    case "size": {
      const width = positive(method.width, "width");
      const height =
        method.height === undefined
          ? (width * image.height) / image.width
          : positive(method.height, "height");
      return { width, height };
    }
    case "modules":
      return fromModules(image, method);
    case "density": {
      const across = positive(method.across, "across");
      const down = method.down === undefined ? across : positive(method.down, "down");
      return { width: (1000 * image.width) / across, height: (1000 * image.height) / down };
    }
    case "same-as":
    case "fitted":
      return { width: positive(method.width, "width"), height: positive(method.height, "height") };
    case "length": {
      checkLine(image, method, "");
      const mmPerPixel = method.length / pixelsOf(method);
      return { width: image.width * mmPerPixel, height: image.height * mmPerPixel };
    }
    case "lines":
      return fromLines(image, method.lines);
    case "rectangle": {
      checkPoint(image, method.from, "from");
      checkPoint(image, method.to, "to");
      const across = Math.abs(method.to.x - method.from.x);
      const up = Math.abs(method.to.y - method.from.y);
      if (across < 1 || up < 1)
        throw new GaugeError(
          "The rectangle has no area. Draw it over something whose width and height are known.",
          "to",
        );
      return {
        width: (image.width * positive(method.width, "width")) / across,
        height: (image.height * positive(method.height, "height")) / up,
      };
    }
  }
}

/** n modules fill the image exactly, so the repeat is n × the coordinating (or cover) size. */
function fromModules(image: PixelSize, method: Extract<RepeatMethod, { method: "modules" }>): Repeat {
  const { coverSize, workSize } = method;
  const size = coverSize ?? workSize;
  if (!size) throw new GaugeError("Give the module's work size and joint, or its cover size.", "workSize");
  const field = coverSize ? "coverSize" : "workSize";
  const joint = coverSize ? 0 : jointWidth(method.joint ?? 0, "joint");
  const jointVertical = coverSize ? 0 : jointWidth(method.jointVertical ?? joint, "jointVertical");
  const of = (
    count: number | undefined,
    countField: string,
    length: number | undefined,
    side: "width" | "height",
    gap: number,
    looksLike: number,
  ) => {
    if (count === undefined) return undefined;
    if (length === undefined) throw new GaugeError(`Give the module's ${side} as well.`, `${field}/${side}`);
    if (gap >= length)
      throw new GaugeError(
        `The joint of ${gap} mm is as wide as the module's ${side} of ${length} mm. A joint is narrower than its module.`,
        side === "width" ? "joint" : method.jointVertical === undefined ? "joint" : "jointVertical",
      );
    const pieces = wholeCount(count, countField) / wholeCount(looksLike, "looksLike");
    return pieces * (positive(length, `${field}/${side}`) + gap);
  };
  const looks = method.looksLike ?? { across: 1, down: 1 };
  const width = of(method.across, "across", size.width, "width", joint, looks.across);
  const height = of(method.up, "up", size.height, "height", jointVertical, looks.down);
  if (width === undefined && height === undefined)
    throw new GaugeError("Count the modules across, or the courses up, or both.", "across");
  return {
    width: width ?? (height! * image.width) / image.height,
    height: height ?? (width! * image.height) / image.width,
  };
}

/** Lines that all run within this angle say nothing sure of the other direction. */
const LEAST_ANGLE = Math.PI / 6;

/** Lines that are off by more than this part of their lengths, in the mean square, are not of one flat surface. */
const MOST_CONTRADICTION = 0.25;

/**
 * The scales across and down whose lengths come nearest to those of the lines, in parts of each length (Gauss–Newton).
 * Lines that all run one way say nothing of the other, and then pixels count as square.
 */
function fromLines(image: PixelSize, lines: MeasuredLine[]): Repeat {
  if (lines.length < 1 || lines.length > MOST_LINES)
    throw new GaugeError(`${lines.length} lines came. Draw from 1 to ${MOST_LINES}.`, "lines");
  lines.forEach((line, i) => checkLine(image, line, `lines/${i}/`));
  const parts = lines.map(({ from, to, length }) => ({
    x: (to.x - from.x) / length,
    y: (to.y - from.y) / length,
  }));
  const of = (value: (part: Point) => number) => parts.reduce((sum, part) => sum + value(part), 0);
  // One scale s with the least Σ (s·p − 1)², p in pixels per mm.
  let across = of(({ x, y }) => Math.hypot(x, y)) / of(({ x, y }) => x * x + y * y);
  let down = across;
  if (widestAngle(parts) >= LEAST_ANGLE)
    for (let step = 0; step < 50; step++) {
      let [aa, ab, bb, ar, br] = [0, 0, 0, 0, 0];
      for (const { x, y } of parts) {
        const length = Math.hypot(across * x, down * y);
        const [da, db, rest] = [(across * x * x) / length, (down * y * y) / length, 1 - length];
        aa += da * da;
        ab += da * db;
        bb += db * db;
        ar += da * rest;
        br += db * rest;
      }
      const determinant = aa * bb - ab * ab;
      if (!(determinant > 1e-12 * aa * bb)) break;
      const [byAcross, byDown] = [(bb * ar - ab * br) / determinant, (aa * br - ab * ar) / determinant];
      across += byAcross;
      down += byDown;
      if (!(across > 0 && down > 0)) throw contradiction();
      if (Math.abs(byAcross / across) + Math.abs(byDown / down) < 1e-12) break;
    }
  const off = of(({ x, y }) => (Math.hypot(across * x, down * y) - 1) ** 2) / parts.length;
  if (Math.sqrt(off) > MOST_CONTRADICTION) throw contradiction();
  return { width: image.width * across, height: image.height * down };
}

/** The widest angle at which two of the lines cross, 0 to a right angle. */
function widestAngle(parts: Point[]): number {
  let widest = 0;
  for (const [i, a] of parts.entries())
    for (const b of parts.slice(i + 1)) {
      const cosine = Math.abs(a.x * b.x + a.y * b.y) / (Math.hypot(a.x, a.y) * Math.hypot(b.x, b.y));
      widest = Math.max(widest, Math.acos(Math.min(1, cosine)));
    }
  return widest;
}

const contradiction = () =>
  new GaugeError(
    "The lines contradict each other: no size fits them. Take out the one that is wrong.",
    "lines",
  );

function checkLine(image: PixelSize, line: MeasuredLine, field: string): void {
  checkPoint(image, line.from, `${field}from`);
  checkPoint(image, line.to, `${field}to`);
  if (pixelsOf(line) < 1)
    throw new GaugeError(
      "The line is shorter than a pixel. Draw it between two places that are a known length apart.",
      `${field}to`,
    );
  positive(line.length, `${field}length`);
}

function positive(value: number, field: string): number {
  if (!(value > 0) || !Number.isFinite(value) || value > 1e9)
    throw new GaugeError(`${value} is not a length. It must be more than 0 mm.`, field);
  return value;
}

function jointWidth(value: number, field: string): number {
  if (!(value >= 0) || value > 1e6)
    throw new GaugeError(`${value} is not a joint. It must be 0 mm or more.`, field);
  return value;
}

function wholeCount(value: number, field: string): number {
  if (!Number.isInteger(value) || value < 1 || value > 100_000)
    throw new GaugeError(
      `${value} modules cannot fill an image that repeats. Count whole modules, from 1 to 100,000.`,
      field,
    );
  return value;
}

function checkPoint(image: PixelSize, point: Point, field: string): void {
  if (!(point.x >= 0 && point.y >= 0 && point.x <= image.width && point.y <= image.height))
    throw new GaugeError(
      `The point ${point.x}, ${point.y} lies outside the image, which is ${image.width} × ${image.height} px.`,
      field,
    );
}
