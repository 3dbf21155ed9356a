import type { Lattice } from "#core/gauge/layLattice";
import type { Point } from "#core/gauge/repeat";
import { formatLength } from "#core/length/formatLength";
import type { Repeat } from "#core/length/repeat";
import { previewUrl } from "../components/previewUrl";
import { LatticeLines } from "../gauge/LatticeLines";
import { useView } from "../view/viewContext";

interface CountedPictureProps {
  image: { sha256: string; width: number; height: number };
  lattice: Lattice | undefined;
  /** Without it only the beds are drawn. */
  columns: boolean;
  /** The size that results; the picture is framed as one without a size where there is none. */
  repeat: Repeat | undefined;
  /** Nobody has to look at it. */
  isSure: boolean;
}

/** Sides of the largest picture. */
const SIDE = 214;

/** A picture with what was counted in it, and the size that results, as dimension lines along its edges. */
export function CountedPicture({ image, lattice, columns, repeat, isSure }: CountedPictureProps) {
  const { unit } = useView();
  const by = SIDE / Math.max(image.width, image.height);
  const [width, height] = [image.width * by, image.height * by];
  const toView = ({ x, y }: Point) => ({ x: x * by, y: y * by });
  return (
    <div className={`counted${repeat ? "" : " unsized"}${isSure ? " sure" : ""}`}>
      <div className="counted-picture" style={{ width, height }}>
        <img src={previewUrl(image.sha256, 512)} alt="" loading="lazy" />
        {lattice && (
          <svg viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
            <LatticeLines lattice={lattice} image={image} columns={columns} toView={toView} />
          </svg>
        )}
      </div>
      {repeat ? (
        <>
          <span className="dimension across" style={{ width }}>
            <span>{formatLength(repeat.width, unit)}</span>
          </span>
          <span className="dimension down" style={{ height }}>
            <span>{formatLength(repeat.height, unit)}</span>
          </span>
        </>
      ) : (
        <span className="dimension across" style={{ width }}>
          <span className="mark look">size unknown</span>
        </span>
      )}
    </div>
  );
}
