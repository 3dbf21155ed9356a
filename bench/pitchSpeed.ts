import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { renderPattern } from "#core/pattern/patternSet";
import { SAMPLES } from "#core/pattern/samples";
import { forward } from "#core/raster/fft";
import { lumaOf, resample } from "#core/raster/plane";
import { countModules } from "#server/pixels/countModules";
import { decode } from "#server/pixels/decode";
import { fromRaster } from "#server/pixels/encode";

/** Counting the modules of a picture against decoding it, reducing it to 1024 px and a bare transform, in one run. */
const PIXELS = Number(process.env.BENCH_PIXELS ?? 4096);
const RUNS = 3;

const folder = await mkdtemp(join(tmpdir(), "kalonomy-bench-"));
try {
  const path = join(folder, "wall.jpg");
  const { surface, repeat } = SAMPLES.brick;
  const set = renderPattern(surface, { repeat, widthPx: 1024, heightPx: 1024 });
  await fromRaster(set.base_color)
    .resize(PIXELS, PIXELS, { kernel: "cubic" })
    .jpeg({ quality: 92 })
    .toFile(path);
  const bare: number[] = [];
  const ours: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    bare.push(
      await timed(async () => forward(resample(lumaOf(await decode(path, "jpeg", "color")), 1024, 1024))),
    );
    ours.push(
      await timed(() => countModules({ files: [{ path, format: "jpeg", use: "color" }], seamless: true })),
    );
  }
  const [a, b] = [Math.min(...bare), Math.min(...ours)];
  console.log(
    `modules of ${PIXELS} px: bare decoding and transform ${a.toFixed(2)} s, counting ${b.toFixed(2)} s, ratio ${(b / a).toFixed(2)} (2 at most)`,
  );
} finally {
  await rm(folder, { recursive: true });
}

async function timed(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now();
  await work();
  return (performance.now() - start) / 1000;
}
