import sharp from "sharp";
import { renderPattern } from "#core/pattern/patternSet";
import type { FileType } from "#core/supply/catalogue";
import type { Role } from "#core/roles/roles";
import type { Raster } from "#core/raster/raster";
import { DRAWN_LINES } from "./lines";

export interface DrawTask {
  line: string;
  code: string;
  joint: string | null;
  /** Longer side. */
  pixels: number;
  type: FileType;
}

export interface DrawnFile {
  role: Role;
  bytes: Uint8Array;
}

export interface Drawing {
  files: DrawnFile[];
  heightAmplitudeMm: number;
}

/** Draws the maps of one variant, and its reference picture. */
export default async function draw({ line, code, joint, pixels, type }: DrawTask): Promise<Drawing> {
  const found = DRAWN_LINES.find(({ facts }) => facts.id === line)!;
  const at = found.colours.findIndex((colour) => `${found.codePrefix}-${colour.code}` === code);
  const made = found.draw(
    found.colours[at],
    found.joints.find(({ id }) => id === joint) ?? null,
    // The joint does not change the pieces.
    100 * (DRAWN_LINES.indexOf(found) + 1) + at,
  );
  const { width, height } = made.repeat;
  const scale = pixels / Math.max(width, height);
  const set = renderPattern(made.surface, {
    repeat: made.repeat,
    widthPx: Math.round(width * scale),
    heightPx: Math.round(height * scale),
  });
  const reference = litPicture(set.base_color, set.geometry_normal);
  if (found.normalDirection === "-Y") turnGreen(set.geometry_normal);
  const files = await Promise.all(
    (["base_color", "geometry_normal", "height", "specular_roughness", "ambient_occlusion"] as const).map(
      async (role): Promise<DrawnFile> => ({ role, bytes: await encode(set[role], type) }),
    ),
  );
  files.push({ role: "reference", bytes: await encode(reference, "jpeg") });
  return { files, heightAmplitudeMm: set.heightAmplitudeMm };
}

/** The product as a photographer would show it: lit from the upper left. */
function litPicture(color: Raster, normal: Raster): Raster {
  const data = Uint8Array.from(color.data);
  const light = [-0.45, 0.5, 0.74];
  for (let i = 0; i < color.width * color.height; i++) {
    let lit = 0;
    for (let c = 0; c < 3; c++) lit += (normal.data[i * 3 + c] / 32767.5 - 1) * light[c];
    const factor = (0.45 + 0.75 * Math.max(0, lit)) ** (1 / 2.2);
    for (let c = 0; c < 3; c++) data[i * 3 + c] = Math.min(255, color.data[i * 3 + c] * factor);
  }
  return { ...color, data };
}

function turnGreen({ data, channels }: Raster): void {
  for (let i = 1; i < data.length; i += channels) data[i] = 65535 - data[i];
}

async function encode({ width, height, channels, bitDepth, data }: Raster, type: FileType): Promise<Buffer> {
  const deep = bitDepth === 16 && type !== "jpeg";
  const shift = bitDepth === 16 && !deep;
  const samples = shift ? Uint8Array.from(data, (v) => Math.round(v / 257)) : data;
  const image = sharp(samples, { raw: { width, height, channels } }).toColourspace(
    channels === 1 ? (deep ? "grey16" : "b-w") : deep ? "rgb16" : "srgb",
  );
  if (type === "jpeg") return image.jpeg({ quality: 92 }).toBuffer();
  return type === "tiff" ? image.tiff({ compression: "lzw" }).toBuffer() : image.png().toBuffer();
}
