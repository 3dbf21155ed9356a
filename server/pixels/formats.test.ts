import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { DataTexture, FloatType, RGBAFormat } from "three";
import { EXRExporter } from "three/examples/jsm/exporters/EXRExporter.js";
import { decode, readFacts } from "#server/pixels/decode";
import { rangeOf, toSixteenBits } from "#server/pixels/floatImage";
import { readExr, readExrHeader } from "#server/pixels/exr";
import { study } from "#server/pixels/study";
import { tiffOf } from "#server/testing/tiffOf";

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), "kalonomy-formats-"))));
afterAll(() => rm(folder, { recursive: true }));

const place = async (name: string, data: Uint8Array) => {
  const path = join(folder, name);
  await writeFile(path, data);
  return path;
};
const flat = (width: number, height: number, background: string) =>
  sharp({ create: { width, height, channels: 3, background } });

/** Two by two, 24 bits, rows from the bottom, each padded to four bytes. */
function bmp(): Buffer {
  const file = Buffer.alloc(54 + 16);
  file.write("BM", "latin1");
  file.writeUInt32LE(file.length, 2);
  file.writeUInt32LE(54, 10);
  file.writeUInt32LE(40, 14);
  file.writeInt32LE(2, 18);
  file.writeInt32LE(2, 22);
  file.writeUInt16LE(1, 26);
  file.writeUInt16LE(24, 28);
  file.set([1, 2, 3, 4, 5, 6, 0, 0, 7, 8, 9, 10, 11, 12, 0, 0], 54);
  return file;
}

async function exr(values: number[], width: number, height: number): Promise<Uint8Array> {
  const texture = new DataTexture(new Float32Array(values), width, height, RGBAFormat, FloatType);
  return new EXRExporter().parse(texture, { type: FloatType });
}

describe("more formats", () => {
  test("BMP, from the bottom up and blue first", async () => {
    const path = await place("a.bmp", bmp());
    expect(await readFacts(path)).toMatchObject({
      format: "bmp",
      width: 2,
      height: 2,
      channels: 3,
      bitDepth: 8,
    });
    expect([...(await decode(path, "bmp", "data")).data]).toEqual([9, 8, 7, 12, 11, 10, 3, 2, 1, 6, 5, 4]);
    const short = await place("short.bmp", bmp().subarray(0, 60));
    await expect(decode(short, "bmp", "data")).rejects.toThrow("BMP is damaged");
  });

  test("a TIFF in floating point keeps its range, and what is no number is counted", async () => {
    const data = Float32Array.from({ length: 64 }, (_, i) => i / 16 - 1);
    data[5] = NaN;
    data[6] = Infinity;
    const path = await place("float.tif", tiffOf([{ width: 8, height: 8, data }]));
    expect(await readFacts(path)).toMatchObject({ format: "tiff", bitDepth: 32, width: 8, height: 8 });
    const studied = await study({ path, mebibytes: 512 });
    expect(studied.range).toMatchObject({ min: -1, broken: 2 });
    expect(studied.range!.max).toBeCloseTo(47 / 16, 5);
    const { data: codes } = await decode(path, "tiff", "data");
    expect(codes[63]).toBeGreaterThan(codes[32]);
  });

  test("of a TIFF of a thousand pages the first is read, and their number is told", async () => {
    const pages = Array.from({ length: 1000 }, (_, i) => ({
      width: 4,
      height: 4,
      data: new Uint8Array(16).fill(i % 251),
    }));
    pages[0].data.fill(77);
    const path = await place("pages.tif", tiffOf(pages));
    expect(await readFacts(path)).toMatchObject({ pages: 1000, width: 4, height: 4 });
    expect([...(await decode(path, "tiff", "data")).data]).toEqual(Array(16).fill(77));
  });

  test("AVIF is read as what it is", async () => {
    const path = await place("a.png", await flat(16, 8, "#204060").avif({ quality: 90 }).toBuffer());
    expect(await readFacts(path)).toMatchObject({
      format: "avif",
      mediaType: "image/avif",
      width: 16,
      height: 8,
    });
    const { data } = await decode(path, "avif", "color");
    expect(Math.abs(data[0] - 0x20)).toBeLessThan(6);
  });

  test("a JPEG for printing becomes red, green and blue", async () => {
    const path = await place(
      "print.jpg",
      await flat(8, 8, "#c04020").toColourspace("cmyk").jpeg().toBuffer(),
    );
    expect(await readFacts(path)).toMatchObject({ channels: 3, colorSpace: "cmyk", profile: null });
    expect((await study({ path, mebibytes: 512 })).reading.color).toHaveLength(3);
  });

  test.each([1, 2])("a BMP in run-length code %i is refused and not read as black", async (code) => {
    const bytes = Buffer.alloc(54 + 16 + 6);
    bytes.write("BM");
    bytes.writeUInt32LE(bytes.length, 2);
    bytes.writeUInt32LE(70, 10);
    bytes.writeUInt32LE(40, 14);
    bytes.writeInt32LE(4, 18);
    bytes.writeInt32LE(1, 22);
    bytes.writeUInt16LE(1, 26);
    bytes.writeUInt16LE(8, 28);
    bytes.writeUInt32LE(code, 30);
    const path = await place("runs.bmp", bytes);
    await expect(decode(path, "bmp", "data")).rejects.toThrow(/run-length coded.*Save it without/);
  });

  test("OpenEXR keeps its range, top row first, and counts what is no number", async () => {
    // Row 0 of the texture is the bottom one.
    const bytes = await exr([0, 0, 0, 1, 4, 4, 4, 1, 0.25, 0.5, 1, 1, NaN, Infinity, 0, 1], 2, 2);
    expect(readExrHeader(bytes)).toMatchObject({ width: 2, height: 2 });
    const image = await readExr(bytes);
    expect([...image.data.slice(0, 3)]).toEqual([0.25, 0.5, 1]);
    expect(rangeOf(image)).toMatchObject({ max: 4, broken: 2 });
    const path = await place("sky.exr", bytes);
    expect(await readFacts(path)).toMatchObject({ format: "exr", bitDepth: 32 });
    await expect(
      decode(await place("cut.exr", bytes.subarray(0, bytes.length - 20)), "exr", "data"),
    ).rejects.toThrow(/EXR/);
  });

  test("an EXR without the channels of a picture says which it has", async () => {
    const bytes = Buffer.from(await exr([0, 0, 0, 1], 1, 1));
    const at = bytes.indexOf(Buffer.from("R\0", "latin1"), 8);
    bytes[at] = "Z".charCodeAt(0);
    await expect(readExr(bytes)).rejects.toThrow(/has the channels .*Z.*R, G and B, or Y, are needed/);
    expect(readExrHeader(Buffer.from("not an exr at all"))).toBeUndefined();
  });

  test("floating point becomes 16 bits: heights spread over their range, vectors halved, colours encoded", () => {
    const image = (channels: 1 | 3, values: number[]) => ({
      width: values.length / channels,
      height: 1,
      channels,
      data: new Float32Array(values),
    });
    expect([...toSixteenBits(image(1, [-2, 0, 2]), "data").data]).toEqual([0, 32768, 65535]);
    expect([...toSixteenBits(image(1, [0, 0.5, 1]), "data").data]).toEqual([0, 32768, 65535]);
    // A height that was saved as a picture: three times the same number.
    const range = [-3, -3, -3, 0, 0, 0, 3, 3, 3];
    expect([...toSixteenBits(image(3, range), "data").data].filter((_, i) => i % 3 === 0)).toEqual([
      0, 32768, 65535,
    ]);
    expect(rangeOf(image(3, range))).toMatchObject({ min: -3, max: 3, grey: true });
    expect([...toSixteenBits(image(3, [-1, 0, 1]), "data").data]).toEqual([0, 32768, 65535]);
    expect(toSixteenBits(image(3, [0.5, 2, 0]), "color").data[0]).toBeCloseTo(65535 * 0.7354, -2);
    expect(toSixteenBits(image(3, [0.5, 2, 0]), "color").data[1]).toBe(65535);
  });

  test.each([
    [1, 1],
    [2000, 4],
    [3, 700],
  ])("an image of %i × %i px is studied like any other", async (width, height) => {
    const path = await place(`odd-${width}.png`, await flat(width, height, "#707070").png().toBuffer());
    const studied = await study({ path, mebibytes: 512 });
    expect(studied).toMatchObject({ width, height });
    expect(Object.values(studied.reading.seams!).every(({ broken }) => Number.isFinite(broken))).toBe(true);
  });

  test("a file that would need more memory than it may is refused before it is decoded", async () => {
    const path = await place("wide.png", await flat(3000, 3000, "#111111").png().toBuffer());
    await expect(study({ path, mebibytes: 16 })).rejects.toThrow("the limit for one file is 16 MiB");
  });
});
