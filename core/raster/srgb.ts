/** IEC 61966-2-1: encoded value 0..1 to linear light 0..1. */
export function srgbToLinear(v: number): number {
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
}

/** IEC 61966-2-1: linear light 0..1 to encoded value 0..1. */
export function linearToSrgb(v: number): number {
  return v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055;
}

/** Linear light for every code of an 8- or 16-bit sample; tables are made once. */
export function linearTable(bitDepth: 8 | 16): Float32Array {
  return (tables[bitDepth] ??= Float32Array.from({ length: bitDepth === 16 ? 65536 : 256 }, (_, code) =>
    srgbToLinear(code / (bitDepth === 16 ? 65535 : 255)),
  ));
}

const tables: { 8?: Float32Array; 16?: Float32Array } = {};

/** `#rrggbb` as three linear values 0..1. */
export function hexToLinear(hex: string): [number, number, number] {
  const channel = (at: number) => srgbToLinear(parseInt(hex.slice(at, at + 2), 16) / 255);
  return [channel(1), channel(3), channel(5)];
}
