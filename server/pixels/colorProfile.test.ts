import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { crc32, deflateSync } from "node:zlib";
import sharp, { type Sharp } from "sharp";
import { decode, readFacts } from "#server/pixels/decode";
import { iccProfile, WIDE_PRIMARIES } from "#server/testing/iccProfile";
import { tiffOf } from "#server/testing/tiffOf";

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), "kalonomy-profiles-"))));
afterAll(() => rm(folder, { recursive: true }));

let written = 0;
async function place(bytes: Uint8Array): Promise<string> {
  const path = join(folder, String(written++));
  await writeFile(path, bytes);
  return path;
}

const COLORS = [
  [192, 64, 32],
  [20, 240, 10],
  [12, 20, 250],
  [128, 128, 128],
  [10, 10, 10],
];
/** What LittleCMS 2.14 makes of them (transicc, relative colorimetric, black point, 8-bit numbers). */
const WIDE = [
  [221.96, 61.77, 23.44],
  [0, 240.46, 0],
  [0.64, 12.11, 254.81],
  [129.03, 129.03, 129.03],
  [2.66, 2.66, 2.66],
];
const P3 = [
  [208.46, 49.48, 7.36],
  [0, 244.36, 0],
  [11.19, 20.19, 255],
  [128, 128, 128],
  [10, 10, 10],
];
const GREYS = [20, 128, 250];
const DIM = [25.81, 146.37, 251.03];
const INKS = [
  [0, 178, 230, 26],
  [255, 0, 0, 0],
  [0, 0, 0, 255],
  [51, 51, 51, 51],
  [153, 128, 102, 230],
];
/** The same for the inks that the image library has a profile of. */
const PRINTED = [
  [214.93, 84.73, 36.59],
  [0, 153.02, 227.51],
  [12.33, 0, 18.54],
  [163.03, 154.35, 153.4],
  [14.26, 13.37, 30.51],
];

const wide = iccProfile("Wide monitor", 2.2, WIDE_PRIMARIES);

/** A PNG, its profile put in untouched: the library would convert the colours with it. */
async function pngWith(icc: Buffer, colors: number[][], bitDepth: 8 | 16): Promise<Buffer> {
  const samples = colors.flat();
  const deep = Uint16Array.from(samples, (v) => v * 257);
  const channels = colors[0].length as 1 | 3;
  const grey = channels === 1;
  const image = sharp(bitDepth === 16 ? deep : Uint8Array.from(samples), {
    raw: { width: colors.length, height: 1, channels },
  });
  const png = await image
    .toColourspace(bitDepth === 16 ? (grey ? "grey16" : "rgb16") : grey ? "b-w" : "srgb")
    .png()
    .toBuffer();
  const body = Buffer.concat([Buffer.from("iCCPany\0\0"), deflateSync(icc)]);
  const chunk = Buffer.alloc(body.length + 8);
  chunk.writeUInt32BE(body.length - 4);
  body.copy(chunk, 4);
  chunk.writeUInt32BE(crc32(body), body.length + 4);
  return Buffer.concat([png.subarray(0, 33), chunk, png.subarray(33)]);
}

async function builtIn(name: "p3" | "srgb" | "cmyk"): Promise<Buffer> {
  const image = sharp({ create: { width: 1, height: 1, channels: 3, background: "#808080" } });
  const bytes = await image
    .toColourspace(name === "cmyk" ? "cmyk" : "srgb")
    .withIccProfile(name)
    .tiff()
    .toBuffer();
  return (await sharp(bytes).metadata()).icc!;
}

/** Largest difference from what is expected, in 8-bit steps. */
function off({ data, bitDepth }: { data: ArrayLike<number>; bitDepth: number }, expected: number[]): number {
  expect(data).toHaveLength(expected.length);
  return Math.max(...expected.map((v, i) => Math.abs(data[i] / (bitDepth === 16 ? 257 : 1) - v)));
}

describe("colours in another space become sRGB as LittleCMS says", () => {
  const again = (image: Sharp) => image.keepIccProfile();
  test.each<[string, 8 | 16, (png: Buffer) => Promise<Buffer> | Buffer, number]>([
    ["png", 8, (png) => png, 1],
    ["png", 16, (png) => png, 0.1],
    ["tiff", 8, () => tiff(Uint8Array.from(COLORS.flat())), 1],
    ["tiff", 16, () => tiff(Uint16Array.from(COLORS.flat(), (v) => v * 257)), 0.1],
    ["webp", 8, (png) => again(sharp(png)).webp({ lossless: true }).toBuffer(), 1],
    // Codecs with loss, and neighbours of other colours: the pixels are made large.
    ["jpeg", 8, (png) => again(large(png)).jpeg({ quality: 100, chromaSubsampling: "4:4:4" }).toBuffer(), 3],
    ["avif", 8, (png) => again(large(png)).avif({ lossless: true }).toBuffer(), 3],
  ])("from %s with %i bits", async (format, bitDepth, encoded, most) => {
    const path = await place(await encoded(await pngWith(wide, COLORS, bitDepth)));
    expect(await readFacts(path)).toMatchObject({ format, bitDepth, profile: "Wide monitor" });
    const color = await decode(path, format, "color");
    expect(color.bitDepth).toBe(bitDepth);
    expect(off(first(color), WIDE.flat())).toBeLessThan(most);
    // Data is no colour.
    expect(off(first(await decode(path, format, "data")), COLORS.flat())).toBeLessThan(most);
  });

  const tiff = (data: Uint8Array | Uint16Array) =>
    tiffOf([{ width: COLORS.length, height: 1, channels: 3, data, icc: wide }]);
  const large = (png: Buffer) =>
    sharp(png).resize({ width: COLORS.length * 16, height: 16, kernel: "nearest", fit: "fill" });
  /** One pixel from the middle of each patch. */
  function first({ width, height, channels, bitDepth, data }: Awaited<ReturnType<typeof decode>>) {
    if (height === 1) return { data, bitDepth };
    const side = width / COLORS.length;
    return {
      bitDepth,
      data: COLORS.flatMap((_, i) => {
        const o = ((height / 2) * width + (i + 0.5) * side) * channels;
        return [...data.slice(o, o + 3)];
      }),
    };
  }

  test("from a profile of the library's own, opacity as it was", async () => {
    const p3 = await builtIn("p3");
    const path = await place(await pngWith(p3, COLORS, 16));
    expect(off(await decode(path, "png", "color"), P3.flat())).toBeLessThan(0.1);
    const clear = sharp(await pngWith(p3, COLORS, 8)).ensureAlpha(0.4);
    const seen = await decode(await place(await clear.keepIccProfile().png().toBuffer()), "png", "color");
    expect(seen.channels).toBe(4);
    expect([...seen.data.filter((_, i) => i % 4 === 3)]).toEqual(Array(5).fill(102));
    expect(off({ ...seen, data: seen.data.filter((_, i) => i % 4 < 3) }, P3.flat())).toBeLessThan(1);
  });

  test.each([8, 16] as const)("from greys with %i bits", async (bitDepth) => {
    const icc = iccProfile("Dim grey", 1.8);
    const path = await place(
      await pngWith(
        icc,
        GREYS.map((v) => [v]),
        bitDepth,
      ),
    );
    expect(await readFacts(path)).toMatchObject({ channels: 1, colorSpace: "grey", profile: "Dim grey" });
    expect(off(await decode(path, "png", "color"), DIM)).toBeLessThan(1);
  });

  test.each([8, 16])("from inks with %i bits", async (bits) => {
    const icc = await builtIn("cmyk");
    const inks = INKS.flat();
    const data = bits === 8 ? Uint8Array.from(inks) : Uint16Array.from(inks, (v) => v * 257);
    const path = await place(tiffOf([{ width: INKS.length, height: 1, channels: 4, data, icc }]));
    expect(await readFacts(path)).toMatchObject({ channels: 3, colorSpace: "cmyk", bitDepth: bits });
    expect((await readFacts(path)).profile).not.toBeNull();
    expect(off(await decode(path, "tiff", "color"), PRINTED.flat())).toBeLessThan(1);
    const unsaid = await place(tiffOf([{ width: INKS.length, height: 1, channels: 4, data }]));
    expect(await readFacts(unsaid)).toMatchObject({ colorSpace: "cmyk", profile: null });
    expect(off(await decode(unsaid, "tiff", "color"), PRINTED.flat())).toBeLessThan(40);
  });
});

describe("a profile is not spoken of", () => {
  test("where it is sRGB under whatever name", async () => {
    const path = await place(await pngWith(await builtIn("srgb"), COLORS, 16));
    expect(await readFacts(path)).toMatchObject({ profile: null, profileUnreadable: false });
    expect(off(await decode(path, "png", "color"), COLORS.flat())).toBe(0);
  });

  test("but said to be unreadable where it is broken, cut short or one of other samples", async () => {
    const nonsense = Buffer.from("no profile at all, but long enough to be one".repeat(9));
    for (const icc of [nonsense, wide.subarray(0, 200), iccProfile("Dim grey", 1.8)]) {
      const data = Uint8Array.from(COLORS.flat());
      const path = await place(tiffOf([{ width: COLORS.length, height: 1, channels: 3, data, icc }]));
      expect(await readFacts(path)).toMatchObject({ profile: null, profileUnreadable: true });
      expect(off(await decode(path, "tiff", "color"), COLORS.flat())).toBe(0);
    }
    // The next one is read all the same.
    const path = await place(await pngWith(wide, COLORS, 8));
    expect((await readFacts(path)).profile).toBe("Wide monitor");
  });

  test("but one that calls itself sRGB and is not is", async () => {
    const path = await place(await pngWith(iccProfile("sRGB monitor", 1, WIDE_PRIMARIES), COLORS, 8));
    expect((await readFacts(path)).profile).toBe("sRGB monitor");
  });
});

test.each([1, 2, 3, 4, 5, 6, 7, 8])(
  "a picture with EXIF orientation %i is read upright",
  async (orientation) => {
    // Three columns, two rows: each pixel another grey.
    const upright = Uint8Array.from([10, 50, 90, 130, 170, 210]);
    // Rows as a camera that was held so would have written them (EXIF 2.3, tag 274).
    const sideways = orientation >= 5;
    const [width, height] = sideways ? [2, 3] : [3, 2];
    const stored = new Uint8Array(6);
    for (let y = 0; y < 2; y++)
      for (let x = 0; x < 3; x++) {
        const right = [2, 3, 6, 7].includes(orientation) ? 2 - x : x;
        const down = [3, 4, 7, 8].includes(orientation) ? 1 - y : y;
        const [row, column] = sideways ? [right, down] : [down, right];
        stored[row * width + column] = upright[y * 3 + x];
      }
    const path = await place(
      await sharp(stored, { raw: { width, height, channels: 1 } })
        .withMetadata({ orientation })
        .png()
        .toBuffer(),
    );
    expect(await readFacts(path)).toMatchObject({ width: 3, height: 2, orientation });
    const { data, channels } = await decode(path, "png", "data");
    expect([...data.filter((_, i) => i % channels === 0)]).toEqual([...upright]);
  },
);
