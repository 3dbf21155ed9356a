import { marksOf, type Laid } from "#core/finish/marks";
import { isRelief, wornHeightMm, wornRoughness } from "#core/finish/wear";
import type { Repeat } from "#core/length/repeat";
import { hexToLinear } from "#core/raster/srgb";
import { mixed, type Rgb } from "#core/shade/rgb";
import { unit, type Vector } from "#core/shade/vector";

/** What wear makes of a surface at a place of it, by the same rules as a delivery. Places are in repeats of the material. */
export interface WornReader {
  color(color: Rgb, u: number, v: number): Rgb;
  roughness(roughness: number, u: number, v: number): number;
  /** What wear adds, in millimetres. */
  heightAt(u: number, v: number): number;
  /** A normal with the slopes of the wear added. */
  tilted(normal: Vector, u: number, v: number): Vector;
  topMm: number;
  hasRelief: boolean;
}

export function wornReader(wear: readonly Laid[], repeat: Repeat): WornReader {
  const read = wear.map((laid) => ({ ...laid.layer, laid, marks: marksOf(laid) }));
  const tints = read
    .filter(({ effect }) => effect === "tint")
    .map(({ tint = "#ffffff", marks }) => ({ marks, tint: hexToLinear(tint) }));
  const sheens = read.flatMap(({ effect, marks }) =>
    effect === "rougher" || effect === "smoother" ? [{ effect, marks }] : [],
  );
  const reliefs = read.filter(({ effect }) => isRelief(effect));
  const mmAt = (xMm: number, yMm: number) => {
    let sum = 0;
    for (const relief of reliefs) sum += wornHeightMm(relief, relief.marks(xMm, yMm));
    return sum;
  };
  /** Slopes are taken over one pixel of the finest layer. */
  const stepMm = Math.min(
    ...reliefs.map(({ laid: { size, texture } }) =>
      Math.min(size.width / texture.width, size.height / texture.height),
    ),
  );
  return {
    color(color, u, v) {
      let worn = color;
      for (const { tint, marks } of tints)
        worn = mixed(worn, tint, marks(u * repeat.width, v * repeat.height));
      return worn;
    },
    roughness(roughness, u, v) {
      let worn = roughness;
      for (const { effect, marks } of sheens)
        worn = wornRoughness(worn, effect, marks(u * repeat.width, v * repeat.height));
      return worn;
    },
    heightAt: (u, v) => mmAt(u * repeat.width, v * repeat.height),
    tilted(normal, u, v) {
      const [x, y] = [u * repeat.width, v * repeat.height];
      const slopeX = (mmAt(x + stepMm, y) - mmAt(x - stepMm, y)) / (2 * stepMm);
      const slopeY = (mmAt(x, y - stepMm) - mmAt(x, y + stepMm)) / (2 * stepMm);
      if (slopeX === 0 && slopeY === 0) return normal;
      const z = Math.max(1e-3, normal[2]);
      const [right, up] = normal;
      return unit([right / z - slopeX, up / z - slopeY, 1]);
    },
    topMm: reliefs.reduce((sum, relief) => sum + Math.max(0, wornHeightMm(relief, relief.strength)), 0),
    hasRelief: reliefs.length > 0,
  };
}
