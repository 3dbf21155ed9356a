import { mkdtemp, rm, stat, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { invert } from "#core/convert/kernels/invert";
import { seededRandom } from "#core/pattern/random";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { decode } from "#server/pixels/decode";
import { JPEG_QUALITY } from "#core/convert/imageFormats";
import { encode, encodeTo } from "#server/pixels/encode";
import { study } from "#server/pixels/study";
import { makePreviews, previewParts } from "#server/pixels/previews";
import { alphaContent } from "#server/pixels/alphaContent";

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), "kalonomy-images-"))));
afterAll(() => rm(folder, { recursive: true }));

const place = async (name: string, data: Uint8Array | string) => {
  const path = join(folder, name);
  await writeFile(path, data);
  return path;
};

const gradient = (channels: 1 | 3 | 4, bitDepth: 8 | 16): Raster => {
  const raster = createRaster(37, 23, channels, bitDepth);
  for (let i = 0; i < raster.data.length; i++) raster.data[i] = (i * 7919) % (bitDepth === 16 ? 65536 : 256);
  return raster;
};

/** An uncompressed TGA of 32 bits, rows from the top. */
const tga = (width: number, height: number, pixel: (i: number) => number[]) => {
  const header = Buffer.alloc(18);
  header[2] = 2;
  header.writeUInt16LE(width, 12);
  header.writeUInt16LE(height, 14);
  header[16] = 32;
  header[17] = 0x28;
  const body = Array.from({ length: width * height }, (_, i) => pixel(i)).flatMap(([r, g, b, a]) => [
    b,
    g,
    r,
    a,
  ]);
  return Buffer.concat([header, Buffer.from(body)]);
};

describe("decode and encode", () => {
  test.each([
    ["png", 1, 8],
    ["png", 3, 16],
    ["png", 1, 16],
    ["png", 4, 8],
    ["tiff", 3, 16],
    ["tiff", 1, 16],
  ] as const)(
    "%s with %i channels and %i bits comes back bit for bit, also inverted twice",
    async (format, channels, bitDepth) => {
      const raster = gradient(channels, bitDepth);
      const path = await place(`gradient-${channels}-${bitDepth}.${format}`, await encode(raster, format));
      const back = await decode(path, format, "data");
      expect(back).toMatchObject({ width: 37, height: 23, channels, bitDepth });
      expect([...back.data]).toEqual([...raster.data]);
      const twice = await place("twice", await encode(invert(invert(back)), format));
      expect([...(await decode(twice, format, "data")).data]).toEqual([...raster.data]);
      expect(await study({ path, mebibytes: 4096 })).toMatchObject({
        format,
        width: 37,
        height: 23,
        channels,
        bitDepth,
        mediaType: `image/${format}`,
      });
    },
  );

  test.each([
    [1, 16],
    [2, 16],
    [3, 16],
    [4, 16],
    [3, 8],
  ] as const)(
    "writes OpenEXR of %i channels from %i bits, which another reader takes for the same numbers",
    async (channels, bitDepth) => {
      const random = seededRandom(channels);
      const raster = createRaster(37, 35, channels, bitDepth);
      // The upper half packs well, the lower one not at all.
      for (let i = 0; i < raster.data.length; i++)
        raster.data[i] = i < raster.data.length / 2 ? i % 251 : Math.floor(random() * (maxValue(raster) + 1));
      const path = join(folder, `written-${channels}-${bitDepth}.exr`);
      await encodeTo(path, raster, { format: "exr", bitDepth: 32, tag: "none" });
      const found = await study({ path, mebibytes: 4096 });
      expect(found).toMatchObject({ format: "exr", width: 37, height: 35 });
      const back = await decode(path, "exr", "data");
      const scale = 65535 / maxValue(raster);
      // A grey with a fourth channel is read as its grey.
      const kept = channels === 2 ? [...raster.data].filter((_, at) => at % 2 === 0) : [...raster.data];
      expect([...back.data]).toEqual(kept.map((value) => Math.round(value * scale)));
      await expect(encodeTo(path, raster, { format: "exr", bitDepth: 32, tag: "none" })).rejects.toThrow(
        /EEXIST/,
      );
    },
  );

  test("writes OpenEXR of half precision, each number as the nearest that there is", async () => {
    const raster = createRaster(256, 256, 1, 16);
    for (let i = 0; i < raster.data.length; i++) raster.data[i] = i;
    const path = join(folder, "half.exr");
    await encodeTo(path, raster, { format: "exr", bitDepth: 16, tag: "none" });
    const back = await decode(path, "exr", "data");
    // Below 1 there are 2048 numbers to each halving, so that half a step is 16 of 65535.
    const off = raster.data.map((value, i) => Math.abs(value - back.data[i]));
    expect(Math.max(...off)).toBeLessThanOrEqual(16);
    expect([back.data[0], back.data[1], back.data[65535]]).toEqual([0, 1, 65535]);
    expect((await stat(path)).size).toBeLessThan(256 * 256 * 2);
  });

  test("writes a JPEG with the quality that is asked for", async () => {
    const random = seededRandom(5);
    const raster = createRaster(64, 64, 3, 8);
    for (let i = 0; i < raster.data.length; i++) raster.data[i] = Math.floor(random() * 256);
    const size = async (quality?: number) => {
      const path = join(folder, `quality-${quality}.jpg`);
      await encodeTo(path, raster, { format: "jpeg", bitDepth: 8, tag: "none", ...(quality && { quality }) });
      return (await stat(path)).size;
    };
    const [usual, same, less] = [await size(), await size(JPEG_QUALITY), await size(75)];
    expect(same).toBe(usual);
    expect(less).toBeLessThan(usual * 0.7);
  });

  test("reads a TGA with its fourth channel", async () => {
    const path = await place(
      "a.tga",
      tga(5, 3, (i) => [i, 2, 3, i * 9]),
    );
    expect(await study({ path, mebibytes: 4096 })).toMatchObject({
      format: "tga",
      width: 5,
      height: 3,
      channels: 4,
      alpha: "varied",
    });
    expect([...(await decode(path, "tga", "data")).data.slice(4, 8)]).toEqual([1, 2, 3, 9]);
  });

  test("tells what it is by content, and converts colours from another profile but not data", async () => {
    const p3 = await sharp({ create: { width: 4, height: 4, channels: 3, background: "#c04020" } })
      .withIccProfile("p3")
      .png()
      .toBuffer();
    const path = await place("wrong-name.jpg", p3);
    expect(await study({ path, mebibytes: 4096 })).toMatchObject({
      format: "png",
      profile: expect.stringMatching(/./),
    });
    const data = await decode(path, "png", "data");
    const color = await decode(path, "png", "color");
    expect([...color.data.slice(0, 3)]).not.toEqual([...data.data.slice(0, 3)]);
    expect(Math.abs(color.data[0] - 0xc0)).toBeLessThanOrEqual(2);
  });

  test.each([
    [
      "a text file named .jpg",
      "hello.jpg",
      "This is a text file that somebody has named .jpg.",
      "no image of a format",
    ],
    ["an empty file", "empty.png", "", "empty (0 bytes)"],
  ])("says what is wrong with %s", async (_, name, content, message) => {
    await expect(study({ path: await place(name, content), mebibytes: 4096 })).rejects.toThrow(message);
  });

  test("says that a PNG or a TGA is cut short", async () => {
    const whole = await encode(gradient(3, 8), "png");
    await expect(
      study({ path: await place("cut.png", whole.subarray(0, whole.length / 2)), mebibytes: 4096 }),
    ).rejects.toThrow("damaged or cut short");
    const short = tga(50, 50, () => [1, 2, 3, 4]).subarray(0, 300);
    await expect(study({ path: await place("cut.tga", short), mebibytes: 4096 })).rejects.toThrow(
      "pixels end before",
    );
  });
});

describe("alphaContent", () => {
  const withAlpha = (values: number[]): Raster => ({
    width: values.length,
    height: 1,
    channels: 4,
    bitDepth: 8,
    data: Uint8Array.from(values.flatMap((a) => [0, 0, 0, a])),
  });
  test.each([
    ["constant", Array(100).fill(255)],
    ["constant", Array(100).fill(0)],
    ["cut-out", [...Array(50).fill(0), ...Array(49).fill(255), 120]],
    ["varied", Array.from({ length: 100 }, (_, i) => i * 2)],
    ["varied", [...Array(99).fill(255), 100]],
  ])("%s", (content, values) => {
    expect(alphaContent(withAlpha(values))).toBe(content);
  });
});

test("previews average colour in linear light and keep the values of data", async () => {
  const checks = createRaster(512, 512, 3, 8);
  for (let i = 0; i < 512 * 512; i++)
    checks.data.fill((i + Math.floor(i / 512)) % 2 ? 255 : 0, i * 3, i * 3 + 3);
  const middle = async (use: "color" | "data") => {
    const [smallest] = await makePreviews(checks, "color", use);
    const { data, info } = await sharp(smallest.data).raw().toBuffer({ resolveWithObject: true });
    return [info.width, data[(32 * 64 + 32) * 3]];
  };
  const [width, color] = await middle("color");
  expect(width).toBe(64);
  expect(Math.abs(color - 188)).toBeLessThanOrEqual(3);
  expect(Math.abs((await middle("data"))[1] - 128)).toBeLessThanOrEqual(2);
});

test("an image over 4096 px comes as tiles too, each the very pixels of its place", async () => {
  const wide = createRaster(4100, 1030, 1, 16);
  for (let y = 0; y < 1030; y++)
    for (let x = 0; x < 4100; x++) wide.data[y * 4100 + x] = x >= 4096 && y >= 1024 ? 0xffff : 0x4040;
  const previews = await makePreviews(wide, "color", "data");
  expect(previews.map(({ part }) => part).sort()).toEqual([...previewParts(wide)].sort());
  const corner = previews.find(({ part }) => part === "tile-0-4-1")!;
  const { data, info } = await sharp(corner.data).raw().toBuffer({ resolveWithObject: true });
  expect([info.width, info.height]).toEqual([4, 6]);
  expect(data[0]).toBeGreaterThan(250);
  const first = await sharp(previews.find(({ part }) => part === "tile-0-0-0")!.data)
    .raw()
    .toBuffer();
  expect(Math.abs(first[0] - 0x40)).toBeLessThanOrEqual(1);
  const half = await sharp(previews.find(({ part }) => part === "tile-1-2-0")!.data).metadata();
  expect([half.width, half.height]).toEqual([2, 515]);
  expect(previewParts({ width: 4096, height: 4096 })).toEqual(["64", "256", "1024", "4096"]);
  expect(previewParts({ width: 1000, height: 700 })).toEqual(["64", "256", "1024"]);
});

test("the reduction of a normal map does not hang on its fourth channel", async () => {
  const normal = createRaster(600, 600, 4, 8);
  for (let i = 0; i < normal.data.length; i += 4) normal.data.set([90, 160, 230, (i >> 2) % 2 ? 0 : 255], i);
  const path = await place("rgba-normal.png", await encode(normal, "png"));
  const { data } = await sharp(Buffer.from((await study({ path, mebibytes: 4096 })).small))
    .raw()
    .toBuffer({ resolveWithObject: true });
  for (let i = 0; i < data.length; i += 4 * 997) expect([...data.subarray(i, i + 3)]).toEqual([90, 160, 230]);
});
