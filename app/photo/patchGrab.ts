import type { Point } from "#core/gauge/repeat";

/** A rectangle that is painted out, in mm on the region. */
export interface Rectangle {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What of a rectangle is held: all of it, or the sides that meet in a corner. */
export type PatchPart = "whole" | { right: boolean; bottom: boolean };

export interface PatchGrip {
  index: number;
  part: PatchPart;
}

/** The rectangle under a place, the one that lies on top first, its corners before its inside. */
export function patchAt(rectangles: Rectangle[], at: Point, reachMm: number): PatchGrip | undefined {
  for (let index = rectangles.length - 1; index >= 0; index--) {
    const { x, y, width, height } = rectangles[index];
    for (const bottom of [true, false])
      for (const right of [true, false]) {
        const corner = { x: right ? x + width : x, y: bottom ? y + height : y };
        if (Math.hypot(corner.x - at.x, corner.y - at.y) <= reachMm)
          return { index, part: { right, bottom } };
      }
    if (at.x >= x && at.x <= x + width && at.y >= y && at.y <= y + height) return { index, part: "whole" };
  }
  return undefined;
}

/** The rectangle after what is held of it was moved; a corner pulled past the other turns it over. */
export function draggedPatch(rectangle: Rectangle, part: PatchPart, dx: number, dy: number): Rectangle {
  const { x, y, width, height } = rectangle;
  if (part === "whole") return { x: x + dx, y: y + dy, width, height };
  const [left, right] = part.right ? [x, x + width + dx] : [x + dx, x + width];
  const [top, bottom] = part.bottom ? [y, y + height + dy] : [y + dy, y + height];
  return {
    x: Math.min(left, right),
    y: Math.min(top, bottom),
    // A patch without an area would be refused.
    width: Math.max(1, Math.abs(right - left)),
    height: Math.max(1, Math.abs(bottom - top)),
  };
}
