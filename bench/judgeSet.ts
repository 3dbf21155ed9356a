import { groupImages } from "#core/candidates/groupImages";
import { planCandidate } from "#core/candidates/planCandidates";
import type { Raster } from "#core/raster/raster";
import { decode, readFacts } from "#server/pixels/decode";
import { judgeImage, readSmall } from "#server/pixels/study";

type Decoded = { path: string; facts: Awaited<ReturnType<typeof readFacts>>; raster: Raster };

export async function decodeSet(files: string[]): Promise<Decoded[]> {
  const decoded: Decoded[] = [];
  for (const path of files) {
    const facts = await readFacts(path);
    decoded.push({ path, facts, raster: await decode(path, facts.format, "data") });
  }
  return decoded;
}

/** The whole judgement of a set, from its pixels. */
export async function judgeSet(decoded: Decoded[]): Promise<void> {
  const smalls = new Map<string, Raster>();
  const images = [];
  for (const { path, facts, raster } of decoded) {
    const { reading, repetition, small, alpha } = await judgeImage(raster);
    smalls.set(path, await readSmall(small));
    const { profile, ...rest } = facts;
    images.push({
      ...rest,
      ...(profile !== null && { profile }),
      file: path.split("/").at(-1)!,
      scope: "",
      sha256: path,
      alpha,
      reading,
      ...(repetition && { repetition }),
    });
  }
  for (const group of groupImages(images)) planCandidate(group, ({ sha256 }) => smalls.get(sha256), "near");
}
