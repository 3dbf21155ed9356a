import { mkdir, mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { croppedSet, expectAccessible, settled, signIn, test } from "./studio";

/** A folder is handed in over a line that breaks, judged, accepted, and its seams are mended. */
test.describe.configure({ mode: "serial" });

let page: Page;
let folder: string;
const stamp = Date.now().toString(36);

test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "joost");
  folder = await mkdtemp(join(tmpdir(), `kalonomy-${stamp}-`));
  await mkdir(join(folder, "Walls"), { recursive: true });
  for (const [name, data] of Object.entries(await croppedSet()))
    await writeFile(join(folder, "Walls", name), data);
});
test.afterAll(() => rm(folder, { recursive: true }));

const open = async (path: string) => {
  await page.goto(path);
  await settled(page);
};

test("a folder goes on where it was after the line broke", async () => {
  await open("/intakes");
  let broken = 0;
  await page.route("**/api/v1/uploads/**", async (route) => {
    if (route.request().method() === "PATCH" && broken < 2) {
      broken++;
      await route.abort("connectionreset");
    } else await route.continue();
  });
  await page.getByLabel("Folder to hand in").setInputFiles(folder);
  await page.waitForURL("**/intakes/*-*", { timeout: 90_000 });
  expect(broken).toBe(2);
  await page.unroute("**/api/v1/uploads/**");
  await expect(page.getByRole("region", { name: "Quay wall" })).toBeVisible({ timeout: 90_000 });
});

test("the review says what the pixels say, and shows the tiling", async () => {
  const candidate = page.getByRole("region", { name: "Quay wall" });
  await expect(candidate).toContainText("called −Y (green down) by its name, but its pixels are +Y");
  await expect(candidate).toContainText(/It (does|may) not continue from/);
  await candidate.getByRole("button", { name: "Tiled, with its seams" }).click();
  await expect(candidate.getByRole("img", { name: /does not seem to continue/ })).toBeVisible();
  await expectAccessible(page);
  await page.getByLabel("Which candidates").selectOption("wrong");
  await expect(page).toHaveURL(/show=wrong/);
  await expect(candidate).toBeVisible();
  await candidate.getByLabel("Name").fill(`Quay wall ${stamp}`);
  await candidate.getByLabel("Green of the normal map points").selectOption("+Y");
  await candidate.getByRole("button", { name: "Accept", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText(`Quay wall ${stamp}`);
});

test("the bench judges it, and mends its seams as a new revision", async () => {
  await page
    .getByRole("alert")
    .getByRole("link", { name: `Quay wall ${stamp}` })
    .click();
  await page.waitForURL("**/gauge");
  await page.getByRole("navigation", { name: "Steps" }).getByRole("link", { name: "Judge" }).click();
  await expect(page.getByRole("heading", { name: "Seams" })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Mend the seams" }).click();
  // It is shown tiled before it is kept.
  await expect(page.getByRole("heading", { name: /^Seams mended.*, not kept yet$/ })).toBeVisible({
    timeout: 90_000,
  });
  await expect(page.getByRole("button", { name: "As mended" })).toHaveAttribute("aria-pressed", "true");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(
    page.getByText(/Seams mended .*\(revision 1 to 2\)|Seams mended \(revision 1 to 2\)/),
  ).toBeVisible({ timeout: 90_000 });
  await expect(page.getByText("revision 2")).toBeVisible();
});

test("the gauge counts what repeats, and a missing map is made from another", async () => {
  const steps = page.getByRole("navigation", { name: "Steps" });
  await steps.getByRole("link", { name: "Gauge" }).click();
  await expect(
    page.getByText(/The program counts|Something repeats|Nothing in it repeats|No modules were found/),
  ).toBeVisible({
    timeout: 90_000,
  });
  await expectAccessible(page);
  await steps.getByRole("link", { name: "Maps" }).click();
  await page
    .getByRole("form", { name: "Create height from normal" })
    .getByRole("button", { name: "Create" })
    .click();
  const tab = page.getByRole("group", { name: "Maps" }).getByRole("button", { name: "height", exact: true });
  await expect(tab).toBeVisible({ timeout: 90_000 });
  await tab.click();
  await expect(page.getByText("height made from the normal map", { exact: true })).toBeVisible();
  await expectAccessible(page);
});

test("a page that hears nothing comes to the end of a reading all the same", async ({ browser }) => {
  const deaf = await signIn(browser, "joost");
  await deaf.route("**/api/v1/events*", (route) => route.abort());
  await deaf.goto("/intakes");
  await settled(deaf);
  const buffer = await sharp({ create: { width: 64, height: 64, channels: 3, background: "#7a8" } })
    .png()
    .toBuffer();
  await deaf
    .getByLabel("Files to hand in")
    .setInputFiles({ name: `deaf${Date.now()}_basecolor.png`, mimeType: "image/png", buffer });
  await deaf.waitForURL("**/intakes/*-*", { timeout: 90_000 });
  await expect(deaf.getByRole("button", { name: "Accept", exact: true })).toBeVisible({ timeout: 90_000 });
});

test("pictures that are alike are shown side by side", async () => {
  await open("/alike");
  await expect(page.getByRole("heading", { name: "Alike", exact: true })).toBeVisible();
  await expectAccessible(page);
});
