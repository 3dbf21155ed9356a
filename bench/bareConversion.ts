import { createWriteStream } from "node:fs";
import { readFile, writeFile } from "node:fs/promises";
import { availableParallelism } from "node:os";
import { basename, join } from "node:path";
import { pipeline } from "node:stream/promises";
import pMap from "p-map";
import sharp, { type Sharp } from "sharp";
import yazl from "yazl";
import { decodeSet, judgeSet } from "./judgeSet";

/**
 * What `conversion` compares with: the same decodes, operations and encodes by libvips alone, as many images at a time as there are
 * cores. Colour is reduced in linear light by a tent. It renormalises no vectors; what the normal map loses is counted in a plain loop.
 */
const DEEP = { compression: "deflate", predictor: "horizontal" } as const;
const JPEG = { quality: 94, chromaSubsampling: "4:4:4" } as const;

const [mode, ...args] = process.argv.slice(2);
const decoded = mode === "judge" ? await decodeSet(args) : [];
const start = performance.now();
if (mode === "intake") await bareIntake(args);
else if (mode === "judge") await judgeSet(decoded);
else {
  const [profile, size, out, ...files] = args;
  await bareConvert(profile, Number(size), out, files);
}
console.log(`seconds ${(performance.now() - start) / 1000}`);

async function bareConvert(profile: string, size: number, out: string, files: string[]): Promise<void> {
  const named = (word: string) => files.find((path) => basename(path).includes(word))!;
  const full = (await sharp(named("gloss")).metadata()).width === size;
  const reduced = (image: Sharp) =>
    full ? image : image.resize({ width: size, height: size, fit: "inside", kernel: "linear" });
  const color = () => {
    const image = sharp(named("basecolor"));
    return full ? image : reduced(image.pipelineColourspace("scrgb")).toColourspace("srgb");
  };
  const grey = (word: string) => reduced(sharp(named(word))).toColourspace("b-w");

  /** The gloss, or the roughness, with what the normal map loses. */
  async function roughened(isGloss: boolean): Promise<Buffer> {
    const values = await grey("gloss").raw().toBuffer();
    if (!isGloss) for (let i = 0; i < values.length; i++) values[i] = 255 - values[i];
    if (full) return values;
    const lost = await lostVariance(named("normal"), size);
    for (let i = 0; i < values.length; i++) {
      const roughness = isGloss ? 1 - values[i] / 255 : values[i] / 255;
      const wider = Math.min(1, (roughness ** 4 + lost[i]) ** 0.25);
      values[i] = Math.round((isGloss ? 1 - wider : wider) * 255);
    }
    return values;
  }
  async function packed(): Promise<Sharp> {
    const occlusion = await grey("ao").raw().toBuffer();
    const roughness = await roughened(false);
    const pixels = Buffer.alloc(size * size * 3);
    for (let i = 0, o = 0; i < occlusion.length; i++, o += 3) {
      pixels[o] = occlusion[i];
      pixels[o + 1] = roughness[i];
    }
    return sharp(pixels, { raw: { width: size, height: size, channels: 3 } });
  }
  async function darkened(): Promise<Sharp> {
    return color().composite([{ input: await grey("ao").png().toBuffer(), blend: "multiply" }]);
  }
  const packedFiles = {
    "color.jpg": async (path: string) => color().jpeg(JPEG).toFile(path),
    "orm.png": async (path: string) => (await packed()).png({ compressionLevel: 6 }).toFile(path),
    "normal.png": async (path: string) =>
      reduced(sharp(named("normal")))
        .toColourspace("srgb")
        .png({ compressionLevel: 6 })
        .toFile(path),
  };
  const glossFiles = {
    "color.png": async (path: string) => (await darkened()).png({ compressionLevel: 6 }).toFile(path),
    "gloss.png": async (path: string) =>
      sharp(await roughened(true), { raw: { width: size, height: size, channels: 1 } })
        .toColourspace("b-w")
        .png({ compressionLevel: 6 })
        .toFile(path),
    "normal.tif": async (path: string) =>
      reduced(sharp(named("normal")))
        .linear([1, -1, 1], [0, 65_535, 0])
        .toColourspace("rgb16")
        .tiff(DEEP)
        .toFile(path),
    "height.tif": async (path: string) =>
      reduced(sharp(named("height")))
        .toColourspace("grey16")
        .tiff(DEEP)
        .toFile(path),
  };
  const wanted = profile === "gloss-path-tracer-cm" ? glossFiles : packedFiles;
  await pMap(Object.entries(wanted), ([name, make]) => make(join(out, name)), {
    concurrency: availableParallelism(),
  });
  let made = Object.keys(wanted).map((name) => join(out, name));
  if (profile === "gltf-2") {
    await writeFile(
      join(out, "set.glb"),
      Buffer.concat(await Promise.all(made.map((path) => readFile(path)))),
    );
    made = [join(out, "set.glb")];
  }
  const zip = new yazl.ZipFile();
  for (const path of made) zip.addFile(path, basename(path), { compress: false });
  zip.end();
  await pipeline(zip.outputStream, createWriteStream("/dev/null"));
}

/** The variance of the slopes under each texel, each pixel counted to the one that it lies in. */
async function lostVariance(path: string, size: number): Promise<Float32Array> {
  const { data, info } = await sharp(path).raw({ depth: "ushort" }).toBuffer({ resolveWithObject: true });
  const codes = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
  const sums = new Float32Array(size * size * 4);
  const place = Uint16Array.from({ length: info.width }, (_, x) => Math.floor((x * size) / info.width));
  for (let y = 0, s = 0; y < info.height; y++)
    for (let x = 0; x < info.width; x++, s += 3) {
      const up = Math.max(0.05, codes[s + 2] / 32_767.5 - 1);
      const p = (codes[s] / 32_767.5 - 1) / up;
      const q = (codes[s + 1] / 32_767.5 - 1) / up;
      const o = (place[y] * size + place[x]) * 4;
      sums[o] += p;
      sums[o + 1] += q;
      sums[o + 2] += p * p + q * q;
      sums[o + 3]++;
    }
  return Float32Array.from({ length: size * size }, (_, i) => {
    const [p, q, squares, count] = sums.subarray(i * 4, i * 4 + 4);
    return Math.max(0, squares / count - (p / count) ** 2 - (q / count) ** 2);
  });
}

/** Hashes each file, decodes it once and makes previews of the same sizes and kinds. */
async function bareIntake(files: string[]): Promise<void> {
  const { hashOf } = await import("#server/store/hashOf");
  await pMap(
    files,
    async (path) => {
      await hashOf(path);
      await previews(path);
    },
    { concurrency: availableParallelism() },
  );
}

async function previews(path: string): Promise<void> {
  const color = path.endsWith(".jpg");
  const depth = color ? "uchar" : "ushort";
  const { data, info } = await sharp(path).raw({ depth }).toBuffer({ resolveWithObject: true });
  const samples = (buffer: Buffer) =>
    color ? buffer : new Uint16Array(buffer.buffer, buffer.byteOffset, buffer.length / 2);
  let from = samples(data);
  let raw = { width: info.width, height: info.height, channels: info.channels };
  for (const size of [4096, 1024, 256, 64]) {
    let image = sharp(from, { raw, limitInputPixels: false });
    if (!color) image = image.toColourspace(raw.channels < 3 ? "grey16" : "rgb16");
    if (color) image = image.pipelineColourspace("scrgb");
    const next = await image
      .resize({ width: size, height: size, fit: "inside", kernel: "mks2013" })
      .raw({ depth })
      .toBuffer({ resolveWithObject: true });
    from = samples(next.data);
    raw = { width: next.info.width, height: next.info.height, channels: next.info.channels };
    const shown = sharp(from, { raw, limitInputPixels: false });
    await (
      color
        ? shown.jpeg({ quality: size <= 256 ? 84 : 88, chromaSubsampling: "4:4:4" })
        : shown.png({ compressionLevel: 3 })
    ).toBuffer();
  }
}
