import { chromium, type Page } from "@playwright/test";
import { unzipSync } from "fflate";
import sharp from "sharp";
import { drawnPicture } from "#core/card/testing/drawnPicture";
import { pavingZip, typeValue } from "./studio";
import { TEN_SETS, zipOfSet } from "./tenSets";

// Pictures of the main views, from a freshly loaded demo studio: npm run screenshots, with KALONOMY_ADDRESS and
// KALONOMY_DEMO_PASSWORD as bin/demo prints them.
const address = process.env.KALONOMY_ADDRESS ?? "http://127.0.0.1:4600";
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
  chromiumSandbox: process.getuid?.() !== 0,
  args: ["--use-angle=swiftshader", "--enable-unsafe-swiftshader"],
});
const page = await browser.newPage({ baseURL: address, viewport: { width: 1280, height: 800 } });

await page.goto("/sign-in");
await page.getByLabel("E-mail").fill("ines@tern-gable.example");
await page.getByLabel("Password").fill(process.env.KALONOMY_DEMO_PASSWORD ?? "");
await page.getByRole("button", { name: "Sign in" }).click();
await page.waitForURL("**/library");

await open("/library?sort=color");
await shoot("library");

await open("/intakes");
await page
  .getByLabel("Files to hand in")
  .setInputFiles({ name: "yard-paving.zip", mimeType: "application/zip", buffer: await pavingZip() });
await page.waitForURL("**/intakes/*-*");
await page.getByRole("region", { name: "Yard paving" }).waitFor();
await shoot("intake");
// The same once more, as it came from somewhere else: two materials that are one.
await page.getByRole("button", { name: "Accept", exact: true }).click();
await page.getByRole("alert").waitFor();
await open("/intakes");
const again = await sharp(unzipSync(await pavingZip())["yard_paving.png"])
  .jpeg({ quality: 88 })
  .toBuffer();
await page
  .getByLabel("Files to hand in")
  .setInputFiles({ name: "forecourt-paving.jpg", mimeType: "image/jpeg", buffer: again });
await page.waitForURL("**/intakes/*-*");
await page.getByRole("button", { name: "Accept", exact: true }).click();
await page.getByRole("alert").waitFor();
await open("/alike");
await page.getByRole("button", { name: "The same" }).first().click();
await page.getByRole("heading", { name: "Merge two materials into one" }).waitFor();
await page.waitForTimeout(4000);
await shoot("merge");

await open("/suppliers?use=ground+outside");
// The stand-in draws its pictures when it is asked for the first time.
await page.waitForTimeout(25_000);
await page.getByLabel("compare Quay paver").check();
await page.getByLabel("compare Slipstone").check();
await shoot("suppliers");

await openBench("Quay paver");
await step("Gauge");
await page.getByRole("button", { name: "Take this count" }).waitFor({ timeout: 60_000 });
await page.getByRole("button", { name: "Measuring rod" }).click();
const image = (await page.locator(".table-surface img").boundingBox())!;
await page.mouse.move(image.x + image.width * 0.378, image.y + image.height * 0.44);
await page.mouse.down();
await page.mouse.move(image.x + image.width * 0.622, image.y + image.height * 0.44, { steps: 5 });
await page.mouse.up();
await shoot("gauge");

await page.getByRole("navigation", { name: "Gauge" }).getByRole("link", { name: "Compare" }).click();
await page.getByLabel("Beside it").first().fill("harbour brick");
await page.getByRole("button", { name: /Harbour brick, red/ }).click();
const scene = (await page.locator(".scene svg").boundingBox())!;
await page.mouse.move(scene.x + scene.width * 0.6, scene.y + scene.height * 0.15);
await page.mouse.down();
await page.mouse.move(scene.x + scene.width * 0.8, scene.y + scene.height * 0.15, { steps: 4 });
await page.mouse.up();
await shoot("compare");

await openBench("Customs house gable, photograph");
await step("Gauge");
await page.getByRole("link", { name: "Flatten a photograph" }).click();
await page.getByLabel("Real width").fill("3600");
await page.getByLabel("Real height").fill("2400");
await page.locator(".table-surface > img").waitFor();
const photo = (await page.locator(".table-surface > img").boundingBox())!;
const drag = async (from: [number, number], to: [number, number]) => {
  await page.mouse.move(photo.x + (from[0] / 1800) * photo.width, photo.y + (from[1] / 1300) * photo.height);
  await page.mouse.down();
  await page.mouse.move(photo.x + (to[0] / 1800) * photo.width, photo.y + (to[1] / 1300) * photo.height, {
    steps: 4,
  });
  await page.mouse.up();
};
await page.getByLabel(/Bow of the lens/).fill("-0.07");
await drag([360, 260], [260, 180]);
await drag([1440, 260], [1600, 330]);
await drag([1440, 1040], [1540, 1080]);
await drag([360, 1040], [220, 1190]);
await page.getByRole("button", { name: "Paint out" }).click();
await drag([890, 330], [985, 1280]);
await page.getByLabel("Patch 1, taken so far right").fill("450");
await shoot("flatten");

await openBench("Pebble terrazzo 400");
await step("Judge");
await shoot("judge");

await openBench("Harbour brick, red");
await step("Finish");
await page.locator(".finish-sample[aria-busy=false]").waitFor({ timeout: 60_000 });
await page.getByRole("combobox", { name: "Shape" }).selectOption("wall");
await page.getByRole("combobox", { name: "Condition" }).selectOption("grazing");
await page.getByRole("button", { name: "Light", exact: true }).click();
await page.getByLabel(/^from 150°/).fill("135");
const sample = (await page.locator(".finish-sample").boundingBox())!;
await page.mouse.move(sample.x + 300, sample.y + 200);
await page.mouse.down();
await page.mouse.move(sample.x + 240, sample.y + 206, { steps: 4 });
await page.mouse.up();
await page.waitForTimeout(1500);
await page.locator(".finish-sample[aria-busy=false]").waitFor({ timeout: 60_000 });
await shoot("wall");
await page.getByRole("button", { name: "Back to the front" }).click();
await page.getByRole("button", { name: "Light, changed" }).click();
await page.getByRole("combobox", { name: "Shape" }).selectOption("panel");
await page.getByRole("combobox", { name: "Condition" }).selectOption("studio");
await page.getByRole("combobox", { name: "Condition" }).selectOption("grazing");
await page.getByRole("combobox", { name: "Beside" }).selectOption({ label: "as received" });
await typeValue(page, "tint", "#ffe2c4");
await typeValue(page, "roughness, scaled", "0.7");
await page.locator(".finish-sample[aria-busy=false]").waitFor({ timeout: 60_000 });
await shoot("finish");

await openBench("Smoked ash floor");
await step("Finish");
await page.getByLabel("Scale", { exact: true }).selectOption({ label: "1:20" });
await page.getByRole("combobox", { name: "Condition" }).selectOption("grazing");
await page.locator(".wear-layer summary").first().click();
await page.locator(".specification").evaluate((column) => {
  const wear = column.querySelector(".wear-row")!;
  column.scrollBy(0, wear.getBoundingClientRect().top - 130);
});
await page.locator(".finish-sample[aria-busy=false]").waitFor({ timeout: 60_000 });
await shoot("wear");
await page.getByLabel("Scale", { exact: true }).selectOption({ label: "1:10" });

await open("/projects");
await page.getByRole("link", { name: "Village bathhouse" }).click();
await page.getByRole("list", { name: "Materials of Village bathhouse" }).waitFor();
await shoot("project");
await page.getByRole("link", { name: "Convert and deliver" }).click();
await page.getByLabel("gloss path tracer, centimetres").check();
await page.locator(".plan").first().waitFor();
await page.getByLabel("packed real-time walkthrough, metres").check();
await page.locator(".plan h2", { hasText: "packed real-time" }).first().waitFor();
await page.evaluate(() => window.scrollTo(0, 0));
await shoot("convert");
await page.getByLabel("Where to").selectOption({ index: 1 });
await page.getByRole("button", { name: /^Start/ }).click();
await page.getByRole("link", { name: "Download the zip" }).waitFor({ timeout: 120_000 });
await page.waitForFunction(() => !document.body.innerText.includes("being drawn"), null, {
  timeout: 240_000,
});
await shoot("delivery");
await open("/destinations");
await page.getByRole("rowheader").getByRole("link").first().click();
await page.getByRole("button", { name: /^Check/ }).click();
await page.getByText(/were delivered here/).waitFor();
await page.mouse.move(500, 680);
await shoot("destination");
await page.goto("/profiles/packed-walkthrough-m");
await page.locator('canvas[data-made="true"]').nth(2).waitFor();
await shoot("profile");
await open("/profiles");
await page.getByLabel(/nobody knows for sure/).fill("Viewer in the hall");
await page.getByRole("button", { name: "Make a test card" }).click();
await page.waitForURL("**/cards/*-*");
await page.getByRole("link", { name: "Download the card" }).waitFor({ timeout: 120_000 });
const { picture } = drawnPicture("other", 35, {
  side: 900,
  readers: "all",
  number: Number(/card (\d+)/.exec(await page.title())![1]),
});
const card = sharp(picture.data, { raw: { width: picture.width, height: picture.height, channels: 3 } });
await page.getByLabel("Hand in the picture of it").setInputFiles({
  name: "card.jpg",
  mimeType: "image/jpeg",
  buffer: await card.jpeg({ quality: 90 }).toBuffer(),
});
await page.getByRole("heading", { name: /What it says of/ }).waitFor({ timeout: 120_000 });
await page.getByLabel(/How high do heights come out/).focus();
await shoot("card");
await open("/collections");
await shoot("collections");
await sizesOfMany();
await shoot("sizes");

await browser.close();

/** Downloads with names that say a size, and others that do not, on the sheet of sizes. */
async function sizesOfMany(): Promise<void> {
  const files = await Promise.all(
    Object.keys(TEN_SETS).map(async (name) => ({
      ...{ name: `${name}.zip`, mimeType: "application/zip" },
      buffer: await zipOfSet(name),
    })),
  );
  await open("/intakes");
  await page.getByLabel("Files to hand in").setInputFiles(files);
  await page.waitForURL("**/intakes/*-*", { timeout: 90_000 });
  await page.getByRole("button", { name: /^Accept all/ }).click({ timeout: 120_000 });
  await page.getByRole("link", { name: "Find their sizes" }).click({ timeout: 60_000 });
  await page.getByRole("list", { name: "Materials without a size" }).waitFor();
  await page.getByText("still being counted").waitFor({ state: "detached", timeout: 120_000 });
}

async function open(path: string): Promise<Page> {
  await page.goto(path);
  await page.waitForLoadState("networkidle").catch(() => undefined);
  return page;
}

async function openBench(name: string): Promise<void> {
  await open(`/library?q=${encodeURIComponent(name)}`);
  await page.getByRole("link", { name: `Open ${name}` }).click();
  await page.waitForURL("**/materials/*");
}

async function step(name: string): Promise<void> {
  await page.getByRole("navigation", { name: "Steps" }).getByRole("link", { name }).click();
  await page.waitForTimeout(1200);
}

async function shoot(name: string): Promise<void> {
  await page.waitForTimeout(1200);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
}
