import { judgeImage } from "#server/pixels/study";
import { decode } from "#server/pixels/decode";
import { readSmall } from "#server/pixels/study";
import { encode } from "#server/pixels/encode";
import type { Fingerprint } from "#core/judge/fingerprint";
import { likenessOf, SAME_PICTURE } from "#core/judge/likeness";
import type { PictureFigures } from "#core/judge/pictureFigures";
import { SAME_SURFACE, sharedPart, type Reduced } from "#core/judge/sharedPart";
import { cropped, mirrored } from "#core/judge/testing";
import { mendSeams } from "#core/mend/mendSeams";
import { seededRandom } from "#core/pattern/random";
import type { Raster } from "#core/raster/raster";
import { Refusal } from "#core/text/refusal";
import { fetchTextures } from "./holdouts/fetchTextures";

/**
 * Of real textures in a library of all of them, how many are found again after they were mirrored, cropped (by 7 to 15 % at a place
 * drawn anew), mended, or both, and encoded as JPEG; and how many others are taken for like them. `BENCH_SEED` repeats a run,
 * `BENCH_PICTURES` says how many are changed.
 */
const SEED = Number(process.env.BENCH_SEED ?? Math.floor(Math.random() * 1e6));
const PICTURES = Number(process.env.BENCH_PICTURES ?? 100);
/** As many as the library is asked for, and as far as they may lie. */
const [NEAREST, FAR, MOST_WHOLE] = [24, 26, 12];

interface Known extends Reduced {
  path: string;
  fingerprint: Fingerprint | null;
  figures: PictureFigures | null;
}

console.log(`seed ${SEED}`);
const random = seededRandom(SEED);
const library: Known[] = [];
for (const { path } of await fetchTextures()) library.push(await read(path, await open(path)));

const CHANGES: Record<string, (image: Raster) => Raster> = {
  mirrored,
  cropped: cutOff,
  mended,
  "cropped and mended": (image) => mended(cutOff(image)),
};
const chosen = library.map((known) => ({ known, at: random() })).toSorted((a, b) => a.at - b.at);
console.log("| | pictures | found | others taken for like it |\n| - | - | - | - |");
for (const [name, change] of Object.entries(CHANGES)) {
  let [count, found] = [0, 0];
  const others: string[] = [];
  for (const { known } of chosen.slice(0, PICTURES)) {
    let image: Raster;
    try {
      image = await asJpeg(change(await open(known.path)));
    } catch (error) {
      if (error instanceof Refusal) continue;
      throw error;
    }
    count++;
    const like = alikeTo(await read(known.path, image));
    if (like.includes(known)) found++;
    for (const one of like) if (one !== known) others.push(`${title(known.path)} ~ ${title(one.path)}`);
  }
  console.log(
    `| ${name} | ${count} | ${found} (${Math.round((100 * found) / count)} %) | ${others.length} |`,
  );
  if (name === "cropped") for (const line of [...new Set(others)].slice(0, 40)) console.log(`  ${line}`);
}

/** Those of the library that it is said to be like, as an intake looks for them. */
function alikeTo(own: Known): Known[] {
  const bands = ({ fingerprint }: Known) =>
    fingerprint?.filter((value, band) => value === own.fingerprint?.[band]).length ?? 0;
  const whole = library
    .filter((one) => bands(one) > 0)
    .toSorted((a, b) => bands(b) - bands(a))
    .slice(0, MOST_WHOLE)
    .filter((one) => likenessOf(one.small, own.small).alike >= SAME_PICTURE);
  const far = ({ figures }: Known) =>
    figures && own.figures ? Math.hypot(...figures.map((figure, i) => figure - own.figures![i])) : Infinity;
  const near = library
    .map((one) => ({ one, distance: far(one) }))
    .filter(({ distance }) => distance < FAR)
    .toSorted((a, b) => a.distance - b.distance)
    .slice(0, NEAREST)
    .filter(({ one }) => (sharedPart(one, own)?.alike ?? 0) >= SAME_SURFACE)
    .map(({ one }) => one);
  return [...new Set([...whole, ...near])];
}

function open(path: string): Promise<Raster> {
  return decode(path, /\.png$/i.test(path) ? "png" : "jpeg", "color");
}

async function read(path: string, image: Raster): Promise<Known> {
  const { small, fingerprint, figures } = await judgeImage(image);
  return {
    path,
    small: await readSmall(small),
    width: image.width,
    height: image.height,
    fingerprint,
    figures,
  };
}

function cutOff(image: Raster): Raster {
  const less = (side: number) => Math.round(side * (0.85 + 0.08 * random()));
  const [width, height] = [less(image.width), less(image.height)];
  const [left, top] = [image.width - width, image.height - height].map((rest) => Math.floor(random() * rest));
  return cropped(image, left, top, width, height);
}

function mended(image: Raster): Raster {
  return mendSeams([{ raster: image, values: "srgb" }], { across: true, down: true }).maps[0];
}

async function asJpeg(image: Raster): Promise<Raster> {
  const { default: sharp } = await import("sharp");
  const jpeg = await sharp(await encode(image, "png"))
    .flatten()
    .jpeg({ quality: 85 })
    .toBuffer();
  const { data, info } = await sharp(jpeg).raw().toBuffer({ resolveWithObject: true });
  return {
    width: info.width,
    height: info.height,
    channels: info.channels as Raster["channels"],
    bitDepth: 8,
    data: new Uint8Array(data),
  };
}

function title(path: string): string {
  return path.split("/").slice(-2).join("/");
}
