interface TiffPage {
  width: number;
  height: number;
  /** Grey, row by row. */
  data: Float32Array | Uint8Array;
}

/** A grey TIFF of uncompressed pages, in floating point or 8 bits (TIFF 6.0, little-endian, one strip a page). */
export function tiffOf(pages: TiffPage[]): Buffer {
  const ENTRIES = 10;
  const parts: Buffer[] = [Buffer.from([0x49, 0x49, 42, 0, 8, 0, 0, 0])];
  let offset = 8;
  for (const [at, { width, height, data }] of pages.entries()) {
    const float = data instanceof Float32Array;
    const pixels = Buffer.from(data.buffer, data.byteOffset, data.byteLength);
    const directory = Buffer.alloc(2 + ENTRIES * 12 + 4);
    const strip = offset + directory.length;
    directory.writeUInt16LE(ENTRIES, 0);
    const LONG = 4;
    const SHORT = 3;
    const tags: [tag: number, type: number, value: number][] = [
      [256, LONG, width],
      [257, LONG, height],
      [258, SHORT, float ? 32 : 8],
      [259, SHORT, 1],
      [262, SHORT, 1],
      [273, LONG, strip],
      [277, SHORT, 1],
      [278, LONG, height],
      [279, LONG, pixels.length],
      [339, SHORT, float ? 3 : 1],
    ];
    for (const [i, [tag, type, value]] of tags.entries()) {
      directory.writeUInt16LE(tag, 2 + i * 12);
      directory.writeUInt16LE(type, 4 + i * 12);
      directory.writeUInt32LE(1, 6 + i * 12);
      directory.writeUInt32LE(value, 10 + i * 12);
    }
    offset = strip + pixels.length;
    directory.writeUInt32LE(at + 1 < pages.length ? offset : 0, 2 + ENTRIES * 12);
    parts.push(directory, pixels);
  }
  return Buffer.concat(parts);
}
