import type { Point } from "#core/gauge/repeat";
import type { Flattening } from "#core/photo/region";
import type { ToView } from "../components/ImageTable";
import type { RegionFields } from "./readRegion";

interface RegionOverlayProps {
  fields: RegionFields;
  /** Where it can be flattened. */
  flat: { toPhoto: Flattening["toPhoto"]; width: number; height: number } | undefined;
  /** Rectangles that are painted out, mm on the region. */
  patches: { x: number; y: number; width: number; height: number }[];
  active: Point | undefined;
  toView: ToView;
}

const LINES = 6;
const STEPS = 24;

/** The region on its photograph: its edges, a net of its levels and uprights, and all points that were set. */
export function RegionOverlay({ fields, flat, patches, active, toView }: RegionOverlayProps) {
  const path = (points: Point[], closed = false) =>
    points
      .map(toView)
      .map(({ x, y }, i) => `${i ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`)
      .join("") + (closed ? "Z" : "");
  /** A real line as it shows in the photograph, with the bow of the lens. */
  const real = (from: Point, to: Point) =>
    Array.from({ length: STEPS + 1 }, (_, k) =>
      flat!.toPhoto({ x: from.x + ((to.x - from.x) * k) / STEPS, y: from.y + ((to.y - from.y) * k) / STEPS }),
    );
  const net = flat
    ? Array.from({ length: LINES - 1 }, (_, k) => (k + 1) / LINES).flatMap((part) => [
        path(real({ x: part * flat.width, y: 0 }, { x: part * flat.width, y: flat.height })),
        path(real({ x: 0, y: part * flat.height }, { x: flat.width, y: part * flat.height })),
      ])
    : [];
  const rim = ({ x, y, width, height }: RegionOverlayProps["patches"][number]) => {
    const [a, b, c, d] = [
      { x, y },
      { x: x + width, y },
      { x: x + width, y: y + height },
      { x, y: y + height },
    ];
    return path([...real(a, b), ...real(b, c), ...real(c, d), ...real(d, a)], true);
  };
  const cross = (point: Point) => {
    const { x, y } = toView(point);
    return `M${x - 6} ${y}h12M${x} ${y - 6}v12`;
  };
  const outline = flat
    ? rim({ x: 0, y: 0, width: flat.width, height: flat.height })
    : path(fields.corners, true);
  const chosen = active && toView(active);
  return (
    <g className="region">
      <path className="casing" d={outline} />
      <path className="net" d={net.join("")} />
      <path className="edge" d={outline} />
      {flat && patches.map((patch, i) => <path key={i} className="patch-rim" d={rim(patch)} />)}
      {fields.straight.map((line, i) => (
        <path key={i} className="straight" d={path([...line]) + line.map(cross).join("")} />
      ))}
      {fields.control.map(({ at }, i) => (
        <path key={i} className="control" d={cross(at)} />
      ))}
      {fields.corners.map((corner, i) => {
        const { x, y } = toView(corner);
        return (
          <g key={i}>
            <circle cx={x} cy={y} r={6} />
            <text x={x + 10} y={y - 8}>
              {i + 1}
            </text>
          </g>
        );
      })}
      {chosen && <rect className="chosen" x={chosen.x - 9} y={chosen.y - 9} width={18} height={18} />}
    </g>
  );
}
