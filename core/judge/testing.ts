import { renderPattern, type PatternSet } from "#core/pattern/patternSet";
import { seededRandom } from "#core/pattern/random";
import { SAMPLES } from "#core/pattern/samples";
import { planeOf, resample, type Plane } from "#core/raster/plane";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";

const made = new Map<string, PatternSet>();

/** A made-up set of 256 × 256 px; the same name gives the same pixels. */
export function sampleSet(name: string): PatternSet {
  const { surface, repeat } = SAMPLES[name];
  const set = made.get(name) ?? renderPattern(surface, { repeat, widthPx: 256, heightPx: 256 });
  made.set(name, set);
  return set;
}

/** A part of an image; what is outside is cut off. */
export function cropped(raster: Raster, left: number, top: number, width: number, height: number): Raster {
  const out = createRaster(width, height, raster.channels, raster.bitDepth);
  const { channels } = raster;
  for (let y = 0; y < height; y++) {
    const from = ((top + y) * raster.width + left) * channels;
    out.data.set(raster.data.subarray(from, from + width * channels), y * width * channels);
  }
  return out;
}

/** Moved to the right and down, the image continuing at its other side. */
export function rolled(raster: Raster, x: number, y: number): Raster {
  const { width, height, channels } = raster;
  const out = createRaster(width, height, channels, raster.bitDepth);
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++)
      for (let c = 0; c < channels; c++)
        out.data[(((row + y) % height) * width + ((column + x) % width)) * channels + c] =
          raster.data[(row * width + column) * channels + c];
  return out;
}

/** A quarter turn clockwise of a square image. */
export function quarterTurned(raster: Raster): Raster {
  const { width, channels } = raster;
  const out = createRaster(width, width, channels, raster.bitDepth);
  for (let y = 0; y < width; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < channels; c++)
        out.data[(x * width + (width - 1 - y)) * channels + c] = raster.data[(y * width + x) * channels + c];
  return out;
}

/** Left and right exchanged. */
export function mirrored(raster: Raster): Raster {
  const { width, height, channels } = raster;
  const out = createRaster(width, height, channels, raster.bitDepth);
  for (let i = 0; i < out.data.length; i++) {
    const pixel = Math.floor(i / channels);
    const x = pixel % width;
    out.data[i] = raster.data[(pixel - x + (width - 1 - x)) * channels + (i % channels)];
  }
  return out;
}

/** Every sample changed by a function of its value 0..1. */
export function mapped(raster: Raster, change: (v: number, channel: number, i: number) => number): Raster {
  const out = createRaster(raster.width, raster.height, raster.channels, raster.bitDepth);
  const max = maxValue(raster);
  for (let i = 0; i < raster.data.length; i++)
    out.data[i] = Math.round(
      Math.min(1, Math.max(0, change(raster.data[i] / max, i % raster.channels, i))) * max,
    );
  return out;
}

/** Reduced to a square, channel by channel. */
export function reducedTo(raster: Raster, side: number): Raster {
  const out = createRaster(side, side, raster.channels, raster.bitDepth);
  const max = maxValue(raster);
  for (let c = 0; c < raster.channels; c++) {
    const plane: Plane = resample(planeOf(raster, c), side, side);
    for (let i = 0; i < plane.data.length; i++)
      out.data[i * raster.channels + c] = Math.round(plane.data[i] * max);
  }
  return out;
}

/** Even noise, which has no seam and no spot. */
export function noise(side: number, seed: number, channels: 1 | 3 = 3): Raster {
  const random = seededRandom(seed);
  const out = createRaster(side, side, channels, 8);
  for (let i = 0; i < out.data.length; i++) out.data[i] = 100 + Math.floor(random() * 40);
  return out;
}
