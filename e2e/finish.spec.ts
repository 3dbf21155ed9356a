import { expect, test, type Page } from "@playwright/test";
import { expectAccessible, settled, signIn, typeValue } from "./studio";

async function openFinish(page: Page, name: string): Promise<string> {
  const list = await (await page.request.get(`/api/v1/materials?q=${encodeURIComponent(name)}`)).json();
  const { id } = list.items[0];
  await page.goto(`/materials/${id}/finish`);
  await settled(page);
  return id;
}

const whole = (page: Page) =>
  expect(page.locator(".finish-sample")).toHaveAttribute("aria-busy", "false", { timeout: 60_000 });

/** The mean of a part of the picture, 0 to 255 for each channel. */
const shown = (page: Page, part = { x: 0.25, y: 0.25, width: 0.5, height: 0.5 }) =>
  page
    .locator(".finish-sample canvas")
    .first()
    .evaluate((canvas: HTMLCanvasElement, area) => {
      const [x, y] = [Math.round(area.x * canvas.width), Math.round(area.y * canvas.height)];
      const [width, height] = [
        Math.round(area.width * canvas.width),
        Math.round(area.height * canvas.height),
      ];
      const { data } = canvas.getContext("2d")!.getImageData(x, y, width, height);
      const sum = [0, 0, 0];
      for (let i = 0; i < data.length; i += 4) for (const c of [0, 1, 2]) sum[c] += data[i + c];
      return sum.map((one) => one / (data.length / 4));
    }, part);

test("a finish is set by looking at it: beside what was saved, with its difference in figures", async ({
  browser,
}) => {
  const page = await signIn(browser, "ines");
  const id = await openFinish(page, "Cast wall");
  await whole(page);
  const before = await shown(page);
  await typeValue(page, "brightness", "−");
  await expect(page.getByText(/is no brightness/)).toBeVisible();
  await typeValue(page, "brightness", "0,5");
  await whole(page);
  const brighter = await shown(page);
  expect(brighter[0]).toBeGreaterThan(before[0] + 8);

  await page.getByRole("combobox", { name: "Beside" }).selectOption({ label: "as received" });
  await whole(page);
  await expect(page.getByText(/ΔE2000 \d/)).toBeVisible();
  await expectAccessible(page);

  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("textbox", { name: "brightness", exact: true })).toHaveValue("");
  await page.getByRole("button", { name: "Redo" }).click();
  await expect(page.getByRole("textbox", { name: "brightness", exact: true })).toHaveValue("0,5");
  await typeValue(page, "coat", "1");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/Saved as revision/)).toBeVisible();
  const saved = await (await page.request.get(`/api/v1/materials/${id}`)).json();
  expect(saved.finish).toMatchObject({ brightnessStops: 0.5, coatWeight: 1 });

  // What a renderer cannot take is said before anything is made.
  await page.goto(`/deliveries/new?material=${id}&profile=packed-walkthrough-m`);
  await expect(page.getByText("coat 1: this renderer has no input for it.")).toBeVisible();

  await page.goto(`/materials/${id}/finish`);
  await settled(page);
  await page.getByRole("button", { name: "All as received" }).click();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/Saved as revision/)).toBeVisible();
  const again = await (await page.request.get(`/api/v1/materials/${id}`)).json();
  expect(again.finish.brightnessStops).toBeUndefined();
  expect(again.finish.coatWeight).toBeUndefined();
});

test("the conditions are fixed: the grey card reads 18 % under each, and a grazing lamp shows relief", async ({
  browser,
}) => {
  const page = await signIn(browser, "guest");
  await openFinish(page, "Harbour brick, red");
  await page.getByLabel("Grey and white cards").check();
  const { width, height } = (await page.locator(".finish-sample canvas").first().boundingBox())!;
  const side = Math.round(Math.min(width, height) / 8);
  const card = {
    x: (side * 0.7) / width,
    y: 1 - (side * 1.3) / height,
    width: (side * 0.4) / width,
    height: (side * 0.4) / height,
  };
  const spread: Record<string, number> = {};
  for (const condition of ["studio", "grazing", "low-sun"]) {
    await page.getByRole("combobox", { name: "Condition" }).selectOption(condition);
    await whole(page);
    // 18 % is 117.6 of 255 in sRGB; 1 % more or less of it are 0.6.
    for (const value of await shown(page, card)) expect(Math.abs(value - 117.6)).toBeLessThanOrEqual(0.7);
    spread[condition] = await page
      .locator(".finish-sample canvas")
      .first()
      .evaluate((canvas: HTMLCanvasElement) => {
        const { data } = canvas
          .getContext("2d")!
          .getImageData(0, 0, canvas.width, Math.round(canvas.height / 2));
        const values = Array.from({ length: data.length / 4 }, (_, i) => data[i * 4 + 1]).sort(
          (a, b) => a - b,
        );
        return values[Math.floor(values.length * 0.98)] - values[Math.floor(values.length * 0.02)];
      });
  }
  expect(spread.grazing).toBeGreaterThan(spread.studio * 1.2);

  await page.getByRole("combobox", { name: "Shape" }).selectOption("block");
  await whole(page);
  for (const value of await shown(page, { x: 0, y: 0, width: 0.05, height: 0.05 }))
    expect(Math.abs(value - 117.6)).toBeLessThan(1);
  await expect(page.getByRole("button", { name: "Save", exact: true })).toBeDisabled();
});

test("a surface grade sets what it means, and another material is laid beside", async ({ browser }) => {
  const page = await signIn(browser, "ines");
  await openFinish(page, "Quay paver");
  await whole(page);
  const gloss = async () =>
    Number(/gloss about ([\d.]+)/.exec(await page.locator(".finish-figures").innerText())![1]);
  const asReceived = await gloss();
  await expect(page.locator(".finish-figures")).toContainText(/Light reflectance value \d/);
  await typeValue(page, "surface grade", "polished");
  await expect.poll(gloss).toBeGreaterThan(asReceived + 10);
  await expect(page.getByText("surface grade polished, roughness, scaled × 0.22")).toBeVisible();
  await page.getByRole("button", { name: "All as received" }).click();
  await expect.poll(gloss).toBe(asReceived);

  await page.getByRole("combobox", { name: "Beside" }).selectOption({ label: "another material …" });
  await page.getByRole("searchbox", { name: "Beside it" }).fill("harbour brick, flint");
  await page.getByRole("button", { name: /Harbour brick, flint/ }).click();
  await expect(page.locator(".split-name.left")).toHaveText("Harbour brick, flint");
  await whole(page);
  await expect(page.getByText(/ΔE2000 \d/)).toBeVisible();
  await page.getByLabel("Line between Harbour brick, flint and now").press("ArrowRight");
  await expectAccessible(page);
});
