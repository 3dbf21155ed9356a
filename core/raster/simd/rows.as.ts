// Kernels over rows of samples, in AssemblyScript: pointers are byte offsets into the module's memory. `npm run kernels` compiles
// them into rowsModule.ts. Rows of floats have room for four more values behind their end, since vectors read and write past it.

/** Codes of 8 bits to values, by a table. */
export function look8(codes: usize, table: usize, into: usize, count: i32): void {
  for (let i: usize = 0; i < <usize>count; i++)
    store<f32>(into + (i << 2), load<f32>(table + ((<usize>load<u8>(codes + i)) << 2)));
}

/** Codes of 16 bits to values, by a table. */
export function look16(codes: usize, table: usize, into: usize, count: i32): void {
  for (let i: usize = 0; i < <usize>count; i++)
    store<f32>(into + (i << 2), load<f32>(table + ((<usize>load<u16>(codes + (i << 1))) << 2)));
}

/** into = weight × row, or is added to. */
export function weigh(row: usize, weight: f32, into: usize, count: i32, add: bool): void {
  const by = f32x4.splat(weight);
  const end = (<usize>count) << 2;
  if (add)
    for (let i: usize = 0; i < end; i += 16)
      v128.store(into + i, f32x4.add(v128.load(into + i), f32x4.mul(by, v128.load(row + i))));
  else for (let i: usize = 0; i < end; i += 16) v128.store(into + i, f32x4.mul(by, v128.load(row + i)));
}

/** The sum of the products of two rows, whose values behind their ends are zeros. */
export function product(one: usize, other: usize, count: i32): f32 {
  const end = (<usize>count) << 2;
  let sum = f32x4.splat(0);
  for (let i: usize = 0; i < end; i += 16)
    sum = f32x4.add(sum, f32x4.mul(v128.load(one + i), v128.load(other + i)));
  sum = f32x4.add(sum, v128.shuffle<f32>(sum, sum, 2, 3, 0, 1));
  return f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1);
}

/** Narrows a row of one channel: `first` are positions in it, `taps` weights each, padded with zeros to a multiple of four. */
export function narrow1(row: usize, first: usize, weights: usize, taps: i32, into: usize, count: i32): void {
  const bytes = (<usize>taps) << 2;
  for (let x: usize = 0; x < <usize>count; x++, weights += bytes) {
    const from = row + ((<usize>load<i32>(first + (x << 2))) << 2);
    let sum = f32x4.mul(v128.load(weights), v128.load(from));
    for (let k: usize = 16; k < bytes; k += 16)
      sum = f32x4.add(sum, f32x4.mul(v128.load(weights + k), v128.load(from + k)));
    sum = f32x4.add(sum, v128.shuffle<f32>(sum, sum, 2, 3, 0, 1));
    store<f32>(into + (x << 2), f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1));
  }
}

/** The same for two, three or four channels, one pixel's in a vector. */
export function narrow4(
  row: usize,
  first: usize,
  weights: usize,
  taps: i32,
  into: usize,
  count: i32,
  channels: i32,
): void {
  const pixel = (<usize>channels) << 2;
  for (let x: usize = 0; x < <usize>count; x++, into += pixel) {
    let from = row + <usize>load<i32>(first + (x << 2)) * pixel;
    let sum = f32x4.splat(0);
    for (let k: i32 = 0; k < taps; k++, from += pixel, weights += 4)
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(weights), v128.load(from)));
    v128.store(into, sum);
  }
}

/** Values to the nearest codes of 8 or 16 bits (`most` is the largest), as v × scale + shift within 0..1. */
export function nearest(values: usize, scale: f32, shift: f32, most: f32, into: usize, count: i32): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const half = f32x4.splat(0.5);
  const steps = f32x4.splat(most);
  const by = f32x4.splat(scale);
  const plus = f32x4.splat(shift);
  const wide = most > 255;
  for (let i: usize = 0; i < <usize>count; i += 4) {
    const v = f32x4.add(f32x4.mul(v128.load(values + (i << 2)), by), plus);
    const held = f32x4.pmin(one, f32x4.pmax(zero, v));
    const codes = i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.mul(held, steps), half));
    const words = v128.narrow<i32>(i32x4.sub(codes, i32x4.splat(wide ? 32768 : 0)), codes);
    if (wide) v128.store64_lane(into + (i << 1), v128.xor(words, i16x8.splat(<i16>-32768)), 0);
    else v128.store32_lane(into + i, i8x16.narrow_i16x8_u(words, words), 0);
  }
}

/** Codes of several channels, the first `colors` of them by one table, the others by a second. */
export function lookMixed(
  codes: usize,
  wide: bool,
  table: usize,
  other: usize,
  colors: i32,
  channels: i32,
  into: usize,
  pixels: i32,
): void {
  for (let x = 0; x < pixels; x++)
    for (let c = 0; c < channels; c++) {
      const code: usize = wide ? <usize>load<u16>(codes) : <usize>load<u8>(codes);
      store<f32>(into, load<f32>((c < colors ? table : other) + (code << 2)));
      codes += wide ? 2 : 1;
      into += 4;
    }
}

/** One value within 0..1 to its nearest code. */
function put(v: f32, most: f32, at: usize): void {
  const code = <u32>(max<f32>(0, min<f32>(1, v)) * most + 0.5);
  if (most > 255) store<u16>(at, code);
  else store<u8>(at, code);
}

/** Vectors −1..1 in the first three channels, made whole, to codes; what else there is stands in the same range. */
export function vectors(values: usize, channels: i32, most: f32, into: usize, pixels: i32): void {
  const size: usize = most > 255 ? 2 : 1;
  for (let x = 0; x < pixels; x++) {
    const p = load<f32>(values);
    const q = load<f32>(values, 4);
    const r = load<f32>(values, 8);
    const length = sqrt<f32>(p * p + q * q + r * r);
    const half: f32 = length > 0 ? 0.5 / length : 0.5;
    put(p * half + 0.5, most, into);
    put(q * half + 0.5, most, into + size);
    put(r * half + 0.5, most, into + 2 * size);
    for (let c = 3; c < channels; c++)
      put(load<f32>(values + ((<usize>c) << 2)) * 0.5 + 0.5, most, into + <usize>c * size);
    values += (<usize>channels) << 2;
    into += <usize>channels * size;
  }
}

/**
 * Linear light to sRGB in the first `colors` channels, what else there is to its nearest code. `begin` has the code at the
 * beginning of each of `steps` equal steps, `limits` from where the next code is nearer.
 */
export function encoded(
  values: usize,
  colors: i32,
  channels: i32,
  begin: usize,
  limits: usize,
  steps: f64,
  most: f32,
  into: usize,
  pixels: i32,
): void {
  const size: usize = most > 255 ? 2 : 1;
  for (let x = 0; x < pixels; x++)
    for (let c = 0; c < channels; c++, values += 4, into += size) {
      const v = load<f32>(values);
      if (c >= colors || !(v > 0) || v >= 1) {
        put(v, most, into);
        continue;
      }
      let code = <u32>load<u16>(begin + ((<usize>(<f64>v * steps)) << 1));
      while (<f64>v >= load<f64>(limits + ((<usize>code) << 3))) code++;
      if (size == 2) store<u16>(into, code);
      else store<u8>(into, code);
    }
}

/** Both slopes of each normal, and the sum of their squares; what points up less than `least` counts as if it did. */
export function slopes(codes: usize, wide: bool, channels: i32, least: f32, into: usize, pixels: i32): void {
  const size: usize = wide ? 2 : 1;
  const by: f32 = wide ? 2.0 / 65535 : 2.0 / 255;
  for (let x = 0; x < pixels; x++, codes += <usize>channels * size, into += 12) {
    const a: f32 = (wide ? <f32>load<u16>(codes) : <f32>load<u8>(codes)) * by - 1;
    const b: f32 = (wide ? <f32>load<u16>(codes, 2) : <f32>load<u8>(codes, 1)) * by - 1;
    const c: f32 = (wide ? <f32>load<u16>(codes, 4) : <f32>load<u8>(codes, 2)) * by - 1;
    const up: f32 = 1 / max<f32>(least, c);
    const p = a * up;
    const q = b * up;
    store<f32>(into, p);
    store<f32>(into, q, 4);
    store<f32>(into, p * p + q * q, 8);
  }
}

/** From the means of `slopes`: their variance, less what rounding makes. */
export function variance(means: usize, rounding: f32, into: usize, pixels: i32): void {
  for (let x = 0; x < pixels; x++, means += 12, into += 4) {
    const p = load<f32>(means);
    const q = load<f32>(means, 4);
    store<f32>(into, max<f32>(0, load<f32>(means, 8) - p * p - q * q - rounding));
  }
}

/** A row of roughness, or of gloss, made as wide as the variance asks for: α'² = α² + weight × variance, with α = r². */
export function widen(
  codes: usize,
  wide: bool,
  channels: i32,
  gloss: bool,
  variances: usize,
  weight: f32,
  pixels: i32,
): void {
  const size: usize = wide ? 2 : 1;
  const most: f32 = wide ? 65535 : 255;
  for (let x = 0; x < pixels; x++, codes += <usize>channels * size, variances += 4) {
    const lost = load<f32>(variances);
    if (!(lost > 0)) continue;
    const value: f32 = (wide ? <f32>load<u16>(codes) : <f32>load<u8>(codes)) / most;
    const roughness: f32 = gloss ? 1 - value : value;
    const squared = roughness * roughness;
    const wider = min<f32>(1, sqrt<f32>(sqrt<f32>(squared * squared + weight * lost)));
    put(gloss ? 1 - wider : wider, most, codes);
  }
}
