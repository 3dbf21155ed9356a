import type { Lattice } from "#core/gauge/layLattice";
import type { Point } from "#core/gauge/repeat";

/** What a point on a picture is pulled to, in each direction by itself. */
export interface Snap {
  point: Point;
  across: boolean;
  down: boolean;
}

/**
 * Pulls a point to the joints of a lattice that lie within reach: to a bed, and to a joint of its course; right on a bed
 * the joints of both courses count.
 * @param reach in pixels of the image
 * @param columns whether the lattice has joints that run down at all
 */
export function snapToJoints(point: Point, lattice: Lattice, reach: number, columns: boolean): Snap {
  const { left, top, width, height, shift, upright } = lattice;
  if (upright) {
    const lying = { left: top, top: left, width: height, height: width, shift };
    const turned = snapToJoints({ x: point.y, y: point.x }, lying, reach, columns);
    return {
      point: { x: turned.point.y, y: turned.point.x },
      across: turned.down,
      down: turned.across,
    };
  }
  const bed = top + Math.round((point.y - top) / height) * height;
  const down = Math.abs(bed - point.y) <= reach;
  const course = Math.floor((point.y - top) / height);
  const near = down ? Math.round((point.y - top) / height) : course;
  const joints = (down ? [near - 1, near] : [course]).map((row) => {
    const first = left + row * shift * width;
    return first + Math.round((point.x - first) / width) * width;
  });
  const joint = joints.toSorted((a, b) => Math.abs(a - point.x) - Math.abs(b - point.x))[0];
  const across = columns && Math.abs(joint - point.x) <= reach;
  return { point: { x: across ? joint : point.x, y: down ? bed : point.y }, across, down };
}
