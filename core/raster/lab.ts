/** CIE 1976 L*a*b* under D65, from linear sRGB 0..1 (IEC 61966-2-1 primaries). */
export function linearToLab(r: number, g: number, b: number): [number, number, number] {
  const x = curve((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047);
  const y = curve(0.2126729 * r + 0.7151522 * g + 0.072175 * b);
  const z = curve((0.0193339 * r + 0.119192 * g + 0.9503041 * b) / 1.08883);
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

const curve = (t: number) => (t > 216 / 24389 ? Math.cbrt(t) : (t * 24389) / 27 / 116 + 16 / 116);
