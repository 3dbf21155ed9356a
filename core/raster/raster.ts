/**
 * An image in memory: rows from the top, channels interleaved, unsigned integers of full range.
 * `data.length` is width × height × channels.
 */
export interface Raster {
  width: number;
  height: number;
  channels: 1 | 2 | 3 | 4;
  bitDepth: 8 | 16;
  data: Uint8Array | Uint16Array;
}

/** The largest value a sample can have: 255 or 65535. */
export function maxValue(raster: Pick<Raster, "bitDepth">): number {
  return raster.bitDepth === 16 ? 65535 : 255;
}

/** An all-zero image. */
export function createRaster(
  width: number,
  height: number,
  channels: Raster["channels"],
  bitDepth: Raster["bitDepth"],
): Raster {
  const length = width * height * channels;
  return {
    width,
    height,
    channels,
    bitDepth,
    data: bitDepth === 16 ? new Uint16Array(length) : new Uint8Array(length),
  };
}

/** An image like another, with room for the same or another number of channels. */
export function rasterLike(raster: Raster, channels: Raster["channels"] = raster.channels): Raster {
  return createRaster(raster.width, raster.height, channels, raster.bitDepth);
}

/** @throws {RangeError} where two images that are combined differ in size. */
export function checkSameSize(a: Raster, b: Raster): void {
  if (a.width !== b.width || a.height !== b.height)
    throw new RangeError(
      `Images of ${a.width} × ${a.height} and ${b.width} × ${b.height} px cannot be combined.`,
    );
}
