import type { Lattice } from "#core/gauge/layLattice";
import type { ToView } from "../components/ImageTable";

interface LatticeLinesProps {
  lattice: Lattice;
  image: { width: number; height: number };
  /** Without it only the beds are drawn. */
  columns: boolean;
  toView: ToView;
}

/** The counted modules drawn over the picture: beds across, and joints course by course. */
export function LatticeLines({ lattice, image, columns, toView }: LatticeLinesProps) {
  const { left, top, width, height, shift } = lattice;
  const parts: string[] = [];
  const line = (x1: number, y1: number, x2: number, y2: number) => {
    const clip = (v: number, most: number) => Math.min(most, Math.max(0, v));
    const [a, b] = [
      toView({ x: clip(x1, image.width), y: clip(y1, image.height) }),
      toView({ x: clip(x2, image.width), y: clip(y2, image.height) }),
    ];
    parts.push(`M${a.x} ${a.y}L${b.x} ${b.y}`);
  };
  for (let course = -1; top + course * height < image.height; course++) {
    const y = top + course * height;
    if (y >= 0) line(0, y, image.width, y);
    if (!columns) continue;
    const first = left + course * shift * width;
    for (let k = Math.ceil(-first / width); first + k * width < image.width; k++) {
      const x = first + k * width;
      if (y + height > 0) line(x, y, x, y + height);
    }
  }
  const path = parts.join("");
  return (
    <g className="lattice">
      <path className="casing" d={path} />
      <path d={path} />
    </g>
  );
}
