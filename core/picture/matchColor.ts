import type { Condition } from "#core/picture/condition";
import type { Panorama } from "#core/picture/environment";
import { meanOf } from "#core/picture/measure";
import { makePicture } from "#core/picture/picture";
import type { DrawnMaterial } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";
import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { hexToLinear, linearToHex } from "#core/raster/srgb";
import type { Rgb } from "#core/shade/rgb";

/** What makes a material look like something else on the mean. */
export interface ColorMatch {
  tint: string;
  brightnessStops: number;
  /** ΔE2000 of the mean colours, without it and with it. */
  before: number;
  after: number;
}

/** Of so many pixels the mean is taken. */
const PIXELS = 3000;
const ROUNDS = 8;
/** A gain is kept between these. */
const LEAST = 1 / 16;
const MOST = 16;
/** Nobody sees the rest. */
const NEAR = 0.2;

/**
 * Finds the tint and the brightness with which the mean of a material's picture comes to a colour, under the same light and with the
 * rest of its finish: by secants, one for each channel, since what a surface mirrors is not tinted.
 * @param view the part that is matched
 * @param target linear light
 * @param panorama of the condition's environment, where that does not ship
 */
export function matchColor(
  material: DrawnMaterial,
  view: View,
  condition: Condition,
  target: Rgb,
  panorama?: Panorama,
): ColorMatch {
  const factor = Math.max(1, Math.sqrt((view.width * view.height) / PIXELS));
  const coarse: View = {
    ...view,
    width: Math.max(1, Math.round(view.width / factor)),
    height: Math.max(1, Math.round(view.height / factor)),
    mmPerPx: view.mmPerPx * factor,
    cards: false,
  };
  const wanted = labOf(target);
  const shown = (gains: Rgb) => {
    const finish = { ...material.finish, ...asTint(gains) };
    return meanOf(makePicture({ ...material, finish }, coarse, condition, undefined, panorama));
  };
  const { tint = "#ffffff", brightnessStops = 0 } = material.finish;
  const light = 2 ** brightnessStops;
  let gains = hexToLinear(tint).map((value) => bounded(value * light)) as [number, number, number];
  let mean = shown(gains);
  const before = ciede2000(labOf(mean), wanted);
  let best = { gains, off: before };
  const slopes = gains.map((gain, c) => mean[c] / gain);
  for (let round = 0; round < ROUNDS && best.off > NEAR; round++) {
    const next = gains.map((gain, c) =>
      bounded(gain + (target[c] - mean[c]) / Math.max(1e-4, slopes[c])),
    ) as [number, number, number];
    const seen = shown(next);
    for (const c of [0, 1, 2] as const) {
      const step = next[c] - gains[c];
      // Where nothing moves any more, white is reached: a steeper slope takes smaller steps.
      if (Math.abs(step) > 1e-5) slopes[c] = Math.max(slopes[c] / 8, (seen[c] - mean[c]) / step);
    }
    [gains, mean] = [next, seen];
    const off = ciede2000(labOf(mean), wanted);
    if (off < best.off) best = { gains, off };
  }
  return { ...asTint(best.gains), before, after: best.off };
}

const bounded = (gain: number) => Math.min(MOST, Math.max(LEAST, gain));

/** A gain as a colour that is no lighter than white, and the stops that are left. */
function asTint(gains: Rgb): Pick<ColorMatch, "tint" | "brightnessStops"> {
  const brightnessStops = Math.ceil(100 * Math.log2(Math.max(...gains))) / 100;
  return { tint: linearToHex(gains.map((gain) => gain / 2 ** brightnessStops)), brightnessStops };
}

const labOf = ([r, g, b]: Rgb): Lab => linearToLab(r, g, b);
