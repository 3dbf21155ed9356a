import { expect, type Page } from "@playwright/test";
import { expectAccessible, settled, signIn, test } from "./studio";
import { TEN_SETS, zipOfSet } from "./tenSets";

/** Ten downloads, from their files to their sizes: every click and every field that is typed into counts. */
test.describe.configure({ mode: "serial" });

let page: Page;
let acts = 0;
const click = async (...[target, options]: [ReturnType<Page["locator"]>, object?]) => {
  acts++;
  await target.click(options);
};

test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "ines");
});

const card = (name: RegExp) => page.getByRole("listitem", { name });

test("ten downloads are sized with fifteen clicks, each within half a percent", async () => {
  // Ten pictures are drawn and counted, beside whatever else runs.
  test.setTimeout(420_000);
  const names = Object.keys(TEN_SETS);
  const files = await Promise.all(
    names.map(async (name) => ({
      name: `${name}.zip`,
      mimeType: "application/zip",
      buffer: await zipOfSet(name),
    })),
  );
  await page.goto("/intakes");
  await settled(page);
  acts++;
  await page.getByLabel("Files to hand in").setInputFiles(files);
  await page.waitForURL("**/intakes/*-*", { timeout: 90_000 });
  const collection = `Ten downloads ${Date.now()}`;
  await page.getByRole("button", { name: /^Accept all/ }).waitFor({ timeout: 120_000 });
  acts++;
  await page.getByLabel("Put all into the collection").fill(collection);
  await click(page.getByRole("button", { name: /^Accept all/ }));
  await click(page.getByRole("link", { name: "Find their sizes" }), { timeout: 90_000 });
  await settled(page);
  await expect(page.getByRole("listitem", { name: /kiln/i })).toBeVisible();
  // Whatever is counted is counted before anything is taken.
  await expect(page.getByText("still being counted")).toHaveCount(0, { timeout: 120_000 });
  await expectAccessible(page);

  const sure = page.getByRole("button", { name: /^Take the \d+ sure/ });
  const isSure = Number(/\d+/.exec(await sure.innerText())![0]);
  expect(isSure).toBeGreaterThanOrEqual(3);
  await click(sure);
  await expect(page.locator(".size-card:not(.taken)")).toHaveCount(names.length - isSure);
  // What was taken keeps its place, so that nothing slides under the pointer.
  await expect(page.locator(".change-status")).toContainText(`${isSure} changed`, { timeout: 30_000 });
  await expect(page.locator(".size-card.taken")).toHaveCount(isSure);

  // The rest is looked at: what is proposed first is taken where it is right, and another one chosen where it is not.
  const wanted: [RegExp, string?][] = [
    [/weir/i, "United Kingdom: 215"],
    [/slab/i],
    [/bath/i, "Tile M 10 × 10"],
    [/decking/i],
    [/plaster/i],
    [/metro/i],
    [/paver/i],
    [/flag/i],
    [/tannery/i],
    [/kiln/i],
  ];
  for (const [name, format] of wanted) {
    const one = card(name).and(page.locator(":not(.taken)"));
    if ((await one.count()) === 0) continue;
    const field = one.getByRole("combobox");
    if (format && !(await field.inputValue()).includes(format)) {
      acts++;
      await field.fill(format);
      await field.press("Enter");
    }
    await click(one.getByRole("button", { name: /^Take for .*[^e]$/ }).first());
  }
  await expect(page.getByText("Nothing here is without a size")).toBeVisible({ timeout: 60_000 });

  const { items } = await (await page.request.get("/api/v1/materials?sort=newest")).json();
  const errors = names.map((name) => {
    const { repeat } = TEN_SETS[name];
    const words = name.toLowerCase().split(/[^a-z]+/);
    const made = items.find((one: { name: string }) =>
      words.filter((word) => word.length > 3).every((word) => one.name.toLowerCase().includes(word)),
    );
    const off = (side: "width" | "height") => Math.abs(made.repeat[side] / repeat[side] - 1) * 100;
    return { name, off: Math.max(off("width"), off("height")) };
  });
  expect(errors.filter(({ off }) => off > 0.5)).toEqual([]);
  const { items: collections } = await (await page.request.get("/api/v1/collections")).json();
  const made = collections.find(({ name }: { name: string }) => name === collection);
  expect(made.materials).toHaveLength(names.length);
  expect(acts).toBeLessThanOrEqual(15);
});

test("what was taken in one act is told of each, and taken back in one click", async () => {
  await page.goto("/changes");
  await settled(page);
  await page.getByRole("link", { name: "Sizes" }).last().click();
  await expect(page.getByRole("row", { name: /kiln/i })).toContainText("unknown");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Taken back by Ines")).toBeVisible({ timeout: 30_000 });
  await page.goto("/sizes?q=kiln");
  await settled(page);
  await expect(card(/kiln/i).first()).toBeVisible();
});

test("one that is opened by itself leads back to the sheet; another count is drawn, and what is typed becomes a format", async () => {
  await page.goto("/sizes?q=kiln");
  await settled(page);
  const one = card(/kiln/i).first();
  const before = await one.locator(".dimension.down").innerText();
  await one.getByLabel(/^Courses up/).fill("6");
  await expect(one.locator(".dimension.down")).not.toHaveText(before);
  await one.getByRole("combobox").fill("290 x 90 joint 10");
  await one.getByRole("combobox").press("Enter");
  await one.getByRole("button", { name: "Keep as a format" }).click();
  await one.getByLabel("Name of the format").fill("Long stock");
  await one.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("The studio’s own formats")).toBeVisible();
  await one.getByRole("link", { name: /kiln/i }).click();
  await page.getByRole("link", { name: "Back to the sheet" }).click();
  await expect(page).toHaveURL(/\/sizes\?q=kiln/);
  await page.getByText("The studio’s own formats").click();
  page.once("dialog", (dialog) => void dialog.accept());
  await page.getByRole("button", { name: "Delete the format Long stock" }).click();
  await expect(page.getByText("The studio’s own formats")).toHaveCount(0);
});
