import type { Finish } from "#core/finish/finish";
import { surfaceReader } from "#core/picture/surfaceReader";
import type { Texture } from "#core/raster/texture";
import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { linearTable } from "#core/raster/srgb";
import type { Role } from "#core/roles/roles";
import type { Surface } from "#core/shade/surface";
import type { SentMap } from "./pictureWorker";

/** The mean colour of a picture, in linear light, as L*a*b*. @param pixels with four channels */
export function meanLab(pixels: Uint8ClampedArray): Lab {
  const toLinear = linearTable(8);
  let [r, g, b] = [0, 0, 0];
  for (let i = 0; i < pixels.length; i += 4) {
    r += toLinear[pixels[i]];
    g += toLinear[pixels[i + 1]];
    b += toLinear[pixels[i + 2]];
  }
  const count = Math.max(1, pixels.length / 4);
  return linearToLab(r / count, g / count, b / count);
}

/** Both means and how far they are from each other, in words. */
export function differenceWords(mine: Lab, other: Lab): string {
  const said = (lab: Lab) => lab.map((value) => value.toFixed(1).replace("-", "−")).join(" ");
  return `mean L*a*b* ${said(other)} against ${said(mine)}: ΔE2000 ${ciede2000(mine, other).toFixed(1)}`;
}

/** What a material is on the whole, for its gloss: its finish with the means of its maps. */
export function meanSurface(finish: Finish, maps: readonly SentMap[]): Surface {
  const mean = (...roles: Role[]) => {
    const map = maps.find(({ role }) => roles.includes(role));
    if (!map) return undefined;
    let sum = 0;
    for (let i = 0; i < map.data.length; i += 4) sum += map.data[i];
    return sum / (map.data.length / 4) / 255;
  };
  const gloss = mean("gloss");
  const roughness = mean("specular_roughness") ?? (gloss === undefined ? undefined : 1 - gloss);
  const flat = (value: number): Texture => ({
    width: 1,
    height: 1,
    channels: 1,
    wraps: true,
    data: Float32Array.of(value),
  });
  const metalness = mean("base_metalness");
  const reader = surfaceReader({
    textures: {
      ...(roughness !== undefined && { specular_roughness: flat(roughness) }),
      ...(metalness !== undefined && { base_metalness: flat(metalness) }),
    },
    finish,
    repeat: { width: 1, height: 1 },
    heightMm: 0,
  });
  return reader.at(0, 0).surface;
}
