import { mkdir, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { renderPattern } from "#core/pattern/patternSet";
import { SAMPLES } from "#core/pattern/samples";
import type { Raster } from "#core/raster/raster";
import { encode } from "#server/pixels/encode";

/** Different sets from a few drawn patterns: tinted and moved, so that no two files are the same. */
export async function makeSets(folder: string, count: number, pixels: number): Promise<string[]> {
  await mkdir(folder, { recursive: true });
  const drawn = Object.entries(SAMPLES).map(([name, { surface, repeat }]) => ({
    name,
    set: renderPattern(surface, { repeat, widthPx: pixels, heightPx: pixels }),
  }));
  const paths: string[] = [];
  for (let i = 0; i < count; i++) {
    const { name, set } = drawn[i % drawn.length];
    const move = Math.floor((i * 37) % pixels);
    const tint = [
      0.7 + 0.3 * fraction(i * 0.618),
      0.7 + 0.3 * fraction(i * 0.414),
      0.7 + 0.3 * fraction(i * 0.732),
    ];
    const maps = {
      basecolor: moved(set.base_color, move, tint),
      normal_gl: moved(set.geometry_normal, move),
      roughness: moved(set.specular_roughness, move),
    };
    const place = join(folder, `${name}_family`);
    await mkdir(place, { recursive: true });
    for (const [role, raster] of Object.entries(maps)) {
      const path = join(place, `${name}_${String(i).padStart(3, "0")}_${role}.png`);
      await writeFile(path, await encode(raster, "png"));
      paths.push(path);
    }
  }
  return paths;
}

const fraction = (v: number) => v - Math.floor(v);

function moved(raster: Raster, by: number, tint?: number[]): Raster {
  const { width, height, channels } = raster;
  const data = raster.data.slice();
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < channels; c++) {
        const v = raster.data[(y * width + ((x + by) % width)) * channels + c];
        data[(y * width + x) * channels + c] = tint ? Math.round(v * tint[c]) : v;
      }
  return { ...raster, data };
}
