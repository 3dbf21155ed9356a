import Papa from "papaparse";
import { fromHex } from "#core/colorList/notation";
import { openTestStudio } from "#server/testing/testStudio";
import { bundle } from "../bin/parts/bundle.mjs";
import { startWorker } from "./studioAtWork";

/**
 * A list of 500 coded colours from its file to a line of materials, by one worker, and the same list handed in again. Beside it a bare
 * pipeline: the table parsed, the colours converted, and four rows written for each. Wants DATABASE_URL.
 */
const LIMIT_SECONDS = 30;
const ROWS = 500;

const text = ["code;name;hex;sheen"]
  .concat(
    Array.from(
      { length: ROWS },
      (_, i) => `C${i};Colour ${i};#${((i * 33_331) % 0x1000000).toString(16).padStart(6, "0")};matt`,
    ),
  )
  .join("\r\n");

await bundle("build/worker");
const studio = await openTestStudio();
const worker = await startWorker();
try {
  const first = await handedIn();
  const again = await handedIn();
  const bare = await bareSeconds();
  console.log(
    `${ROWS} colours from the file to a line: ${first.seconds.toFixed(1)} s (${LIMIT_SECONDS} at most), ${first.made} made; handed in again ${again.seconds.toFixed(1)} s, ${again.same} as they were`,
  );
  console.log(`a bare pipeline ${bare.toFixed(2)} s, ratio ${(first.seconds / bare).toFixed(1)}`);
  if (first.seconds > LIMIT_SECONDS || first.made !== ROWS || again.same !== ROWS) process.exitCode = 1;
} finally {
  worker.kill();
  await studio.close();
}

async function handedIn(): Promise<{ seconds: number; made: number; same: number }> {
  const begin = performance.now();
  const form = new FormData();
  form.append("supplier", "Bench");
  form.append("line", "Five hundred");
  form.append("file", new Blob([text]), "five-hundred.csv");
  const { id } = await studio.ask("POST", "/lines/import", form);
  for (;;) {
    const list = await studio.ask("GET", `/lines/imports/${id}`);
    if (list.state === "failed") throw new Error(list.failure as string);
    if (list.state === "done")
      return { seconds: (performance.now() - begin) / 1000, made: list.made, same: list.same };
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

async function bareSeconds(): Promise<number> {
  const { inTransaction } = await import("#server/db/database");
  const begin = performance.now();
  const { data } = Papa.parse<Record<string, string>>(text, { header: true });
  await inTransaction(async (db) => {
    await db.query("CREATE TEMPORARY TABLE bare (code text, name text, color text, lab float8[])");
    for (const { code, name, hex } of data) {
      const color = fromHex(hex)!;
      // As a material, its source, its revision and its row in the list.
      for (let row = 0; row < 4; row++)
        await db.query("INSERT INTO bare VALUES ($1, $2, $3, $4)", [code, name, color.hex, color.lab]);
    }
  });
  return (performance.now() - begin) / 1000;
}
