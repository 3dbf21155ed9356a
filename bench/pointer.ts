import { chromium } from "@playwright/test";
import sharp from "sharp";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";

/**
 * The longest task of the page while the pointer works on an image of 8192 × 8192 px in the map view and the gauge.
 * Wants a demo studio: KALONOMY_ADDRESS, KALONOMY_DEMO_PASSWORD and KALONOMY_DEMO_TOKEN as bin/demo prints them.
 */
const address = process.env.KALONOMY_ADDRESS ?? "http://127.0.0.1:4600";
const SIDE = Number(process.env.BENCH_PIXELS ?? 8192);
const MOST_MS = 100;

const material = await takeIn(await drawing());
// The worker goes on counting its modules, on the cores that the page is measured on.
await new Promise((resolve) => setTimeout(resolve, 15_000));
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
  chromiumSandbox: process.getuid?.() !== 0,
});
const page = await browser.newPage({ baseURL: address, viewport: { width: 1280, height: 800 } });
await page.addInitScript(() => {
  const tasks: number[] = [];
  Object.assign(window, { tasks });
  new PerformanceObserver((list) => {
    for (const { duration } of list.getEntries()) tasks.push(duration);
  }).observe({ type: "longtask" });
});
await page.goto("/sign-in");
await page.getByLabel("E-mail").fill("ines@tern-gable.example");
await page.getByLabel("Password").fill(process.env.KALONOMY_DEMO_PASSWORD ?? "");
await page.getByRole("button", { name: "Sign in" }).click();
await page.waitForURL("**/library");
let worst = 0;
for (const view of ["maps", "gauge"] as const) {
  await page.goto(`/materials/${material}${view === "gauge" ? "/gauge" : ""}`);
  await page.waitForLoadState("networkidle");
  if (view === "gauge") await page.getByRole("button", { name: "Measuring rod" }).click();
  await page.waitForTimeout(2000);
  await page.evaluate(() => ((window as unknown as { tasks: number[] }).tasks.length = 0));
  await work();
  const tasks = await page.evaluate(() => (window as unknown as { tasks: number[] }).tasks);
  const tiles = await page.locator(".table-surface > img.tile").count();
  const longest = Math.max(0, ...tasks);
  worst = Math.max(worst, longest);
  console.log(
    `pointer on ${SIDE} × ${SIDE} px, ${view}: ${tasks.length} tasks over 50 ms, the longest ${longest.toFixed(0)} ms (${MOST_MS} at most); ${tiles} tiles in sight at the end`,
  );
}
await browser.close();
if (worst > MOST_MS) process.exitCode = 1;

/** Drags, zooms in to single pixels and out again, drags between. */
async function work(): Promise<void> {
  const box = (await page.getByRole("application").first().boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  for (let round = 0; round < 3; round++) {
    for (const [wheel, times] of [
      [-240, 14],
      [240, 7],
      [-240, 5],
    ] as const) {
      await page.mouse.move(x, y);
      for (let turn = 0; turn < times; turn++) {
        await page.mouse.wheel(0, wheel);
        await page.waitForTimeout(30);
      }
      await page.mouse.down();
      await page.mouse.move(x + 180, y + 90, { steps: 15 });
      await page.mouse.move(x, y, { steps: 15 });
      await page.mouse.up();
      await page.waitForTimeout(500);
    }
    if (round < 2) await page.getByRole("button", { name: "Whole" }).click();
  }
}

/** Brickwork of 8 × 8 repeats; only its pixels count. */
async function drawing(): Promise<Buffer> {
  const color = sampleSet("brick").base_color;
  return sharp({
    create: { width: SIDE, height: SIDE, channels: 3, background: "#000" },
    limitInputPixels: false,
  })
    .composite([{ input: await encode(color, "png"), tile: true }])
    .jpeg({ quality: 90 })
    .toBuffer();
}

async function takeIn(jpeg: Buffer): Promise<string> {
  const form = new FormData();
  const name = `pointer_${Date.now()}_basecolor.jpg`;
  form.append("files", new Blob([new Uint8Array(jpeg)]), name);
  const { id } = await call("POST", "/intakes", form);
  for (;;) {
    const intake = await call("GET", `/intakes/${id}`);
    if (intake.state === "failed") throw new Error(`The intake failed: ${JSON.stringify(intake)}`);
    if (intake.candidates?.length > 0 && intake.state !== "reading") break;
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
  const accepted = await call("POST", `/intakes/${id}/accept`, JSON.stringify({ all: true }));
  const { items } = await call(
    "GET",
    `/materials?q=${name.replace("_basecolor.jpg", "").replaceAll("_", "+")}`,
  );
  if (!items?.[0]) throw new Error(`It is not in the library: ${JSON.stringify(accepted)}`);
  return items[0].id;
}

// eslint-disable-next-line @typescript-eslint/no-explicit-any
async function call(method: string, path: string, body?: string | FormData): Promise<any> {
  const headers = new Headers({ Authorization: `Bearer ${process.env.KALONOMY_DEMO_TOKEN ?? ""}` });
  if (typeof body === "string") headers.set("Content-Type", "application/json");
  const response = await fetch(`${address}/api/v1${path}`, { method, headers, body });
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
  return response.json();
}
