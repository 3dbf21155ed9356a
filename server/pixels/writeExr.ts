import { open } from "node:fs/promises";
import { promisify } from "node:util";
import { deflate } from "node:zlib";
import { maxValue, type Raster } from "#core/raster/raster";

const packed = promisify(deflate);

export type ExrNumbers = "half" | "float";

/** Lines of a block that is packed by itself (ZIP_COMPRESSION). */
const LINES = 16;
/** Kinds of numbers, as a file names them. */
const KIND = { half: 1, float: 2 } satisfies Record<ExrNumbers, number>;
const ZIP = 3;

/** Channels of a file by their number in memory; a file has them in the order of their names. */
const CHANNELS: Record<number, string[]> = {
  1: ["Y"],
  2: ["Y", "A"],
  3: ["R", "G", "B"],
  4: ["R", "G", "B", "A"],
};

/**
 * Writes an image as an OpenEXR file of floating point, 16 or 32 bits, 0 to 1, block by block: no more than that is in memory. Layout after the
 * OpenEXR file format: magic, version, attributes, the places of the blocks, then each with its line, its size and its bytes.
 */
export async function writeExr(path: string, raster: Raster, numbers: ExrNumbers): Promise<void> {
  const { width, height, channels } = raster;
  const names = CHANNELS[channels];
  const order = names.toSorted().map((name) => names.indexOf(name));
  const header = headerOf(width, height, names.toSorted(), numbers);
  const blocks = Math.ceil(height / LINES);
  const places = Buffer.alloc(blocks * 8);
  const file = await open(path, "wx");
  try {
    await file.write(header);
    await file.write(places);
    let at = header.length + places.length;
    for (let block = 0; block < blocks; block++) {
      const from = block * LINES;
      const bytes = await blockOf(raster, numbers, order, from, Math.min(height, from + LINES));
      const head = Buffer.alloc(8);
      head.writeInt32LE(from, 0);
      head.writeInt32LE(bytes.length, 4);
      places.writeBigUInt64LE(BigInt(at), block * 8);
      await file.write(head);
      await file.write(bytes);
      at += head.length + bytes.length;
    }
    await file.write(places, 0, places.length, header.length);
  } finally {
    await file.close();
  }
}

/** Line by line, and in a line channel by channel; packed where that makes it smaller. */
async function blockOf(
  { width, channels, data, ...depth }: Raster,
  numbers: ExrNumbers,
  order: number[],
  from: number,
  to: number,
): Promise<Buffer> {
  const scale = 1 / maxValue(depth);
  const count = (to - from) * width * channels;
  const values = numbers === "half" ? new Uint16Array(count) : new Float32Array(count);
  const code = numbers === "half" ? halfOf : (value: number) => value;
  let at = 0;
  for (let y = from; y < to; y++)
    for (const channel of order)
      for (let x = 0; x < width; x++) values[at++] = code(data[(y * width + x) * channels + channel] * scale);
  const plain = Buffer.from(values.buffer);
  const bytes = await packed(predicted(plain));
  return bytes.length < plain.length ? bytes : plain;
}

/** The bits of the nearest number of 16 bits (IEEE 754 binary16), of one from 0 to 1. */
function halfOf(value: number): number {
  if (value < 2 ** -14) return Math.round(value * 2 ** 24);
  const exponent = Math.min(0, Math.floor(Math.log2(value)));
  return ((exponent + 15) << 10) + Math.round((value / 2 ** exponent - 1) * 1024);
}

/** Bytes of even places before those of odd ones, and each as what it is more than the one before: so they pack well. */
function predicted(plain: Buffer): Buffer {
  const half = Math.ceil(plain.length / 2);
  const parted = Buffer.alloc(plain.length);
  for (let i = 0; i < plain.length; i++) parted[(i >> 1) + (i % 2) * half] = plain[i];
  for (let i = parted.length - 1; i > 0; i--) parted[i] = (parted[i] - parted[i - 1] + 384) & 255;
  return parted;
}

function headerOf(width: number, height: number, names: string[], numbers: ExrNumbers): Buffer {
  const word = (text: string) => Buffer.from(`${text}\0`, "latin1");
  const int = (...values: number[]) => Buffer.from(new Int32Array(values).buffer);
  const real = (...values: number[]) => Buffer.from(new Float32Array(values).buffer);
  const attribute = (name: string, type: string, value: Buffer) => [
    word(name),
    word(type),
    int(value.length),
    value,
  ];
  const list = names.flatMap((name) => [word(name), int(KIND[numbers]), Buffer.alloc(4), int(1, 1)]);
  const window = int(0, 0, width - 1, height - 1);
  return Buffer.concat([
    int(0x01312f76, 2),
    ...attribute("channels", "chlist", Buffer.concat([...list, Buffer.alloc(1)])),
    ...attribute("compression", "compression", Buffer.from([ZIP])),
    ...attribute("dataWindow", "box2i", window),
    ...attribute("displayWindow", "box2i", window),
    ...attribute("lineOrder", "lineOrder", Buffer.from([0])),
    ...attribute("pixelAspectRatio", "float", real(1)),
    ...attribute("screenWindowCenter", "v2f", real(0, 0)),
    ...attribute("screenWindowWidth", "float", real(1)),
    Buffer.alloc(1),
  ]);
}
