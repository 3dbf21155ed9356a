import { byCode } from "#core/convert/kernels/byCode";
import { extractChannel } from "#core/convert/kernels/channels";
import { flipGreen } from "#core/convert/kernels/flipGreen";
import { textureOf, type Texture } from "#core/raster/texture";
import type { Raster } from "#core/raster/raster";
import { channelIndex, type MapChannel } from "#core/roles/channel";
import { kindOfRole, type NormalDirection, type Role } from "#core/roles/roles";

/** Roles that a picture shows; the rest is kept beside the material. */
export const DRAWN_ROLES: readonly Role[] = [
  "base_color",
  "specular_roughness",
  "gloss",
  "base_metalness",
  "geometry_normal",
  "height",
  "bump",
  "ambient_occlusion",
  "geometry_opacity",
  "subsurface_color",
  "transmission_weight",
  "emission_color",
  "specular_weight",
  "specular_color",
  "coat_weight",
  "fuzz_weight",
];

/** A map as it came. */
export interface DecodedMap {
  role: Role;
  channel: MapChannel;
  normalDirection: NormalDirection | null;
  raster: Raster;
}

/** A map in the canonical sense: gloss as roughness, green up. @returns the role that it then has */
export function roleTexture(
  { role, channel, normalDirection, raster }: DecodedMap,
  place: { reduce: number; wraps: boolean },
): [Role, Texture] {
  const taken = channel === "color" ? raster : extractChannel(raster, channelIndex(channel, raster.channels));
  const { holds } = kindOfRole(role);
  if (role === "gloss")
    return [
      "specular_roughness",
      textureOf(
        byCode({ ...taken, data: taken.data.slice() }, (value) => 1 - value),
        { ...place, holds: "data" },
      ),
    ];
  if (holds === "vectors")
    return [
      role,
      textureOf(normalDirection === "-Y" ? flipGreen(taken) : taken, { ...place, holds: "vectors" }),
    ];
  return [role, textureOf(taken, { ...place, holds: holds === "color" ? "color" : "data" })];
}
