/** L*, a*, b* of CIE 1976. */
export type Lab = readonly [number, number, number];

const DEGREE = Math.PI / 180;
const POWER = 25 ** 7;

/** The difference that a person sees between two colours (CIEDE2000; Sharma, Wu and Dalal 2005), with all weights 1. */
export function ciede2000([l1, a1, b1]: Lab, [l2, a2, b2]: Lab): number {
  const mean7 = ((Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2) ** 7;
  const stretch = 1 + 0.5 * (1 - Math.sqrt(mean7 / (mean7 + POWER)));
  const chroma1 = Math.hypot(a1 * stretch, b1);
  const chroma2 = Math.hypot(a2 * stretch, b2);
  const hue1 = hueOf(a1 * stretch, b1);
  const hue2 = hueOf(a2 * stretch, b2);
  const isGrey = chroma1 * chroma2 === 0;

  let turn = isGrey ? 0 : hue2 - hue1;
  if (turn > 180) turn -= 360;
  else if (turn < -180) turn += 360;
  const light = l2 - l1;
  const chroma = chroma2 - chroma1;
  const hue = 2 * Math.sqrt(chroma1 * chroma2) * Math.sin((turn / 2) * DEGREE);

  const meanLight = (l1 + l2) / 2;
  const meanChroma = (chroma1 + chroma2) / 2;
  let meanHue = isGrey ? hue1 + hue2 : (hue1 + hue2) / 2;
  if (!isGrey && Math.abs(hue1 - hue2) > 180) meanHue += hue1 + hue2 < 360 ? 180 : -180;

  const t =
    1 -
    0.17 * Math.cos((meanHue - 30) * DEGREE) +
    0.24 * Math.cos(2 * meanHue * DEGREE) +
    0.32 * Math.cos((3 * meanHue + 6) * DEGREE) -
    0.2 * Math.cos((4 * meanHue - 63) * DEGREE);
  const middle = (meanLight - 50) ** 2;
  const inLight = light / (1 + (0.015 * middle) / Math.sqrt(20 + middle));
  const inChroma = chroma / (1 + 0.045 * meanChroma);
  const inHue = hue / (1 + 0.015 * meanChroma * t);
  const turned = 30 * Math.exp(-(((meanHue - 275) / 25) ** 2));
  const chroma7 = meanChroma ** 7;
  const rotation = -2 * Math.sqrt(chroma7 / (chroma7 + POWER)) * Math.sin(2 * turned * DEGREE);
  return Math.sqrt(inLight ** 2 + inChroma ** 2 + inHue ** 2 + rotation * inChroma * inHue);
}

/** In degrees, 0 for grey. */
function hueOf(a: number, b: number): number {
  if (a === 0 && b === 0) return 0;
  const hue = Math.atan2(b, a) / DEGREE;
  return hue < 0 ? hue + 360 : hue;
}

/** Of any two lights, the weight of their difference is no more than this. */
const MOST_LIGHT_WEIGHT = 1.75;

/**
 * How far from a colour in L*, and in the plane of a* and b*, another one may lie that is as near as `within` by CIEDE2000, at most: from
 * the formula's weights, of which that of chroma grows most, and for blues from its rotation, of which the least eigenvalue is
 * 1 − √3/2. @param within less than 40
 */
export function labReach([, a, b]: Lab, within: number): { light: number; plane: number } {
  const chroma = Math.hypot(a, b);
  const weighted = (within * (1 + 0.045 * chroma)) / (1 - 0.0225 * within);
  const hue = hueOf(a, b);
  const isBlue = b < 0 && hue > 180 && hue < 350;
  return {
    light: MOST_LIGHT_WEIGHT * within,
    plane: weighted * (isBlue ? 1 / Math.sqrt(1 - Math.sqrt(3) / 2) : 1),
  };
}
