import { zipSync, type Zippable } from "fflate";
import type { ContainerKind } from "#core/formats/container";
import { identifier } from "#core/formats/valuesBeside";
import { USDA } from "#core/formats/usda";

/** Where the bytes of each file of a package have to begin (OpenUSD, usdz file format specification). */
const ALIGNED = 64;
/** Of a local file header, before its name. */
const HEADER = 30;
/** Of an extra field, before its content; the number is of nobody's. */
const EXTRA_HEADER = 4;
const PADDING = 0x1986;

/** An OpenUSD package: the layer and its images in one archive, stored as they are, so that they can be read where they lie. */
export const USDZ: ContainerKind = {
  ...USDA,
  name: "USDZ package",
  extension: "usdz",
  images: "inside",
  async write(material, images) {
    const [layer] = await USDA.write(material, images);
    const files: [name: string, bytes: Uint8Array][] = [
      // The layer comes first: it is what is opened.
      [`${identifier(material.fileName)}.usda`, layer.bytes],
    ];
    for (const { fileName, read } of images) files.push([fileName, await read()]);
    return [{ extension: "usdz", mediaType: "model/vnd.usdz+zip", bytes: packed(files) }];
  },
};

/** @param files whose names are ASCII */
function packed(files: readonly [name: string, bytes: Uint8Array][]): Uint8Array {
  const zipped: Zippable = {};
  let at = 0;
  for (const [name, bytes] of files) {
    const begins = at + HEADER + name.length + EXTRA_HEADER;
    const padding = (ALIGNED - (begins % ALIGNED)) % ALIGNED;
    zipped[name] = [
      bytes,
      { level: 0, mtime: "1980-01-01T12:00:00", extra: { [PADDING]: new Uint8Array(padding) } },
    ];
    at = begins + padding + bytes.length;
  }
  return zipSync(zipped);
}
