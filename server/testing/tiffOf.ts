interface TiffPage {
  width: number;
  height: number;
  /** Grey, three colours or four inks of each pixel, row by row. */
  data: Float32Array | Uint8Array | Uint16Array;
  channels?: 1 | 3 | 4;
  icc?: Buffer;
}

/** A TIFF of uncompressed pages, in floating point, 8 or 16 bits (TIFF 6.0, little-endian, one strip a page). */
export function tiffOf(pages: TiffPage[]): Buffer {
  const parts: Buffer[] = [Buffer.from([0x49, 0x49, 42, 0, 8, 0, 0, 0])];
  let offset = 8;
  for (const [at, { width, height, data, channels = 1, icc }] of pages.entries()) {
    const float = data instanceof Float32Array;
    const pixels = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
    const entries = icc ? 11 : 10;
    const directory = Buffer.alloc(2 + entries * 12 + 4);
    const strip = offset + directory.length;
    directory.writeUInt16LE(entries, 0);
    const LONG = 4;
    const SHORT = 3;
    const BYTES = 7;
    const tags: [tag: number, type: number, value: number, count?: number][] = [
      [256, LONG, width],
      [257, LONG, height],
      [258, SHORT, 8 * data.BYTES_PER_ELEMENT],
      [259, SHORT, 1],
      [262, SHORT, { 1: 1, 3: 2, 4: 5 }[channels]],
      [273, LONG, strip],
      [277, SHORT, channels],
      [278, LONG, height],
      [279, LONG, pixels.length],
      [339, SHORT, float ? 3 : 1],
      ...(icc
        ? ([[34675, BYTES, strip + pixels.length, icc.length]] as [number, number, number, number][])
        : []),
    ];
    for (const [i, [tag, type, value, count = 1]] of tags.entries()) {
      directory.writeUInt16LE(tag, 2 + i * 12);
      directory.writeUInt16LE(type, 4 + i * 12);
      directory.writeUInt32LE(count, 6 + i * 12);
      directory.writeUInt32LE(value, 10 + i * 12);
    }
    offset = strip + pixels.length + (icc?.length ?? 0);
    directory.writeUInt32LE(at + 1 < pages.length ? offset : 0, 2 + entries * 12);
    parts.push(directory, pixels, icc ?? Buffer.alloc(0));
  }
  return Buffer.concat(parts);
}
