import { chequered, type Hit, type Shape } from "#core/picture/shape";
import type { SurfaceReader } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";
import { unit, type Vector } from "#core/shade/vector";

/** How far the eye is, against the larger side of what it sees. */
const EYE = 2.2;
const MOST_STEPS = 64;
const SQUARE_MM = 50;

/** A flat panel that faces the eye, so that its plane is to scale; relief stands out of it, and throws shadows. */
export function panelShape(
  view: View,
  repeat: { width: number; height: number },
  reader: SurfaceReader,
): Shape {
  const { width, height, mmPerPx, centre } = view;
  const far = EYE * Math.max(width, height) * mmPerPx;
  const frame: Hit["frame"] = { right: [1, 0, 0], up: [0, 1, 0], normal: [0, 0, 1] };
  const onPlane = (x: number, y: number): [number, number] => [
    (x - width / 2) * mmPerPx,
    (height / 2 - y) * mmPerPx,
  ];
  const uv = (x: number, y: number): [number, number] => [
    (centre.x + x) / repeat.width,
    (centre.y - y) / repeat.height,
  ];
  /** Above the surface, where the plane is at a place. */
  const above = (x: number, y: number) => reader.heightAt(...uv(x, y));
  return {
    hit(px, py) {
      let [x, y] = onPlane(px, py);
      const [atX, atY] = [x, y];
      let z = 0;
      if (reader.hasRelief)
        // The line of sight moves over the plane as it rises; a few rounds settle where it meets the relief.
        for (let round = 0; round < 3; round++) {
          z = above(x, y);
          [x, y] = [atX * (1 - z / far), atY * (1 - z / far)];
        }
      const [u, v] = uv(x, y);
      return { u, v, frame, place: [x, y, z], eye: unit([-x, -y, far - z]) };
    },
    behind(px, py) {
      const [x, y] = onPlane(px, py);
      return chequered(centre.x + x, centre.y - y, SQUARE_MM);
    },
    reachedBy({ place }, toLamp) {
      if (!reader.hasRelief) return 1;
      const rise = reader.topMm - place[2];
      if (rise <= 0) return 1;
      const length = rise / Math.max(0.02, toLamp[2]);
      const steps = Math.min(MOST_STEPS, Math.max(4, Math.ceil(length / mmPerPx)));
      // The edge of a shadow is as soft as a lamp of 1° makes it.
      let open = 1;
      for (let step = 1; step <= steps; step++) {
        const way = (step / steps) * length;
        const at: Vector = [
          place[0] + toLamp[0] * way,
          place[1] + toLamp[1] * way,
          place[2] + toLamp[2] * way,
        ];
        const over = at[2] - above(at[0], at[1]);
        open = Math.min(open, 0.5 + over / Math.max(1e-6, 0.0175 * way));
        if (open <= 0) return 0;
      }
      return open;
    },
    fromFront: (direction) => direction,
  };
}
