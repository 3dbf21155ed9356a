import { reliefShadow } from "#core/picture/reliefShadow";
import { chequered, CLEAR_MM, type Hit, type Shape } from "#core/picture/shape";
import type { SurfaceReader } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";
import { unit } from "#core/shade/vector";

/** How far the eye is, against the larger side of what it sees. */
export const EYE = 2.2;

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
    behind(px, py, spread) {
      const [x, y] = onPlane(px, py);
      return chequered(centre.x + x, centre.y - y, spread);
    },
    thickMm: CLEAR_MM,
    reachedBy: reliefShadow(reader, above, mmPerPx),
    fromFront: (direction) => direction,
  };
}
