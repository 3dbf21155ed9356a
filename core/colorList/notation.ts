import { converter, differenceCiede2000, displayable, formatHex, toGamut, type Color } from "culori";
import type { White } from "#core/colorList/white";
import { ciede2000 } from "#core/raster/ciede2000";

/** A colour as it is listed: as the screen's codes, and as L*a*b* under D65. */
export interface ListedColor {
  /** `#rrggbb`, the nearest that sRGB holds. */
  hex: string;
  lab: [number, number, number];
  /** How far `hex` lies from what is listed, ΔE2000; 0 where sRGB holds it. */
  outsideBy: number;
}

const toLab = converter("lab65");
const toRgb = converter("rgb");
const intoScreen = toGamut("rgb", "oklch");
const differenceOf = differenceCiede2000();
/** Below it nobody sees that a colour was brought inside. */
const SEEN = 0.5;

function listed(color: Color): ListedColor {
  const { l, a, b } = toLab(color);
  const rgb = toRgb(color);
  const inside = displayable(rgb) ? rgb : intoScreen(color);
  const away = differenceOf(color, inside);
  return { hex: formatHex(inside), lab: [l, a, b], outsideBy: away < SEEN ? 0 : away };
}

/** `#rrggbb` with or without the mark; three digits count twice. Undefined where it is none. */
export function fromHex(text: string): ListedColor | undefined {
  const [, digits] = /^(?:#|0x)?([0-9a-f]{6}|[0-9a-f]{3})$/i.exec(text.trim()) ?? [];
  if (digits === undefined) return undefined;
  const six = digits.length === 3 ? digits.replaceAll(/./g, "$&$&") : digits;
  const [r, g, b] = [0, 2, 4].map((at) => Number.parseInt(six.slice(at, at + 2), 16) / 255);
  return listed({ mode: "rgb", r, g, b });
}

/** From sRGB 0..1, encoded. */
export const fromRgb = (r: number, g: number, b: number): ListedColor => listed({ mode: "rgb", r, g, b });

/** From CIE 1976 L*a*b*; from D50 to D65 by Bradford's adaptation. */
export const fromLab = (l: number, a: number, b: number, white: White): ListedColor =>
  listed({ mode: white === "D50" ? "lab" : "lab65", l, a, b });

/** From CIE 1931 chromaticity and Y 0..100; from D50 to D65 by Bradford's adaptation. */
export function fromXyY(x: number, y: number, luminance: number, white: White): ListedColor {
  const Y = luminance / 100;
  const [X, Z] = y === 0 ? [0, 0] : [(x * Y) / y, ((1 - x - y) * Y) / y];
  return listed({ mode: white === "D50" ? "xyz50" : "xyz65", x: X, y: Y, z: Z });
}

/** ΔE2000 between two listed colours. */
export const apart = (one: ListedColor, other: ListedColor): number => ciede2000(one.lab, other.lab);
