import { expect, type Page } from "@playwright/test";
import { expectAccessible, settled, signIn, typeValue, test } from "./studio";

// Pictures take their time by their pixels, and these tests wait for whole ones.
test.use({ viewport: { width: 960, height: 640 } });

async function openFinish(page: Page, name: string): Promise<string> {
  const list = await (await page.request.get(`/api/v1/materials?q=${encodeURIComponent(name)}`)).json();
  const { id } = list.items[0];
  await page.goto(`/materials/${id}/finish`);
  await settled(page);
  return id;
}

const whole = (page: Page) =>
  expect(page.locator(".finish-sample")).toHaveAttribute("aria-busy", "false", { timeout: 90_000 });

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
  // What is not saved is not lost by a click beside it.
  await page.getByRole("link", { name: /^Facts/ }).click();
  const leaving = page.getByRole("dialog", { name: "Leave without saving?" });
  await expect(leaving).toContainText("What you changed of the finish is not saved");
  await expectAccessible(page);
  await page.keyboard.press("Escape");
  await expect(leaving).toBeHidden();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByText(/Saved as revision/)).toBeVisible();
  // Saving ends no comparison.
  await expect(page.getByRole("combobox", { name: "Beside" })).toHaveValue("as received");
  const saved = await (await page.request.get(`/api/v1/materials/${id}`)).json();
  expect(saved.finish).toMatchObject({ brightnessStops: 0.5, coatWeight: 1 });

  // What a renderer cannot take is said before anything is made.
  await page.goto(`/deliveries/new?material=${id}&profile=packed-walkthrough-m`);
  await expect(page.getByText("coat 1: this renderer has no input for it.").first()).toBeVisible();

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

test("a light is kept as a condition of the studio, lit by a panorama of the library, and a finish as a grade", async ({
  browser,
}) => {
  const page = await signIn(browser, "ines");
  await openFinish(page, "Slipstone 600 × 300, polished");
  await whole(page);
  const before = await shown(page, { x: 0.1, y: 0.1, width: 0.8, height: 0.8 });
  await page.getByRole("button", { name: "Light", exact: true }).click();
  await page
    .getByRole("combobox", { name: "Environment" })
    .selectOption({ label: "Boathouse at dusk, panorama" });
  await page.getByLabel(/^Lamp 45 %/).fill("0");
  await expect(page.locator(".title-block")).toContainText("another environment, lamp 0 %");
  await whole(page);
  const [red, , blue] = await shown(page, { x: 0.1, y: 0.1, width: 0.8, height: 0.8 });
  expect(red / blue).toBeGreaterThan((before[0] / before[2]) * 1.1);
  await expectAccessible(page);

  const keep = page.getByRole("form", { name: "Keep this light" });
  await keep.getByLabel("Name").fill("Overcast studio");
  await keep.getByRole("button", { name: "Create condition" }).click();
  await expect(page.getByText("There is a condition “Overcast studio” already.")).toBeVisible();
  const name = `Quay at dusk ${Date.now()}`;
  await keep.getByLabel("Name").fill(name);
  await keep.getByRole("button", { name: "Create condition" }).click();
  await expect(page.getByRole("combobox", { name: "Condition" }).locator("option:checked")).toHaveText(name);
  await expect(page.locator(".title-block")).toContainText(name);
  await page.reload();
  await whole(page);
  await page.getByRole("combobox", { name: "Condition" }).selectOption({ label: name });
  await expect(page.locator(".title-block")).toContainText(name);
  await whole(page);
  // As large as before: what unfolds takes room.
  await page.getByRole("button", { name: "Light", exact: true }).click();
  await whole(page);
  const [redAgain] = await shown(page, { x: 0.1, y: 0.1, width: 0.8, height: 0.8 });
  expect(Math.abs(redAgain - red)).toBeLessThan(1.5);
  await keep.getByRole("button", { name: "Delete" }).click();
  await expect(page.getByRole("combobox", { name: "Condition" }).locator("option:checked")).toHaveText(
    "Overcast studio",
  );

  const grade = `tumbled ${Date.now()}`;
  await typeValue(page, "roughness, scaled", "0.45");
  await page.getByLabel("Name of the grade").fill(grade);
  await page.getByRole("button", { name: "Create grade" }).click();
  await expect(page.getByText(grade)).toBeVisible();
  await openFinish(page, "Quay paver");
  await typeValue(page, "surface grade", grade);
  await expect(page.getByText(`surface grade ${grade}, roughness, scaled × 0.45`)).toBeVisible();
  await page.getByRole("button", { name: `Delete the grade ${grade}` }).click();
  await expect(page.getByRole("button", { name: `Delete the grade ${grade}` })).toBeHidden();
});

test("the graphics card draws while a block is turned, where it is quick enough or nobody says that it is not", async ({
  browser,
}) => {
  const page = await signIn(browser, "guest");
  // What is drawn without a card is slow, and says so: here it may not.
  await page.addInitScript(() => {
    const getContext = HTMLCanvasElement.prototype.getContext;
    const drawImage = CanvasRenderingContext2D.prototype.drawImage;
    const frames: number[] = [];
    Object.assign(window, { frames });
    HTMLCanvasElement.prototype.getContext = function (
      this: HTMLCanvasElement,
      kind: string,
      asked?: object,
    ) {
      return getContext.call(this, kind as "webgl2", { ...asked, failIfMajorPerformanceCaveat: false });
    } as typeof getContext;
    CanvasRenderingContext2D.prototype.drawImage = function (
      this: CanvasRenderingContext2D,
      ...args: unknown[]
    ) {
      const [from] = args;
      if (from instanceof HTMLCanvasElement && getContext.call(from, "webgl2")) frames.push(from.width);
      return (drawImage as (...all: unknown[]) => void).apply(this, args);
    } as typeof drawImage;
  });
  await openFinish(page, "Buoy ochre, matt");
  await whole(page);
  await page.getByRole("combobox", { name: "Shape" }).selectOption("block");
  await whole(page);
  const frames = () => page.evaluate(() => (window as unknown as { frames: number[] }).frames.length);
  // Its program is made beside, and drawn with from then on.
  await expect(async () => {
    await page.locator(".finish-sample").press("ArrowLeft");
    expect(await frames()).toBeGreaterThan(0);
  }).toPass({ timeout: 90_000 });
  await whole(page);
  const [red, , blue] = await shown(page, { x: 0.4, y: 0.4, width: 0.2, height: 0.2 });
  expect(red).toBeGreaterThan(blue * 2);
});

test("a block is turned by dragging and by the keyboard, and a width that is none is refused", async ({
  browser,
}) => {
  const page = await signIn(browser, "guest");
  await openFinish(page, "Harbour brick, red");
  await whole(page);
  await page.getByRole("combobox", { name: "Shape" }).selectOption("block");
  await expect(page.locator(".finish-sample")).toHaveAttribute("aria-label", /on a block 0.6 m wide/);
  await whole(page);
  const all = { x: 0, y: 0, width: 1, height: 1 };
  const before = await shown(page, all);
  const { x, y } = (await page.locator(".finish-sample").boundingBox())!;
  await page.mouse.move(x + 200, y + 200);
  await page.mouse.down();
  await page.mouse.move(x + 320, y + 220, { steps: 6 });
  await page.mouse.up();
  await whole(page);
  expect(await shown(page, all)).not.toEqual(before);
  await page.getByRole("button", { name: "Back to the front" }).click();
  await whole(page);
  expect(await shown(page, all)).toEqual(before);
  await page.locator(".finish-sample").press("ArrowLeft");
  await expect(page.getByRole("button", { name: "Back to the front" })).toBeVisible();
  await page.getByLabel("Block width").fill("9 m");
  await expect(page.getByText(/is no width for a block; 0.02 m to 5 m/)).toBeVisible();
  for (const shape of ["leaf", "pane"]) {
    await page.getByRole("combobox", { name: "Shape" }).selectOption(shape);
    await whole(page);
  }
  await expectAccessible(page);
});

test("two revisions stand side by side, and materials are found by how much light they reflect", async ({
  browser,
}) => {
  const ines = await signIn(browser, "ines");
  await openFinish(ines, "Hemp plaster");
  await whole(ines);
  await ines.getByRole("combobox", { name: "Shape" }).selectOption("wall");
  await typeValue(ines, "tint", "#ffd0a0");
  await ines.getByRole("button", { name: "Save", exact: true }).click();
  await expect(ines.getByText(/Saved as revision \d/)).toBeVisible();
  // What it is looked at on stays.
  await expect(ines.getByRole("combobox", { name: "Shape" })).toHaveValue("wall");
  await ines.getByRole("navigation", { name: "Steps" }).getByRole("link", { name: "Uses" }).click();
  await ines
    .getByRole("link", { name: /Compare/ })
    .first()
    .click();
  await expect(ines.getByRole("row", { name: "tint – #ffd0a0" })).toBeVisible();
  await expectAccessible(ines);
  await ines.getByRole("button", { name: /Restore revision/ }).click();
  await expect(ines.getByRole("heading", { name: "Revisions" })).toBeVisible();
  await expect(ines.getByText(/As in revision \d/).first()).toBeVisible();

  await ines.goto("/library");
  await settled(ines);
  await ines.getByRole("button", { name: "Add to the sentence" }).click();
  await ines.getByRole("button", { name: "light reflectance" }).click();
  await ines.getByLabel("Light reflectance from").fill("78");
  await expect(ines.getByText("Sailcloth white, silk")).toBeVisible();
  await expect(ines.getByText("Quay paver")).toBeHidden();
  await expect(ines.locator(".sample", { hasText: "Sailcloth white, silk" })).toContainText("LRV 8");
  await ines.getByLabel("Light reflectance to").fill("79");
  await expect(ines.getByText("Nothing fits")).toBeVisible();
  await expectAccessible(ines);
});
