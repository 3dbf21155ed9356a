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
  const { shift, upright } = lattice;
  // Columns are drawn as courses are, with x and y exchanged.
  const turn = <T,>(pair: [T, T]): [T, T] => (upright ? [pair[1], pair[0]] : pair);
  const [left, top] = turn([lattice.left, lattice.top]);
  const [width, height] = turn([lattice.width, lattice.height]);
  const [acrossPx, downPx] = turn([image.width, image.height]);
  const parts: string[] = [];
  const line = (x1: number, y1: number, x2: number, y2: number) => {
    const clip = (v: number, most: number) => Math.min(most, Math.max(0, v));
    const at = (x: number, y: number) => {
      const [across, down] = turn([clip(x, acrossPx), clip(y, downPx)]);
      return toView({ x: across, y: down });
    };
    const [a, b] = [at(x1, y1), at(x2, y2)];
    parts.push(`M${a.x} ${a.y}L${b.x} ${b.y}`);
  };
  for (let course = -1; top + course * height < downPx; course++) {
    const y = top + course * height;
    if (y >= 0) line(0, y, acrossPx, y);
    if (!columns) continue;
    const first = left + course * shift * width;
    for (let k = Math.ceil(-first / width); first + k * width < acrossPx; k++) {
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
