import { byCode } from "#core/convert/kernels/byCode";
import type { Profile } from "#core/convert/profile";
import { finishSchema, heightAmplitude } from "#core/finish/finish";
import type { Laid } from "#core/finish/marks";
import type { ModelMaterial } from "#core/formats/modelMaterial";
import { roleTexture } from "#core/picture/roleTexture";
import type { DrawnMaterial, Textures } from "#core/picture/surfaceReader";
import { UNKNOWN_SIZE, type Place } from "#core/proof/readPackage";
import type { Raster } from "#core/raster/raster";
import { linearToSrgb, srgbToLinear } from "#core/raster/srgb";
import { isColorRole } from "#core/roles/roles";

/**
 * What a renderer sees that opens the material file of a package: its images as that wires them up, and its values. The file is read by what
 * takes such files in, which shares nothing with what wrote it.
 * @param imageOf the pixels of an image by its name, as colours or as data; undefined where it did not come along
 */
export async function readDocument(
  { normalDirection }: Pick<Profile, "normalDirection">,
  { maps, values, repeat, wear = [] }: ModelMaterial,
  imageOf: (name: string, isColor: boolean) => Promise<Raster | undefined>,
  place: Place,
): Promise<DrawnMaterial> {
  const size = repeat ?? UNKNOWN_SIZE;
  const textures: Textures = {};
  for (const { role, channel, colorSpace, normalDirection: said, image } of maps) {
    const isColor = isColorRole(role);
    const came = await imageOf("path" in image ? image.path : image.name, isColor);
    if (!came) continue;
    // Read another way than its role is meant, its codes stand for other values.
    const raster =
      colorSpace === undefined || isColor === (colorSpace === "srgb")
        ? came
        : byCode({ ...came, data: came.data.slice() }, isColor ? linearToSrgb : srgbToLinear);
    const [as, texture] = roleTexture(
      // What says nothing of green is read as its renderer reads it.
      { role, channel, normalDirection: said ?? normalDirection, raster },
      { reduce: place.reduce(raster, size), wraps: place.wraps },
    );
    textures[as] = texture;
  }
  const finish = finishSchema.parse(values);
  const laid: Laid[] = [];
  for (const { path, lies } of wear) {
    const raster = await imageOf(path, false);
    if (!raster) continue;
    const [, texture] = roleTexture(
      { role: "wear_mask", channel: "color", normalDirection: null, raster },
      { reduce: place.reduce(raster, lies.size), wraps: lies.repeats },
    );
    laid.push({ layer: { ...lies, polarity: "light" }, texture, size: lies.size });
  }
  const heightMm = heightAmplitude(finish, repeat).mm;
  return { textures, finish, repeat: size, heightMm, ...(laid.length > 0 && { wear: laid }) };
}
