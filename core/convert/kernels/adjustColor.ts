import { adjusterOf, isByChannel, type ColorAdjustment } from "#core/finish/colorAdjustment";
import { maxValue, type Raster } from "#core/raster/raster";
import { linearTable, srgbEncoder } from "#core/raster/srgb";

/**
 * Adjusts sRGB-encoded colours in linear light, in the image itself; a fourth channel is left alone.
 * @throws {RangeError} for an image without colours
 */
export function adjustColor(raster: Raster, adjustment: ColorAdjustment): Raster {
  if (raster.channels < 3) throw new RangeError("Colours are adjusted in three channels.");
  const adjust = adjusterOf(adjustment);
  const toLinear = linearTable(raster.bitDepth);
  const encode = srgbEncoder(raster.bitDepth);
  const [codes, step] = [raster.data, raster.channels];
  if (isByChannel(adjustment)) {
    const most = maxValue(raster);
    for (const channel of [0, 1, 2] as const) {
      const becomes = Uint16Array.from({ length: most + 1 }, (_, code) =>
        encode(adjust([toLinear[code], toLinear[code], toLinear[code]])[channel]),
      );
      for (let i = channel; i < codes.length; i += step) codes[i] = becomes[codes[i]];
    }
    return raster;
  }
  for (let i = 0; i < codes.length; i += step) {
    const [r, g, b] = adjust([toLinear[codes[i]], toLinear[codes[i + 1]], toLinear[codes[i + 2]]]);
    codes[i] = encode(r);
    codes[i + 1] = encode(g);
    codes[i + 2] = encode(b);
  }
  return raster;
}
