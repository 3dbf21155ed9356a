import { expect, type Page } from "@playwright/test";
import { expectAccessible, settled, signIn, test } from "./studio";

// Pictures take their time by their pixels, and these tests wait for whole ones.
test.use({ viewport: { width: 960, height: 640 } });

const whole = (page: Page) =>
  expect(page.locator(".finish-sample")).toHaveAttribute("aria-busy", "false", { timeout: 90_000 });

const find = async (page: Page, name: string) =>
  (await (await page.request.get(`/api/v1/materials?q=${encodeURIComponent(name)}`)).json()).items[0];

async function openFinish(page: Page, name: string): Promise<string> {
  const { id } = await find(page, name);
  await page.goto(`/materials/${id}/finish`);
  await settled(page);
  await whole(page);
  return id;
}

/** All pixels of the picture in one number. */
const sum = (page: Page) =>
  page
    .locator(".finish-sample canvas")
    .first()
    .evaluate((canvas: HTMLCanvasElement) => {
      const { data } = canvas.getContext("2d")!.getImageData(0, 0, canvas.width, canvas.height);
      let all = 0;
      for (let i = 0; i < data.length; i++) all = (all * 31 + data[i]) % 1_000_003;
      return all;
    });

test("wear is laid over a floor: weakly, with its marks shown, in an order, and said what is baked", async ({
  browser,
}) => {
  const page = await signIn(browser, "ines");
  const id = await openFinish(page, "Pale oak floor");
  const bare = await sum(page);
  await page.locator(".clauses > summary", { hasText: "wear" }).click();
  const add = page.getByLabel("Lay on");
  await add.selectOption({
    label: (await add.locator("option", { hasText: "Water stains" }).textContent())!,
  });
  const stains = page.locator(".wear-layer", { hasText: "Water stains" });
  await stains.locator("summary").click();
  await expect(stains.getByText("its dark parts are the marks")).toBeVisible();
  await expect(stains.getByLabel("Marks are the")).toHaveValue("dark");
  await expect(stains.getByLabel("Strength", { exact: true })).toHaveValue("0.25");
  await whole(page);
  await stains.getByLabel("Marks", { exact: true }).selectOption("tint");
  await stains.getByLabel("Colour").fill("#2b1d10");
  await whole(page);
  const worn = await sum(page);
  expect(worn).not.toBe(bare);
  await expectAccessible(page);

  await add.selectOption({ label: (await add.locator("option", { hasText: "Dust" }).textContent())! });
  const dust = page.locator(".wear-layer", { has: page.getByText("Dust", { exact: true }) });
  await dust.locator("summary").click();
  await dust.getByRole("button", { name: "Dust, further down" }).click();
  await expect(page.locator(".wear-layer .clause-name").first()).toHaveText("Dust");
  // A strength that cannot be is said, and refused.
  await dust.getByLabel("Strength", { exact: true }).fill("7");
  await expect(dust.locator(".mark.wrong").first()).toBeVisible();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("alert").filter({ hasText: "Layer 1" })).toBeVisible();
  await dust.getByRole("button", { name: "Remove Dust" }).click();
  await whole(page);
  expect(await sum(page)).toBe(worn);

  await expect(page.getByText("Laid on at its own size by: packed real-time walkthrough")).toBeVisible();
  await expect(page.getByLabel("The images keep their size")).toBeVisible();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/Saved as revision/)).toBeVisible();
  const { finish } = await (await page.request.get(`/api/v1/materials/${id}`)).json();
  expect(finish.wear).toMatchObject([{ effect: "tint", polarity: "dark", strength: 0.25, tint: "#2b1d10" }]);
  await page.goto(`/deliveries/new?material=${id}&profile=packed-walkthrough-m`);
  await expect(page.getByText(/Lay each wear map over the material/)).toBeVisible();

  // A new revision of the layer is taken over where that is wanted.
  const layer = await find(page, "Water stains");
  await page.request.put(`/api/v1/materials/${layer.id}/repeat`, {
    data: { method: "size", width: 1500, height: 1500 },
  });
  await page.goto(`/materials/${layer.id}/uses`);
  await settled(page);
  await expectAccessible(page);
  await page.getByRole("button", { name: "Take over in Pale oak floor" }).click();
  await expect(page.getByText("One material uses the newest revision now.")).toBeVisible();
  const after = await (await page.request.get(`/api/v1/materials/${id}`)).json();
  expect(after.finish.wear[0].revision).toBe(layer.revision + 1);
});

test("a supplier's picture is laid beside: placed, made neutral, and the colour matched to it", async ({
  browser,
}) => {
  const page = await signIn(browser, "ines");
  const id = await openFinish(page, "Chalk render, scraped");
  // Made in the browser: a wall of one colour under a yellowish light, with a grey card on it.
  const picture = await page.evaluate(async () => {
    const canvas = new OffscreenCanvas(400, 300);
    const context = canvas.getContext("2d")!;
    context.fillStyle = "#a98a5a";
    context.fillRect(0, 0, 400, 300);
    context.fillStyle = "#857648";
    context.fillRect(20, 20, 60, 60);
    const bytes = await (await canvas.convertToBlob({ type: "image/png" })).arrayBuffer();
    return [...new Uint8Array(bytes)];
  });
  const beside = page.getByRole("combobox", { name: "Beside" });
  const [chooser] = await Promise.all([
    page.waitForEvent("filechooser"),
    beside.selectOption("a picture from a file"),
  ]);
  await chooser.setFiles({ name: "render-page.png", mimeType: "image/png", buffer: Buffer.from(picture) });
  await expect(page.getByText("render-page.png is not to scale")).toBeVisible({ timeout: 90_000 });
  await whole(page);

  await page.getByRole("button", { name: "Place the picture" }).click();
  await page.getByLabel("Between them").fill("abc");
  await page.getByRole("button", { name: "Save", exact: true }).first().click();
  await expect(page.getByRole("alert").filter({ hasText: "abc" })).toBeVisible();
  await page.getByLabel("Between them").fill("60 cm");
  await page.getByRole("button", { name: "Grey spot" }).click();
  const image = page.getByRole("img", { name: "render-page.png" });
  const { x, y, width, height } = (await image.boundingBox())!;
  await page.mouse.click(x + width * (50 / 400), y + height * (50 / 300));
  await page.getByLabel("It reflects, %").fill("18");
  await expectAccessible(page);
  await page.getByRole("button", { name: "Save", exact: true }).first().click();
  await expect(beside).toBeVisible();
  const { items } = await (await page.request.get(`/api/v1/materials/${id}/references`)).json();
  expect(items[0]).toMatchObject({ placing: { by: "points", lengthMm: 600 }, neutral: { reflects: 18 } });

  await page.getByRole("button", { name: "Mark", exact: true }).click();
  const sheet = (await page.locator(".finish-sample").boundingBox())!;
  const drag = async (left: number, right: number) => {
    await page.mouse.move(sheet.x + left * sheet.width, sheet.y + 0.45 * sheet.height);
    await page.mouse.down();
    await page.mouse.move(sheet.x + right * sheet.width, sheet.y + 0.6 * sheet.height, { steps: 4 });
    await page.mouse.up();
  };
  await drag(0.4, 0.48);
  await drag(0.6, 0.8);
  await expect(page.locator(".marked-part")).toHaveCount(2);
  await whole(page);
  await expect(page.locator(".finish-words")).toContainText(/ΔE2000 [1-9]/);
  await page.getByRole("button", { name: "Match colour" }).click();
  await expect(page.getByText(/the means come from ΔE2000/)).toBeVisible({ timeout: 90_000 });
  await page.getByRole("button", { name: "Take it" }).click();
  await whole(page);
  await expect
    .poll(async () => Number(/ΔE2000 ([\d.]+)/.exec(await page.locator(".finish-words").innerText())?.[1]))
    .toBeLessThan(3);

  await page.getByRole("button", { name: "Pick a colour" }).click();
  await page.mouse.click(sheet.x + 0.44 * sheet.width, sheet.y + 0.5 * sheet.height);
  const found = page.locator(".finish-found");
  const hex = /#[0-9a-f]{6}/.exec(await found.innerText())![0];
  await found.getByRole("button", { name: "As a plain material" }).click();
  await page.waitForURL(/\/materials\/[0-9a-f-]+\/finish/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText(hex);
});
