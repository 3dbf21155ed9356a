import sharp from "sharp";
import { readCard } from "#core/card/readCard";
import { drawnPicture, type Renderer } from "#core/card/testing/drawnPicture";
import type { Readers } from "#core/card/testing/hidden";

/**
 * How test cards are read: renderers of conventions drawn at random, by the application's shading model and by another one, each picture
 * compressed as JPEG 85. A share of all answers is right, another "not sure"; the seeds are none that a threshold was set by.
 */
const RUNS: readonly { renderer: Renderer; readers: Readers; count: number }[] = [
  { renderer: "other", readers: "all", count: Number(process.env.BENCH_OTHER ?? 200) },
  { renderer: "other", readers: "any", count: Number(process.env.BENCH_ANY ?? 90) },
  { renderer: "model", readers: "all", count: Number(process.env.BENCH_MODEL ?? 40) },
];
const FIRST_SEED = Number(process.env.BENCH_SEED ?? 50_000);
const SIDE = 600;

for (const { renderer, readers, count } of RUNS) {
  const tally = new Map<string, [right: number, unsure: number, wrong: number]>();
  const told = { usual: [0, 0, 0], other: [0, 0, 0] };
  let [unread, slowestMs] = [0, 0];
  for (let n = 0; n < count; n++) {
    const { picture, hidden, truth } = drawnPicture(renderer, FIRST_SEED + n, { side: SIDE, readers });
    const { data, info } = await sharp(picture.data, {
      raw: { width: picture.width, height: picture.height, channels: 3 },
    })
      .jpeg({ quality: 85 })
      .toBuffer()
      .then((file) => sharp(file).raw().toBuffer({ resolveWithObject: true }));
    const began = performance.now();
    try {
      const { answers } = readCard({
        ...{ width: info.width, height: info.height, channels: 3, bitDepth: 8 },
        data: new Uint8Array(data),
      });
      slowestMs = Math.max(slowestMs, performance.now() - began);
      for (const [question, { value, isSure }] of Object.entries(answers)) {
        const row = tally.get(question) ?? [0, 0, 0];
        const at = !isSure ? 1 : value === truth[question] ? 0 : 2;
        row[at]++;
        told[hidden.times === 10 || hidden.times === 0.2 ? "other" : "usual"][at]++;
        tally.set(question, row);
        if (at === 2)
          console.log(`  wrong: seed ${FIRST_SEED + n}, ${question} ${value}, is ${truth[question]}`);
      }
    } catch (error) {
      unread++;
      console.log(`  not read: seed ${FIRST_SEED + n}: ${(error as Error).message}`);
    }
  }
  console.log(
    `${renderer}, of renderers that read ${readers === "all" ? "every kind of map" : "any"}: right, not sure, wrong`,
  );
  for (const [question, row] of tally) console.log(`  ${question.padEnd(10)} ${row.join("  ")}`);
  for (const [heights, counts] of Object.entries(told)) {
    const answers = counts.reduce((sum, one) => sum + one, 0);
    const share = ((100 * counts[0]) / Math.max(1, answers)).toFixed(1);
    console.log(
      `  ${heights === "usual" ? "heights about as entered" : "a fifth or ten times as high"}: ${counts.join("  ")}, ${share} % right`,
    );
  }
  console.log(`  ${unread} pictures not read; the slowest took ${(slowestMs / 1000).toFixed(1)} s`);
}
