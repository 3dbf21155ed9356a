/** A width and a height in pixels. */
export interface PixelSize {
  width: number;
  height: number;
}

/** The real size after which an image begins again, in millimetres. */
export interface Repeat {
  width: number;
  height: number;
}

/**
 * "both": width and height as given, the image is stretched; "width" or "height": that one as given, the other
 * follows from the pixels.
 */
export type Keep = "both" | "width" | "height";

export interface Point {
  x: number;
  y: number;
}

/** In the directions in which modules are counted. */
export interface ModuleSize {
  width?: number;
  height?: number;
}

/** The four ways to a repeat. Lengths in millimetres, points in pixels from the image's top left corner. */
export type RepeatMethod =
  | { method: "size"; width: number; height?: number }
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
    }
  | { method: "length"; from: Point; to: Point; length: number }
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
}

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
  const repeat =
    keep === "width"
      ? { width: asked.width, height: (asked.width * image.height) / image.width }
      : keep === "height"
        ? { width: (asked.height * image.width) / image.height, height: asked.height }
        : asked;
  return {
    repeat,
    stretchPercent: keep === "both" ? disagreementPercent : 0,
    disagreementPercent,
    densityX: densityOf(image.width, repeat.width),
    densityY: densityOf(image.height, repeat.height),
  };
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
    case "length": {
      const pixels = Math.hypot(method.to.x - method.from.x, method.to.y - method.from.y);
      checkPoint(image, method.from, "from");
      checkPoint(image, method.to, "to");
      if (pixels < 1)
        throw new GaugeError(
          "The line is shorter than a pixel. Draw it between two places that are a known length apart.",
          "to",
        );
      const mmPerPixel = positive(method.length, "length") / pixels;
      return { width: image.width * mmPerPixel, height: image.height * mmPerPixel };
    }
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
  ) => {
    if (count === undefined) return undefined;
    if (length === undefined) throw new GaugeError(`Give the module's ${side} as well.`, `${field}/${side}`);
    return wholeCount(count, countField) * (positive(length, `${field}/${side}`) + gap);
  };
  const width = of(method.across, "across", size.width, "width", joint);
  const height = of(method.up, "up", size.height, "height", jointVertical);
  if (width === undefined && height === undefined)
    throw new GaugeError("Count the modules across, or the courses up, or both.", "across");
  return {
    width: width ?? (height! * image.width) / image.height,
    height: height ?? (width! * image.height) / image.width,
  };
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
