import pMap from "p-map";
import sharp from "sharp";
import { openTestStudio } from "#server/testing/testStudio";
import { ensureBuild } from "../bin/parts/build.mjs";
import { startWeb } from "./studioAtWork";

/**
 * One intake of many small files over HTTP, sent as the browser sends them to the real web processes: what the last thousand take
 * against the first. Wants DATABASE_URL; BENCH_FILES files.
 */
const FILES = Number(process.env.BENCH_FILES ?? 20_000);
const STEP = 1000;
const LANES = 4;

ensureBuild();
const studio = await openTestStudio();
const { address, web } = await startWeb();
try {
  const headers = { Authorization: `Bearer ${studio.token}`, "Tus-Resumable": "1.0.0" };
  const intake = (await studio.api("POST", "/intakes/begin", { files: FILES })).json.id as string;
  const background = "#506070";
  const body = await sharp({ create: { width: 32, height: 32, channels: 3, background } })
    .png()
    .toBuffer();
  const base64 = (text: string) => Buffer.from(text).toString("base64");
  const send = async (position: number) => {
    const fields = { intake, position: String(position), name: `set/${position}.png` };
    const metadata = Object.entries(fields).map(([key, value]) => `${key} ${base64(value)}`);
    const created = await fetch(`${address}/api/v1/uploads`, {
      method: "POST",
      headers: { ...headers, "Upload-Length": String(body.length), "Upload-Metadata": metadata.join(",") },
    });
    await created.arrayBuffer();
    const sent = await fetch(new URL(created.headers.get("Location")!, address), {
      method: "PATCH",
      headers: { ...headers, "Upload-Offset": "0", "Content-Type": "application/offset+octet-stream" },
      body: new Uint8Array(body),
    });
    if (sent.status !== 204) throw new Error(`File ${position}: ${sent.status} ${await sent.text()}`);
  };
  const times: number[] = [];
  for (let from = 0; from < FILES; from += STEP) {
    const start = performance.now();
    await pMap(
      Array.from({ length: STEP }, (_, i) => from + i),
      send,
      { concurrency: LANES },
    );
    times.push((performance.now() - start) / 1000);
    console.log(`${from + STEP} files: ${times.at(-1)!.toFixed(2)} s for the last ${STEP}`);
  }
  const total = times.reduce((sum, one) => sum + one, 0);
  console.log(
    `${FILES} files in ${total.toFixed(0)} s; the last thousand against the first: ${(times.at(-1)! / times[0]).toFixed(2)}`,
  );
} finally {
  web.kill();
  await studio.close();
}
