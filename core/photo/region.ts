import type { Point } from "#core/gauge/repeat";
import { homographyOf, project, type Homography } from "#core/photo/homography";
import { bowed, MOST_BOW, unbowed } from "#core/photo/lens";

interface PixelSize {
  width: number;
  height: number;
}

/** A flat rectangle of the real world as it shows in a photograph. */
export interface Region {
  /** Its corners in the photograph in pixels: top left, top right, bottom right, bottom left, as they are in the real world. */
  corners: [Point, Point, Point, Point];
  /** Real size, mm. */
  width: number;
  height: number;
  /** Places whose real position is known as well, in mm from the top left corner: they join in the fit and show its error. */
  control?: { at: Point; real: Point }[];
  /** Bow of the lens. */
  bow?: number;
}

/** A region that cannot be flattened; the message says what is wrong and what would do. */
export class RegionError extends Error {
  override name = "RegionError";
  constructor(
    message: string,
    readonly field: string,
  ) {
    super(message);
  }
}

/** A triangle of the corners below this part of the whole area counts as a line. */
const FLAT = 0.01;
/** A shorter side is off by more than a tenth where its corners are off by half a pixel. */
const LEAST_SIDE = 10;

/** @throws {RegionError} for corners that cross, lie on a line, mirror the picture or lie far outside, and for sizes that are none */
export function checkRegion(
  { corners, width, height, control = [], bow = 0 }: Region,
  photo: PixelSize,
): void {
  for (const [name, value] of [
    ["width", width],
    ["height", height],
  ] as const)
    if (!(value > 0) || value > 1e7)
      throw new RegionError(`${value} is no real ${name}. It must be more than 0 mm.`, name);
  if (!(Math.abs(bow) <= MOST_BOW))
    throw new RegionError(`The bow goes from −${MOST_BOW} to ${MOST_BOW}.`, "bow");
  // A corner may lie beyond the picture, where the edge of the region is cut off; but not anywhere.
  const inside = (p: Point) =>
    Math.abs(p.x / photo.width - 0.5) <= 1 && Math.abs(p.y / photo.height - 0.5) <= 1;
  corners.forEach((corner, i) => {
    if (!inside(corner))
      throw new RegionError("A corner lies more than half a picture outside.", `corners/${i}`);
  });
  control.forEach(({ at }, i) => {
    if (!inside(at)) throw new RegionError("The point lies outside the picture.", `control/${i}`);
  });
  corners.forEach((corner, i) => {
    const next = corners[(i + 1) % 4];
    const side = Math.hypot(next.x - corner.x, next.y - corner.y);
    if (side > 0 && side < LEAST_SIDE)
      throw new RegionError(
        `A side of the region is ${side.toFixed(1)} px long, which shows nothing of the wall. It has to be ${LEAST_SIDE} px at least.`,
        `corners/${i}`,
      );
  });
  // Signed areas at each corner, y running down: all positive when they go round clockwise, as on the wall.
  const turns = corners.map((corner, i) => crossAt(corners[(i + 3) % 4], corner, corners[(i + 1) % 4]));
  const area = Math.max(...turns.map(Math.abs));
  if (area < 4 || turns.some((turn) => Math.abs(turn) < FLAT * area))
    throw new RegionError("Three of the corners lie on one line. Pull one of them away from it.", "corners");
  const right = turns.filter((turn) => turn > 0).length;
  if (right === 0)
    throw new RegionError(
      "The corners go round the wrong way: the picture would be mirrored. The first is the top left one as one stands before the wall, then they go round clockwise.",
      "corners",
    );
  if (right !== 4)
    throw new RegionError(
      "Two edges cross, or a corner lies inside the other three. Put the corners around the region in turn.",
      "corners",
    );
}

const crossAt = (a: Point, b: Point, c: Point) => (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);

/** How real places of a region lie in its photograph. */
export interface Flattening {
  /** From mm on the region to pixels of the photograph, bow and all. */
  toPhoto(real: Point): Point;
  /** Without the bow, as a matrix. */
  homography: Homography;
  /** How far each control point lies from where the fit has it, in mm, and where it is put, if there are any. */
  residuals: number[];
}

/** The projection of a region. @throws {RegionError} see {@link checkRegion} */
export function flattening(region: Region, photo: PixelSize): Flattening {
  checkRegion(region, photo);
  const { corners, width, height, control = [], bow = 0 } = region;
  const real = [
    { x: 0, y: 0 },
    { x: width, y: 0 },
    { x: width, y: height },
    { x: 0, y: height },
    ...control.map(({ real }) => real),
  ];
  const seen = [...corners, ...control.map(({ at }) => at)].map((point) => unbowed(point, photo, bow));
  const homography = homographyOf(real, seen);
  const back = homographyOf(seen, real);
  return {
    toPhoto: (point) => bowed(project(homography, point), photo, bow),
    homography,
    residuals: control.map((_, i) => {
      const put = project(back, seen[i + 4]);
      return Math.hypot(put.x - real[i + 4].x, put.y - real[i + 4].y);
    }),
  };
}

/** Quality goes with purpose: the densest place of the photograph kept, half of that, or a quarter. */
export const QUALITIES = ["full", "half", "rough"] as const;
export type Quality = (typeof QUALITIES)[number];
const SHARE: Record<Quality, number> = { full: 1, half: 1 / 2, rough: 1 / 4 };

/** Longest side of what is made. */
const MOST_FLAT_PX = 8192;

/**
 * Pixels that a region deserves: as dense as the photograph is at the densest of its edges, both ways alike.
 * More would only be invented.
 */
export function flatSize(region: Region, photo: PixelSize, quality: Quality): PixelSize {
  const { toPhoto } = flattening(region, photo);
  const { width, height } = region;
  const between = (a: Point, b: Point) => {
    const [p, q] = [toPhoto(a), toPhoto(b)];
    return Math.hypot(q.x - p.x, q.y - p.y);
  };
  const across = [0, height].map((y) => between({ x: 0, y }, { x: width, y }) / width);
  const down = [0, width].map((x) => between({ x, y: 0 }, { x, y: height }) / height);
  const density = Math.max(...across, ...down) * SHARE[quality];
  const most = MOST_FLAT_PX / Math.max(width, height);
  const pxPerMm = Math.min(density, most);
  return {
    width: Math.max(16, Math.round(width * pxPerMm)),
    height: Math.max(16, Math.round(height * pxPerMm)),
  };
}
