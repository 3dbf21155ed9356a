import type { Hit } from "#core/picture/shape";
import type { SurfaceReader } from "#core/picture/surfaceReader";
import { along, type Vector } from "#core/shade/vector";

export const SHADOW_STEPS = 64;

/**
 * How much of a lamp's light gets past the relief of something flat, whose normal is z.
 * @param above the relief at a place, in millimetres
 */
export function reliefShadow(
  { hasRelief, topMm }: Pick<SurfaceReader, "hasRelief" | "topMm">,
  above: (x: number, y: number) => number,
  mmPerPx: number,
): (hit: Hit, toLamp: Vector) => number {
  return ({ place }, toLamp) => {
    if (!hasRelief) return 1;
    const rise = topMm - place[2];
    if (rise <= 0) return 1;
    const length = rise / Math.max(0.02, toLamp[2]);
    const steps = Math.min(SHADOW_STEPS, Math.max(4, Math.ceil(length / mmPerPx)));
    // The edge of a shadow is as soft as a lamp of 1° makes it.
    let open = 1;
    for (let step = 1; step <= steps; step++) {
      const way = (step / steps) * length;
      const [x, y, z] = along(place, toLamp, way);
      open = Math.min(open, 0.5 + (z - above(x, y)) / Math.max(1e-6, 0.0175 * way));
      if (open <= 0) return 0;
    }
    return open;
  };
}
