import { formatLength } from "#core/length/formatLength";
import type { LengthUnit } from "#core/length/parseLength";
import { realLength, type PixelSize, type Point } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";
import type { ToView } from "../components/ImageTable";

export interface Ends {
  from: Point;
  to: Point;
}

interface MarkProps extends Ends {
  shape: "line" | "rectangle";
  /** The end that the keys move. */
  active?: "from" | "to";
  label?: string;
  toView: ToView;
}

/** A line or a rectangle with a light casing, so that it shows on dark and light textures, and a cross at each end. */
export function Mark({ shape, from, to, active, label, toView }: MarkProps) {
  const [a, b] = [toView(from), toView(to)];
  const crosses = [a, b].map((end) => `M${end.x - 7} ${end.y}h14M${end.x} ${end.y - 7}v14`).join("");
  const outline = shape === "line" ? `M${a.x} ${a.y}L${b.x} ${b.y}` : `M${a.x} ${a.y}H${b.x}V${b.y}H${a.x}Z`;
  const chosen = active && (active === "from" ? a : b);
  return (
    <g className="gauge-mark">
      <path className="casing" d={outline + crosses} />
      <path d={outline + crosses} />
      {chosen && <rect className="chosen" x={chosen.x - 9} y={chosen.y - 9} width={18} height={18} />}
      {label && (
        <text x={(a.x + b.x) / 2 + 8} y={(a.y + b.y) / 2 - 8}>
          {label}
        </text>
      )}
    </g>
  );
}

/** A rod with a division at each tenth, and its reading beside it. */
export function Rod({ from, to, label, toView }: Ends & { label: string; toView: ToView }) {
  const [a, b] = [toView(from), toView(to)];
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length = Math.hypot(dx, dy) || 1;
  const [nx, ny] = [(-dy / length) * 5, (dx / length) * 5];
  return (
    <g className="rod">
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} className="rod-body" />
      {Array.from({ length: 11 }, (_, k) => {
        const [x, y] = [a.x + (dx * k) / 10, a.y + (dy * k) / 10];
        return <line key={k} x1={x - nx} y1={y - ny} x2={x + nx} y2={y + ny} />;
      })}
      <text x={b.x + 10} y={b.y - 10}>
        {label}
      </text>
    </g>
  );
}

/** What a rod reads: a real length, or pixels while the size is unknown. */
export function rodLabel(rod: Ends, repeat: Repeat | null, image: PixelSize, unit: LengthUnit): string {
  if (!repeat) return `${Math.hypot(rod.to.x - rod.from.x, rod.to.y - rod.from.y).toFixed(1)} px`;
  return formatLength(realLength(rod, image, repeat), unit);
}
