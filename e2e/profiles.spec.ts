import { readFile } from "node:fs/promises";
import { unzipSync } from "fflate";
import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { drawnPicture } from "#core/card/testing/drawnPicture";
import { expectAccessible, settled, signIn, test } from "./studio";

/** A studio describes its own renderer by answering questions, and delivers for it. */
test.describe.configure({ mode: "serial" });

let page: Page;
const NAME = `Hall viewer ${Date.now().toString(36)}`;
let address: string;
test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "ines");
});

const answer = (asks: RegExp, says: string) => page.getByLabel(asks).selectOption({ label: says });
const file = (input: string) =>
  page.getByRole("list", { name: "Files" }).getByRole("listitem").filter({ hasText: input });

/** The mean of the red channel of a file's picture, once it is made. */
async function meanOf(input: string): Promise<number> {
  const canvas = file(input).locator('canvas[data-made="true"]');
  await expect(canvas).toBeVisible();
  return canvas.evaluate((made: HTMLCanvasElement) => {
    const { data } = made.getContext("2d")!.getImageData(0, 0, made.width, made.height);
    let sum = 0;
    for (let at = 0; at < data.length; at += 4) sum += data[at];
    return (4 * sum) / data.length;
  });
}

test("a profile begins as a copy, and each answer shows at once what it does to a sample", async () => {
  await page.goto("/profiles");
  await settled(page);
  await expectAccessible(page);
  await page.getByLabel("A renderer of your own").fill(NAME);
  await page.getByLabel("begins as a copy of").selectOption("gloss path tracer, centimetres");
  await page.getByRole("button", { name: "Create" }).click();
  await page.waitForURL("**/profiles/hall-viewer-*");
  address = new URL(page.url()).pathname;
  await settled(page);
  await page.getByLabel("Sample", { exact: true }).selectOption("Harbour brick, red");
  await expect(file("harbour-brick").first()).toBeVisible();
  const gloss = await meanOf("_gloss.png");
  await expectAccessible(page);

  await answer(/how shiny/, "Roughness: bright is matt");
  await expect(file("_gloss.png")).toHaveCount(0);
  const roughness = await meanOf("_roughness.png");
  expect(Math.abs(gloss + roughness - 255)).toBeLessThan(1.5);

  await answer(/How large may an image be/, "512 px at most");
  await answer(/In which unit/, "Inches");
  const settings = page.getByRole("table", { name: "settings.json" });
  // 900 mm.
  await expect(settings.getByRole("row", { name: /^width/ })).toContainText("35.43307");
  await answer(/Where does ambient occlusion go/, "Into an input of its own");
  await expect(file("_occlusion.png")).toBeVisible();
});

test("what cannot be is said, and cannot be saved; what can be is saved as the next revision", async () => {
  const save = page.getByRole("button", { name: "Save" });
  await page.getByLabel("Ending of the file name for metalness").fill("roughness");
  await expect(page.getByRole("alert")).toContainText("“roughness” is there twice");
  await expect(save).toBeDisabled();
  await page.getByLabel("Ending of the file name for metalness").fill("metal");
  await save.click();
  await expect(page.getByRole("button", { name: "Saved" })).toBeDisabled();
  await expect(page.locator(".title-block")).toContainText("revision 2");
  await page.reload();
  await settled(page);
  await expect(page.getByLabel(/how shiny/)).toHaveValue("roughness");
});

test("what somebody else saves meanwhile takes away nothing that was typed", async () => {
  const call = `/api/v1/profiles/${address.replace("/profiles/", "")}`;
  const { revision, shipped: _, retired: __, ...shown } = await (await page.request.get(call)).json();
  await answer(/In which unit/, "Metres");
  const theirs = await page.request.put(call, { data: { revision, profile: { ...shown, maxPixels: 1024 } } });
  expect(theirs.status()).toBe(200);
  // Another sample loads the page's data again.
  await page.getByLabel("Sample", { exact: true }).selectOption({ index: 2 });
  const notice = page.getByRole("alert").filter({ hasText: "Somebody has saved revision 3" });
  await expect(notice).toContainText("Largest image: 1024 px in place of 512 px.");
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();
  await notice.getByRole("button", { name: "Keep mine, and save it on top" }).click();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.locator(".title-block")).toContainText("revision 4");
  await expect(page.getByLabel(/In which unit/)).toHaveValue("m");
  await expect(notice).toHaveCount(0);
});

test("a delivery is made for it, and is out of date when it changes, with what changed", async () => {
  const list = await (await page.request.get("/api/v1/materials?q=Harbour+brick%2C+red")).json();
  await page.goto(`/deliveries/new?material=${list.items[0].id}`);
  await settled(page);
  await page.getByLabel(NAME, { exact: true }).check();
  await expect(page.getByRole("region", { name: "Look before" })).toContainText(
    /1 material, \d+ files, about/,
  );
  await page.getByRole("button", { name: /^Start/ }).click();
  await page.waitForURL("**/deliveries/*-*");
  await expect(page.getByRole("link", { name: "Download the zip" })).toBeVisible({ timeout: 90_000 });
  const delivery = page.url();
  await page.goto(address);
  await settled(page);
  await answer(/Which way does green point/, "Up");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.locator(".title-block")).toContainText("revision 5");
  await page.goto(delivery);
  await expect(page.getByRole("alert").filter({ hasText: "Out of date" })).toContainText(
    "Green: up in place of down.",
  );
  await expectAccessible(page);
});

test("one that nobody knows is described by a picture that it makes of a test card", async () => {
  await page.goto("/profiles");
  await settled(page);
  await page.getByLabel(/nobody knows for sure/).fill(`${NAME}, by card`);
  await page.getByRole("button", { name: "Make a test card" }).click();
  await page.waitForURL("**/cards/*-*");
  // The address is there before its page is.
  const title = page.getByRole("heading", { level: 1, name: /test card \d+/ });
  const number = Number(/test card (\d+)/.exec((await title.textContent())!)![1]);
  const download = page.getByRole("link", { name: "Download the card" });
  await expect(download).toBeVisible({ timeout: 90_000 });
  await expectAccessible(page);
  const zip = await page.request.get((await download.getAttribute("href"))!);
  expect(Object.keys(unzipSync(await zip.body()))).toContain(
    `card-${String(number).padStart(4, "0")}_normal.png`,
  );

  // A picture of something else, and then one that the renderer made: green down, shine and metal apart.
  const picture = page.getByLabel(/Hand in .*picture/);
  const grey = sharp({ create: { width: 400, height: 300, channels: 3, background: "#888" } });
  await picture.setInputFiles({
    name: "wall.png",
    mimeType: "image/png",
    buffer: await grey.png().toBuffer(),
  });
  await expect(page.getByRole("alert")).toContainText("no marks of a test card", { timeout: 90_000 });
  const drawn = drawnPicture("other", 9, { side: 640, readers: "all", number });
  expect(drawn.truth).toMatchObject({ normals: "down", packing: "none" });
  const { width, height, data } = drawn.picture;
  const buffer = await sharp(data, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 85 })
    .toBuffer();
  await picture.setInputFiles({ name: "card.jpg", mimeType: "image/jpeg", buffer });
  await expect(page.getByRole("heading", { name: /What it says of/ })).toBeVisible({ timeout: 90_000 });
  await expect(page.getByLabel(/Which way does green point/)).toHaveValue("down");
  await expect(page.getByLabel(/how shiny a surface is/)).toHaveValue(drawn.truth.shine);
  const pointed = page.getByRole("img", { name: `Test card ${number}` }).locator(".pointed-at");
  await expect(pointed).toHaveCount(0);
  await page.getByLabel(/How is something cut out/).focus();
  await expect(pointed).toHaveCount(4);
  await expectAccessible(page);

  await page.getByLabel(/How is something cut out/).selectOption("alpha");
  await page.getByLabel("Its size was entered in").selectOption("m");
  await page.getByRole("button", { name: "Create the profile" }).click();
  await page.waitForURL("**/profiles/hall-viewer-*-by-card");
  await settled(page);
  await expect(page.getByLabel(/Which way does green point/)).toHaveValue("down");
  await expect(page.getByLabel(/How is something cut out/)).toHaveValue("alpha");
  await expect(page.getByLabel(/In which unit/)).toHaveValue("m");
});

test("it is exported and taken in again, retired and offered again; what ships is only read", async () => {
  await page.goto(address);
  await settled(page);
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Export" }).click(),
  ]);
  const exported = JSON.parse(await readFile(await download.path(), "utf8"));
  await page.goto("/profiles");
  await settled(page);
  const take = async (values: object) => {
    const buffer = Buffer.from(JSON.stringify({ ...exported, ...values }));
    await page
      .getByLabel("or comes from a file that was exported")
      .setInputFiles({ name: "profile.json", mimeType: "application/json", buffer });
  };
  await take({ name: `${NAME}, wrong`, maxPixels: 0 });
  await expect(page.getByRole("alert")).toContainText("maxPixels");
  await take({ name: `${NAME}, again` });
  await page.waitForURL("**/profiles/hall-viewer-*-again");
  await settled(page);
  await expect(page.getByLabel(/Which way does green point/)).toHaveValue("up");

  await page.goto("/profiles");
  await settled(page);
  await page.getByRole("button", { name: `Retire: ${NAME}, again` }).click();
  await page.getByRole("button", { name: `Offer again: ${NAME}, again` }).click();
  await page.getByRole("button", { name: `Up: ${NAME}, again` }).click();
  const names = page.getByRole("row").locator("th a");
  await expect(names.nth(-2)).toHaveText(`${NAME}, again`);
  await page.getByRole("button", { name: `Retire: ${NAME}, again` }).click();
  await expect(page.getByRole("heading", { name: "Retired" })).toBeVisible();
  await page.goto("/profiles/gltf-2");
  await settled(page);
  await expect(page.getByLabel(/how shiny/)).toBeDisabled();
  await expect(page.getByText("It ships with Kalonomy")).toBeVisible();
});
