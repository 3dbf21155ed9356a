import { ROWS_MODULE } from "#core/raster/simd/rowsModule";

/** The kernels of `rows.as.ts`; pointers are byte offsets of arrays that `Rows` gave. */
interface RowKernels {
  look8(codes: number, table: number, into: number, count: number): void;
  look16(codes: number, table: number, into: number, count: number): void;
  lookMixed(
    codes: number,
    wide: boolean,
    table: number,
    other: number,
    colors: number,
    channels: number,
    into: number,
    pixels: number,
  ): void;
  weigh(row: number, weight: number, into: number, count: number, add: boolean): void;
  product(one: number, other: number, count: number): number;
  narrow1(row: number, first: number, weights: number, taps: number, into: number, count: number): void;
  narrow4(
    row: number,
    first: number,
    weights: number,
    taps: number,
    into: number,
    count: number,
    channels: number,
  ): void;
  nearest(values: number, scale: number, shift: number, most: number, into: number, count: number): void;
  vectors(values: number, channels: number, most: number, into: number, pixels: number): void;
  encoded(
    values: number,
    colors: number,
    channels: number,
    begin: number,
    limits: number,
    steps: number,
    most: number,
    into: number,
    pixels: number,
  ): void;
  slopes(codes: number, wide: boolean, channels: number, least: number, into: number, pixels: number): void;
  variance(means: number, rounding: number, into: number, pixels: number): void;
  widen(
    codes: number,
    wide: boolean,
    channels: number,
    gloss: boolean,
    variances: number,
    weight: number,
    pixels: number,
  ): void;
}

/** Memory for rows of one image, and kernels that run along them four values at a time. */
export interface Rows {
  kernels: RowKernels;
  /** Zeros, with room behind them that vectors may read and write. @throws {RangeError} where no more fits */
  floats(length: number): Float32Array;
  integers(length: number): Int32Array;
  doubles(length: number): Float64Array;
  codes(bitDepth: 8 | 16, length: number): Uint8Array | Uint16Array;
}

/** Bytes: several rows of 32,768 px in four channels, their taps and the tables. */
const ROOM = 12 * 2 ** 20;
const PAGE = 65_536;
export const VECTOR = 16;

let compiled: WebAssembly.Module | undefined;

/** @param room bytes that all of its rows take together, with `VECTOR` bytes beside each of them */
export function openRows(room = ROOM): Rows {
  compiled ??= new WebAssembly.Module(Uint8Array.from(atob(ROWS_MODULE), (char) => char.charCodeAt(0)));
  const memory = new WebAssembly.Memory({ initial: Math.ceil(room / PAGE) });
  const { exports } = new WebAssembly.Instance(compiled, { env: { memory } });
  const { buffer } = memory;
  // The first bytes stay free: what is empty may point there.
  let next = VECTOR;
  const take = (bytes: number): number => {
    const at = next;
    next += Math.ceil(bytes / VECTOR) * VECTOR + VECTOR;
    if (next > buffer.byteLength)
      throw new RangeError(`Rows of ${bytes} bytes do not fit beside the others.`);
    return at;
  };
  return {
    kernels: exports as unknown as RowKernels,
    floats: (length) => new Float32Array(buffer, take(length * 4), length),
    integers: (length) => new Int32Array(buffer, take(length * 4), length),
    doubles: (length) => new Float64Array(buffer, take(length * 8), length),
    codes: (bitDepth, length) =>
      bitDepth === 16
        ? new Uint16Array(buffer, take(length * 2), length)
        : new Uint8Array(buffer, take(length), length),
  };
}
