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

/**
 * Linear light to the nearest code of 8 or 16 bits, as `linearToSrgb` rounds it, without a power for each sample: a table says
 * where to begin, and the values between which codes change say the rest. What lies outside 0..1 becomes the nearest end.
 */
export function srgbEncoder(bitDepth: 8 | 16): (v: number) => number {
  const most = bitDepth === 16 ? 65535 : 255;
  const { limits, begin } = srgbCodes(bitDepth);
  return (v) => {
    if (!(v > 0)) return 0;
    if (v >= 1) return most;
    let code = begin[Math.floor(v * STEPS)];
    while (v >= limits[code]) code++;
    return code;
  };
}

const STEPS = 65536;

/** Where the codes of linear light lie. */
export interface SrgbCodes {
  /** From which linear value on the code after this one is nearer. */
  limits: Float64Array;
  /** The code at the beginning of each step of linear light. */
  begin: Uint16Array;
}

const encoders: { 8?: SrgbCodes; 16?: SrgbCodes } = {};

/** Made once. */
export const srgbCodes = (bitDepth: 8 | 16): SrgbCodes =>
  (encoders[bitDepth] ??= makeCodes(bitDepth === 16 ? 65535 : 255));

function makeCodes(most: number): SrgbCodes {
  const limits = Float64Array.from({ length: most + 1 }, (_, code) =>
    code === most ? Infinity : srgbToLinear((code + 0.5) / most),
  );
  const begin = new Uint16Array(STEPS);
  for (let step = 0, code = 0; step < STEPS; step++) {
    while (step / STEPS >= limits[code]) code++;
    begin[step] = code;
  }
  return { limits, begin };
}

/** `#rrggbb` as three linear values 0..1. */
export function hexToLinear(hex: string): [number, number, number] {
  const channel = (at: number) => srgbToLinear(parseInt(hex.slice(at, at + 2), 16) / 255);
  return [channel(1), channel(3), channel(5)];
}

/** The other way round: `#rrggbb` of linear light; what lies outside 0..1 becomes the nearest end. */
export const linearToHex = (color: readonly number[]): string =>
  `#${color
    .slice(0, 3)
    .map((value) =>
      Math.round(linearToSrgb(Math.min(1, Math.max(0, value))) * 255)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
