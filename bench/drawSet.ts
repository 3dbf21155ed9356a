import { readdir, stat } from "node:fs/promises";
import { join } from "node:path";
import { renderPattern } from "#core/pattern/patternSet";
import { SAMPLES } from "#core/pattern/samples";
import type { Raster } from "#core/raster/raster";
import { fromRaster } from "#server/pixels/encode";

/**
 * One set as files: JPEG colour, 8-bit gloss and occlusion, 16-bit normal and height. It is drawn at a quarter and enlarged: what is in
 * it does not matter here.
 */
export async function drawSet(folder: string, pixels: number): Promise<string[]> {
  const { surface, repeat } = SAMPLES.brick;
  const set = renderPattern(surface, { repeat, widthPx: pixels / 4, heightPx: pixels / 4 });
  const large = (raster: Raster) => {
    const deep = raster.bitDepth === 16;
    const image = fromRaster(raster).resize(pixels, pixels, { kernel: "cubic" });
    return image.toColourspace(
      deep ? (raster.channels < 3 ? "grey16" : "rgb16") : raster.channels < 3 ? "b-w" : "srgb",
    );
  };
  await large(set.base_color).jpeg({ quality: 92 }).toFile(join(folder, "wall_basecolor.jpg"));
  await large(set.geometry_normal).png({ compressionLevel: 3 }).toFile(join(folder, "wall_normal_gl.png"));
  await large(set.height).png({ compressionLevel: 3 }).toFile(join(folder, "wall_height.png"));
  await large(set.specular_roughness).png({ compressionLevel: 3 }).toFile(join(folder, "wall_gloss.png"));
  await large(set.ambient_occlusion).png({ compressionLevel: 3 }).toFile(join(folder, "wall_ao.png"));
  const names = (await readdir(folder)).filter((name) => !name.startsWith("."));
  for (const name of names)
    console.log(`  ${name} ${((await stat(join(folder, name))).size / 2 ** 20).toFixed(1)} MiB`);
  return names.map((name) => join(folder, name));
}
