import type { Point } from "#core/gauge/repeat";
import type { RegionFields } from "./readRegion";

/** What the pointer holds of a region. */
export type Grip =
  | { kind: "corner"; index: number }
  /** The edge from this corner to the next. */
  | { kind: "edge"; index: number }
  | { kind: "whole" }
  | { kind: "straight"; index: number; end: number }
  | { kind: "control"; index: number };

const distance = (a: Point, b: Point) => Math.hypot(a.x - b.x, a.y - b.y);

/** What lies under a point: points before edges, edges before the whole; undefined outside. */
export function gripAt(fields: RegionFields, at: Point, reach: number): Grip | undefined {
  const points: [Grip, Point][] = [
    ...fields.corners.map((corner, index): [Grip, Point] => [{ kind: "corner", index }, corner]),
    ...fields.control.map((one, index): [Grip, Point] => [{ kind: "control", index }, one.at]),
    ...fields.straight.flatMap((line, index) =>
      line.map((point, end): [Grip, Point] => [{ kind: "straight", index, end }, point]),
    ),
  ];
  const [near] = points
    .map(([grip, point]) => ({ grip, far: distance(point, at) }))
    .filter(({ far }) => far <= reach)
    .sort((a, b) => a.far - b.far);
  if (near) return near.grip;
  const edge = fields.corners.findIndex((a, i) => fromLine(at, a, fields.corners[(i + 1) % 4]) <= reach / 2);
  if (edge >= 0) return { kind: "edge", index: edge };
  return inside(at, fields.corners) ? { kind: "whole" } : undefined;
}

/** The region after its grip was moved by so many pixels. */
export function moved(fields: RegionFields, grip: Grip, dx: number, dy: number): RegionFields {
  const by = ({ x, y }: Point): Point => ({ x: x + dx, y: y + dy });
  switch (grip.kind) {
    case "corner":
    case "edge":
    case "whole": {
      const held = (i: number) =>
        grip.kind === "whole" || i === grip.index || (grip.kind === "edge" && i === (grip.index + 1) % 4);
      const corners = fields.corners.map((corner, i) => (held(i) ? by(corner) : corner));
      return { ...fields, corners: corners as RegionFields["corners"] };
    }
    case "straight": {
      const straight = fields.straight.map((line, i) =>
        i === grip.index
          ? (line.map((point, end) => (end === grip.end ? by(point) : point)) as typeof line)
          : line,
      );
      return { ...fields, straight };
    }
    case "control":
      return {
        ...fields,
        control: fields.control.map((one, i) => (i === grip.index ? { ...one, at: by(one.at) } : one)),
      };
  }
}

/** Where a grip is, for the loupe: its point, or the first corner of what it holds. */
export function placeOf(fields: RegionFields, grip: Grip): Point | undefined {
  if (grip.kind === "straight") return fields.straight[grip.index]?.[grip.end];
  if (grip.kind === "control") return fields.control[grip.index]?.at;
  return fields.corners[grip.kind === "whole" ? 0 : grip.index];
}

function fromLine(p: Point, a: Point, b: Point): number {
  const length = distance(a, b) || 1;
  const along = ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / length ** 2;
  if (along < 0 || along > 1) return Infinity;
  return Math.abs((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)) / length;
}

/** By how often a ray to the right crosses the outline. */
function inside(p: Point, corners: Point[]): boolean {
  return (
    corners.filter((a, i) => {
      const b = corners[(i + 1) % corners.length];
      return a.y > p.y !== b.y > p.y && p.x < a.x + ((p.y - a.y) / (b.y - a.y)) * (b.x - a.x);
    }).length %
      2 ===
    1
  );
}
