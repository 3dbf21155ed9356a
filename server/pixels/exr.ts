import { Refusal } from "#core/text/refusal";
import { plainLine } from "#core/text/plainText";
import type { FloatImage } from "#server/pixels/floatImage";

export interface ExrHeader {
  width: number;
  height: number;
  channels: string[];
}

const MAGIC = 0x01312f76;

/**
 * Reads the size and the channels of an OpenEXR file without its pixels; undefined where it is none.
 * Layout after the OpenEXR file format: magic, version, then attributes of name, type, size and value.
 * @throws with a sentence where the header breaks off.
 */
export function readExrHeader(file: Uint8Array): ExrHeader | undefined {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  if (file.length < 16 || view.getUint32(0, true) !== MAGIC) return undefined;
  let at = 8;
  const text = () => {
    const end = file.indexOf(0, at);
    if (end < 0 || end - at > 255) throw new RangeError("unending name");
    const word = Buffer.from(file.subarray(at, end)).toString("latin1");
    at = end + 1;
    return word;
  };
  try {
    const header: Partial<ExrHeader> = {};
    for (let name = text(); name !== ""; name = text()) {
      text();
      const size = view.getInt32(at, true);
      at += 4;
      if (size < 0 || at + size > file.length) throw new RangeError("attribute too long");
      if (name === "dataWindow") {
        header.width = view.getInt32(at + 8, true) - view.getInt32(at, true) + 1;
        header.height = view.getInt32(at + 12, true) - view.getInt32(at + 4, true) + 1;
      }
      if (name === "channels") header.channels = channelNames(file.subarray(at, at + size));
      at += size;
    }
    if (!header.width || !header.height || header.width < 0 || header.height < 0 || !header.channels)
      throw new RangeError("no size");
    return header as ExrHeader;
  } catch {
    throw new Refusal("The EXR is damaged: its header breaks off.");
  }
}

/** A list of name, then 16 bytes on each channel. */
function channelNames(list: Uint8Array): string[] {
  const names: string[] = [];
  for (let at = 0; at < list.length && list[at] !== 0;) {
    const end = list.indexOf(0, at);
    if (end < 0) throw new RangeError("channel list");
    names.push(plainLine(Buffer.from(list.subarray(at, end)).toString("latin1"), 80));
    at = end + 17;
  }
  return names;
}

/** @throws with a sentence where channels are missing or the pixels cannot be read. */
export async function readExr(file: Uint8Array): Promise<FloatImage> {
  const header = readExrHeader(file)!;
  const has = (name: string) => header.channels.includes(name);
  const grey = has("Y") && !has("R");
  if (!grey && !(has("R") && has("G") && has("B")))
    throw new Refusal(
      `The EXR has the channels ${header.channels.slice(0, 8).join(", ") || "(none)"}; R, G and B, or Y, are needed.`,
    );
  // Few files need the library, and every process that reads images would load it.
  const [{ FloatType }, { EXRLoader }] = await Promise.all([
    import("three"),
    import("three/examples/jsm/loaders/EXRLoader.js"),
  ]);
  const loader = new EXRLoader();
  loader.setDataType(FloatType);
  let parsed;
  try {
    const bytes = file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer;
    parsed = loader.parse(bytes) as unknown as { data: Float32Array; width: number; height: number };
  } catch {
    throw new Refusal(
      "The EXR is damaged, or compressed in a way that cannot be read. Save it with ZIP compression.",
    );
  }
  const channels = grey ? 1 : has("A") ? 4 : 3;
  return fromBottomUp(parsed.data, parsed.width, parsed.height, channels);
}

/** Takes the wanted channels of RGBA rows that run from the bottom. */
function fromBottomUp(
  rgba: Float32Array,
  width: number,
  height: number,
  channels: FloatImage["channels"],
): FloatImage {
  const data = new Float32Array(width * height * channels);
  for (let y = 0; y < height; y++) {
    const from = (height - 1 - y) * width * 4;
    for (let x = 0; x < width; x++)
      for (let c = 0; c < channels; c++) data[(y * width + x) * channels + c] = rgba[from + x * 4 + c];
  }
  return { width, height, channels, data };
}
