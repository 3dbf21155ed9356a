import type { Finish } from "#core/finish/finish";
import { surfaceReader } from "#core/picture/surfaceReader";
import type { Texture } from "#core/raster/texture";
import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import type { Role } from "#core/roles/roles";
import type { Rgb } from "#core/shade/rgb";
import type { Surface } from "#core/shade/surface";
import type { SentMap } from "./pictureWorker";

/** Roughness as it is read in a part: its mean, and how far it spreads. */
export interface Rough {
  mean: number;
  spread: number;
}

/** Both means and how far they are from each other, in words; of a picture no roughness is known. */
export function differenceWords(
  mine: { mean: Rgb; roughness?: Rough },
  other: { mean: Rgb; roughness?: Rough },
): string {
  const lab = ({ mean: [r, g, b] }: { mean: Rgb }): Lab => linearToLab(r, g, b);
  const said = (values: Lab) => values.map((value) => value.toFixed(1).replace("-", "−")).join(" ");
  const rough = ({ mean, spread }: Rough) => `${mean.toFixed(2)} ± ${spread.toFixed(2)}`;
  const roughness =
    mine.roughness && other.roughness
      ? `, roughness ${rough(other.roughness)} / ${rough(mine.roughness)}`
      : "";
  return `ΔE2000 ${ciede2000(lab(mine), lab(other)).toFixed(1)}, mean L*a*b* ${said(lab(other))} / ${said(lab(mine))}${roughness}`;
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
